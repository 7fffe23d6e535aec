import { randomUUID } from 'node:crypto';
import { modelOf, type Anatomy, type Model } from '../../core/anatomy/index.ts';
import type { Plan } from '../../core/dive/index.ts';
import { upgradeLog, type OldEvent } from '../../core/run/index.ts';
import type { Db } from './db.ts';
import { COLUMNS, hashOfEvent, type EventRow } from './events.ts';
import { technicians } from './schema.ts';

/** Version of what is stored, beside its tables: 2 since steps are named and not counted, 3 since events bear a hash. */
export const DATA_VERSION = 3;

/** Brings what an older version stored up to this one, whole or not at all. */
export function upgradeData(db: Db): void {
  const sqlite = db.$client;
  const version = sqlite.pragma('user_version', { simple: true }) as number;
  if (version >= DATA_VERSION) return;
  sqlite.transaction(() => {
    if (version < 2) {
      nameSteps(db);
      nameTechnicians(db);
    }
    sealEvents(db);
    sqlite.pragma(`user_version = ${DATA_VERSION}`);
  })();
}

interface OldJob {
  id: string;
  number: number;
  anatomy: string;
  revision: number;
  plan: string | null;
}

function nameSteps(db: Db): void {
  const sqlite = db.$client;
  const models = new Map<string, Model>();
  const modelFor = ({ anatomy, revision }: OldJob): Model => {
    const key = `${anatomy}@${revision}`;
    const known = models.get(key);
    if (known) return known;
    const document = sqlite
      .prepare('SELECT document FROM anatomy_revisions WHERE anatomy = ? AND revision = ?')
      .pluck()
      .get(anatomy, revision) as string;
    const made = modelOf(JSON.parse(document) as Anatomy);
    models.set(key, made);
    return made;
  };
  const logOf = sqlite.prepare('SELECT id, job, seq, at, by, type, body FROM events WHERE job = ? ORDER BY seq');
  const write = sqlite.prepare('UPDATE events SET body = ?, version = ? WHERE id = ?');
  const plan = sqlite.prepare('UPDATE jobs SET plan = ? WHERE id = ?');
  for (const job of sqlite.prepare('SELECT id, number, anatomy, revision, plan FROM jobs').all() as OldJob[]) {
    try {
      const old = (logOf.all(job.id) as (OldEvent & { body: string })[]).map(
        ({ body, ...stamp }) => ({ ...stamp, ...(JSON.parse(body) as object) }) as OldEvent,
      );
      const made = upgradeLog(modelFor(job), job.plan === null ? null : (JSON.parse(job.plan) as Plan), old);
      plan.run(made.plan === null ? null : JSON.stringify(made.plan), job.id);
      for (const { id, version, job: _, seq: __, at: ___, by: ____, type: _____, ...body } of made.events) {
        write.run(JSON.stringify(body), version, id);
      }
    } catch (error) {
      // It stays as it was, and is shown as one that cannot be read.
      console.error(`job ${job.number} could not be brought up to this version: ${(error as Error).message}`);
    }
  }
}

/** Events of before have no hash: they are taken as they are. */
function sealEvents(db: Db): void {
  const seal = db.$client.prepare('UPDATE events SET hash = ? WHERE id = ?');
  const next = db.$client.prepare(`SELECT rowid, ${COLUMNS} FROM events WHERE rowid > ? ORDER BY rowid LIMIT 2000`);
  for (let last = 0; ; ) {
    const rows = next.all(last) as (EventRow & { rowid: number })[];
    if (rows.length === 0) return;
    for (const row of rows) seal.run(hashOfEvent(row), row.id);
    last = rows.at(-1)!.rowid;
  }
}

function nameTechnicians(db: Db): void {
  const stored = db.$client.prepare("SELECT value FROM settings WHERE key = 'technicians'").pluck().get();
  const names = typeof stored === 'string' ? (JSON.parse(stored) as string[]) : [];
  const createdAt = new Date().toISOString();
  for (const [i, name] of names.entries()) {
    db.insert(technicians)
      .values({ id: randomUUID(), name, role: i === 0 ? 'lead' : 'technician', pin: null, active: true, createdAt })
      .onConflictDoNothing()
      .run();
  }
}
