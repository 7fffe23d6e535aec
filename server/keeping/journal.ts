import { chmodSync, existsSync, mkdirSync, renameSync } from 'node:fs';
import { dirname } from 'node:path';
import Database from 'better-sqlite3';

/** One step of something that has several effects. It may be done again: done twice is as done once. */
export interface Step<F> {
  name: string;
  run: (facts: F) => void | Promise<void>;
}

/** Something that is begun once and then finished, whatever happens in between. */
export interface Procedure<F> {
  kind: string;
  steps: readonly Step<F>[];
  /** Procedures of one lane wait for each other; left out, all that change the shop's data. */
  lane?: string;
  /** Looks at what there is: what is not done yet, in words; `null` when all of it is. Nothing is done before this says so. */
  left: (facts: F) => string | null | Promise<string | null>;
  /** For what is not worth going on with once it failed: takes back what was begun. */
  undo?: (facts: F) => void | Promise<void>;
}

/** What was begun and is not finished. */
export interface Unfinished {
  kind: string;
  key: string;
  /** ISO date. */
  since: string;
  /** The step that is next. */
  step: string;
  /** Why it stopped; `null` when it was only interrupted. */
  error: string | null;
}

/** Where a procedure stands, told to who watches: before a step, after it, and when it is written down. */
export interface Moment {
  kind: string;
  step: string;
  at: 'before' | 'after' | 'noted';
}

interface Row {
  key: string;
  kind: string;
  facts: string;
  step: number;
  since: string;
  error: string | null;
}

/** Something was begun and stopped; it goes on by itself. */
export class Halted extends Error {
  readonly code: string | undefined;

  constructor(
    readonly kind: string,
    cause: unknown,
  ) {
    super((cause as Error).message, { cause });
    this.code = (cause as { code?: string }).code;
  }
}

/**
 * The journal of what was begun: the intent is written down first, then its steps are done one by one, each of which may be
 * repeated, and it is struck out once somebody has looked that it is done. What was interrupted goes on at the next start.
 * It lies in a file of its own, which no backup holds and no restore puts back.
 */
export class Journal {
  private readonly sqlite: Database.Database;
  private readonly procedures = new Map<string, Procedure<never>>();
  private readonly running = new Map<string, Promise<void>>();
  private readonly turns = new Map<string, Promise<unknown>>();
  private closing = false;
  /** Told where a procedure stands. */
  onMoment: (moment: Moment) => void = () => {};

  /** @param path of its file; a damaged one is laid aside, since what it held is found again by looking */
  constructor(path: string) {
    this.sqlite = openJournal(path);
  }

  add<F>(procedure: Procedure<F>): void {
    this.procedures.set(procedure.kind, procedure as Procedure<never>);
  }

  /**
   * Begins something, and ends with it. What was begun under the same key and is not finished is gone on with instead.
   * @throws Halted when a step fails: it is undone where that is the way of its kind, else it goes on by itself later
   */
  async begin<F>(kind: string, key: string, facts: F): Promise<void> {
    const known = this.running.get(key);
    if (known) return known;
    this.write(key, kind, facts);
    return this.goOn(key, kind);
  }

  private write(key: string, kind: string, facts: unknown): void {
    this.sqlite
      .prepare('INSERT OR IGNORE INTO intents (key, kind, facts, step, since) VALUES (?, ?, ?, 0, ?)')
      .run(key, kind, JSON.stringify(facts), new Date().toISOString());
  }

  /**
   * Does something that has consequences, with these written down before it: they are made up for whatever happens between.
   * What they trip over is not the fault of the work, and goes on later by itself.
   */
  async around<F, T>(kind: string, key: string, facts: F, work: () => Promise<T>): Promise<T> {
    this.write(key, kind, facts);
    try {
      return await work();
    } catch (error) {
      this.strike(key);
      throw error;
    } finally {
      if (this.has(key)) await this.goOn(key, kind).catch((error: Error) => console.error(`${kind}: ${error.message}`));
    }
  }

  /** Goes on with what was interrupted, of one kind or of all that are known here. @returns what is still not finished */
  async resume(kind?: string): Promise<Unfinished[]> {
    for (const row of this.rows())
      if (this.procedures.has(row.kind) && (kind === undefined || row.kind === kind))
        await (this.running.get(row.key) ?? this.goOn(row.key, row.kind)).catch(() => {});
    return this.unfinished();
  }

  /** Every step of everything that can be begun, as it stands written. */
  steps(): { kind: string; step: string }[] {
    return [...this.procedures.values()].flatMap(({ kind, steps }) => steps.map((step) => ({ kind, step: step.name })));
  }

  unfinished(): Unfinished[] {
    return this.rows().map(({ kind, key, since, step, error }) => {
      const steps = this.procedures.get(kind)?.steps ?? [];
      return { kind, key, since, step: steps[step]?.name ?? 'look', error };
    });
  }

  /** Was that begun, and is it not finished? */
  has(key: string): boolean {
    return this.sqlite.prepare('SELECT 1 FROM intents WHERE key = ?').get(key) !== undefined;
  }

  /** The words by which what comes late of an erased customer is told, as marks of a key that lies elsewhere. */
  marksOf(customer: string, now: number): string[] {
    return this.sqlite
      .prepare('SELECT mark FROM late WHERE customer = ? AND until > ?')
      .pluck()
      .all(customer, now) as string[];
  }

  keepMarks(customer: string, marks: readonly string[], until: number): void {
    const keep = this.sqlite.prepare('INSERT OR REPLACE INTO late (customer, mark, until) VALUES (?, ?, ?)');
    this.sqlite.transaction(() => {
      for (const mark of marks) keep.run(customer, mark, until);
    })();
  }

  forgetMarks(now: number): void {
    this.sqlite.prepare('DELETE FROM late WHERE until <= ?').run(now);
  }

  /** What is remembered of a name: the clock, that there was a shop. */
  recall<T>(name: string): T | null {
    const value = this.sqlite.prepare('SELECT value FROM memory WHERE name = ?').pluck().get(name) as
      | string
      | undefined;
    return value === undefined ? null : (JSON.parse(value) as T);
  }

  remember(name: string, value: unknown): void {
    this.sqlite.prepare('INSERT OR REPLACE INTO memory (name, value) VALUES (?, ?)').run(name, JSON.stringify(value));
  }

  /** Waits for what is under way, and does no more. */
  async close(): Promise<void> {
    this.closing = true;
    await Promise.allSettled([...this.running.values()]);
    this.sqlite.close();
  }

  private rows(): Row[] {
    return this.sqlite.prepare('SELECT * FROM intents ORDER BY since, key').all() as Row[];
  }

  /** One at a time in its lane, whoever asks for how many. */
  private goOn(key: string, kind: string): Promise<void> {
    const lane = this.procedures.get(kind)?.lane ?? 'data';
    const mine = (this.turns.get(lane) ?? Promise.resolve()).then(() => this.work(key));
    this.turns.set(
      lane,
      mine.catch(() => {}),
    );
    const told = mine.finally(() => this.running.delete(key));
    this.running.set(key, told);
    return told;
  }

  private async work(key: string): Promise<void> {
    const row = this.sqlite.prepare('SELECT * FROM intents WHERE key = ?').get(key) as Row | undefined;
    if (this.closing) return;
    const procedure = row && (this.procedures.get(row.kind) as Procedure<unknown> | undefined);
    if (!procedure) return;
    const facts: unknown = JSON.parse(row.facts);
    try {
      for (let at = row.step; at < procedure.steps.length; at++) await this.step(row, procedure, at, facts);
      const left = await procedure.left(facts);
      if (left !== null) {
        // From the first step again, the next time: something has undone what was done.
        this.sqlite.prepare('UPDATE intents SET step = 0 WHERE key = ?').run(key);
        throw new Error(left);
      }
      this.strike(key);
    } catch (error) {
      await this.halt(row, procedure, facts, error);
      throw new Halted(procedure.kind, error);
    }
  }

  private async step(row: Row, procedure: Procedure<unknown>, at: number, facts: unknown): Promise<void> {
    const { name, run } = procedure.steps[at]!;
    const told = (moment: Moment['at']) => this.onMoment({ kind: procedure.kind, step: name, at: moment });
    told('before');
    await run(facts);
    told('after');
    this.sqlite.prepare('UPDATE intents SET step = ?, error = NULL WHERE key = ?').run(at + 1, row.key);
    told('noted');
  }

  private async halt(row: Row, procedure: Procedure<unknown>, facts: unknown, error: unknown): Promise<void> {
    if (procedure.undo) {
      await procedure.undo(facts);
      this.strike(row.key);
      return;
    }
    try {
      this.sqlite.prepare('UPDATE intents SET error = ? WHERE key = ?').run((error as Error).message, row.key);
    } catch {
      // On a full disk the intent stands as it was; that is what counts.
    }
  }

  /** What is finished is struck out, and nothing of its facts is left in the file. */
  private strike(key: string): void {
    this.sqlite.prepare('DELETE FROM intents WHERE key = ?').run(key);
    if (this.rows().length === 0) this.sqlite.exec('VACUUM');
  }
}

function openJournal(path: string): Database.Database {
  if (path !== ':memory:') mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
  try {
    return opened(path);
  } catch (error) {
    if (path === ':memory:' || !existsSync(path)) throw error;
    const { code } = error as { code?: string };
    if (code !== 'SQLITE_NOTADB' && code !== 'SQLITE_CORRUPT') throw error;
    renameSync(path, `${path}.damaged-${Date.now()}`);
    return opened(path);
  }
}

function opened(path: string): Database.Database {
  const sqlite = new Database(path);
  try {
    // Not write-ahead: nothing of what is struck out waits in a second file.
    sqlite.pragma('journal_mode = DELETE');
    sqlite.pragma('synchronous = FULL');
    sqlite.pragma('secure_delete = ON');
    sqlite.pragma('busy_timeout = 5000');
    sqlite.exec(`
      CREATE TABLE IF NOT EXISTS intents (key text PRIMARY KEY, kind text NOT NULL, facts text NOT NULL,
        step integer NOT NULL, since text NOT NULL, error text);
      CREATE TABLE IF NOT EXISTS late (customer text NOT NULL, mark text NOT NULL, until integer NOT NULL,
        PRIMARY KEY (customer, mark));
      CREATE TABLE IF NOT EXISTS memory (name text PRIMARY KEY, value text NOT NULL);
    `);
    if (path !== ':memory:') chmodSync(path, 0o600);
    return sqlite;
  } catch (error) {
    sqlite.close();
    throw error;
  }
}
