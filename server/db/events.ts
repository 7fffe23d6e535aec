import { createHash } from 'node:crypto';
import type { Database, Statement } from 'better-sqlite3';
import type { RunEvent } from '../../core/run/index.ts';

/** An event as it lies in the database. */
export interface EventRow {
  job: string;
  seq: number;
  id: string;
  at: string;
  by: string;
  type: string;
  /** What is of its kind, as JSON. */
  body: string;
  version: number;
  skew: number | null;
  hash: string | null;
}

/** What lies on the disk is not what was written there. */
export class Damaged extends Error {
  readonly code = 'DAMAGED';
}

/** SHA-256 over everything that an event says, in hex. */
export function hashOfEvent({ job, seq, id, at, by, type, body, version, skew }: Omit<EventRow, 'hash'>): string {
  return createHash('sha256')
    .update(JSON.stringify([job, seq, id, at, by, type, body, version, skew]))
    .digest('hex');
}

/** What is wrong with the events of one job, in their order, in words; `null` when nothing is. */
export function damageOf(rows: readonly EventRow[]): string | null {
  for (const [i, row] of rows.entries()) {
    if (row.seq !== i + 1) return `event ${i + 1} is missing`;
    if (row.hash !== hashOfEvent(row)) return `event ${row.seq} (${row.type}) is not what was written`;
  }
  return null;
}

/** Hashes of the photographs that an event names, wherever they stand in it. */
export const photosNamedIn = (body: string): string[] =>
  [...body.matchAll(/"photo":"([0-9a-f]{64})"/g)].map((match) => match[1]!);

/** The rows of the events: written with their hash, read with a look at it. */
export class EventRows {
  private readonly insertRow: Statement;
  private readonly insertUse: Statement;
  private readonly ofJob: Statement;
  private readonly update: Statement;

  constructor(sqlite: Database) {
    this.insertRow = sqlite.prepare(
      'INSERT INTO events (job, seq, id, at, by, type, body, version, skew, hash) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    );
    this.insertUse = sqlite.prepare('INSERT OR IGNORE INTO photo_uses (hash, job) VALUES (?, ?)');
    this.ofJob = sqlite.prepare(`SELECT ${COLUMNS} FROM events WHERE job = ? ORDER BY seq`);
    this.update = sqlite.prepare('UPDATE events SET body = ?, version = ?, hash = ? WHERE id = ?');
  }

  /** @param shown its photographs are kept as long as the job is; not so for what comes late for an erased customer */
  insert(event: RunEvent, shown = true): void {
    const row = rowOf(event);
    const { job, seq, id, at, by, type, body, version, skew, hash } = row;
    this.insertRow.run(job, seq, id, at, by, type, body, version, skew, hash);
    if (shown) for (const photo of photosNamedIn(body)) this.insertUse.run(photo, job);
  }

  /** @throws Damaged when one of them is not what was written, or one is missing */
  of(job: string): RunEvent[] {
    const rows = this.rowsOf(job);
    const damage = damageOf(rows);
    if (damage !== null)
      throw new Damaged(`${damage}: the record of this job is damaged on the disk; restore the newest backup`);
    return rows.map(eventOf);
  }

  rowsOf(job: string): EventRow[] {
    return this.ofJob.all(job) as EventRow[];
  }

  /** Gives an event another body, as an erasure does, and the hash that goes with it. */
  rewrite(row: EventRow, body: object, version = row.version): void {
    const next = { ...row, body: JSON.stringify(body), version };
    this.update.run(next.body, version, hashOfEvent(next), row.id);
  }
}

/** The columns of a row, as they are read. */
export const COLUMNS = 'job, seq, id, at, by, type, body, version, skew, hash';

function rowOf(event: RunEvent): EventRow {
  const { job, seq, id, at, by, version, skew, type, ...body } = event;
  const row = { job, seq, id, at, by, type, body: JSON.stringify(body), version, skew: skew ?? null };
  return { ...row, hash: hashOfEvent(row) };
}

export function eventOf({ body, skew, hash: _, ...stamp }: EventRow): RunEvent {
  return { ...stamp, ...(skew === null ? {} : { skew }), ...(JSON.parse(body) as object) } as RunEvent;
}
