import { createHash, createHmac, randomBytes, randomUUID, timingSafeEqual } from 'node:crypto';
import { chmodSync, mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import Database from 'better-sqlite3';

/** How long a session lasts after it was last used, ms. Origin: own choice, a long working day. */
export const SESSION_MS = 12 * 3600_000;
/** How long a session lasts at the most, however much it is used, ms. Origin: own choice, two weeks. */
export const LONGEST_SESSION_MS = 14 * 24 * 3600_000;
/** How often use is written down, ms. */
const SEEN_EVERY_MS = 60_000;

export interface Session {
  /** Told to the browser, to name the session in which an event was made; it opens nothing. */
  id: string;
  /** Whose it is, where technicians have PINs. */
  technician: string | null;
  /** The passcode of the shop was given in it. */
  passcode: boolean;
  device: string;
  beganAt: number;
  seenAt: number;
  agent: string;
}

interface Row extends Omit<Session, 'passcode'> {
  passcode: number;
}

/** By which passcode a session was opened, told by nobody who has only this file. */
const openedBy = (token: string, passcode: string | null): string => hashOf(`${token} ${passcode ?? ''}`);

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

/**
 * Sessions, in a file of their own that is in no backup: each has its own token, of which only a hash is kept, and
 * ends here. One that has ended still says whose it was, for what was made in it and comes later.
 */
export class Sessions {
  private readonly sqlite: Database.Database;

  constructor(path: string) {
    if (path !== ':memory:') mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
    this.sqlite = new Database(path);
    if (path !== ':memory:') chmodSync(path, 0o600);
    this.sqlite.pragma('journal_mode = WAL');
    this.sqlite.exec(`CREATE TABLE IF NOT EXISTS sessions (
      id text PRIMARY KEY, token text NOT NULL UNIQUE, technician text, passcode integer NOT NULL, device text NOT NULL,
      began_at integer NOT NULL, seen_at integer NOT NULL, ended_at integer, agent text NOT NULL)`);
    const columns = this.sqlite.pragma('table_info(sessions)') as { name: string }[];
    for (const added of ['opened', 'author'])
      if (!columns.some((c) => c.name === added)) this.sqlite.exec(`ALTER TABLE sessions ADD COLUMN ${added} text`);
  }

  /** @param passcode the shop's, as it is now; `null` where none is asked for */
  begin(
    {
      technician,
      passcode,
      device,
      agent,
    }: Pick<Session, 'technician' | 'agent'> & { passcode: string | null; device: string | null },
    now = Date.now(),
  ): { id: string; token: string; device: string } {
    const token = randomBytes(32).toString('base64url');
    const id = randomUUID();
    const from = device ?? randomBytes(16).toString('base64url');
    this.sqlite
      .prepare(
        `INSERT INTO sessions (id, token, technician, passcode, device, began_at, seen_at, agent, opened)
         VALUES (?, ?, ?, 1, ?, ?, ?, ?, ?)`,
      )
      .run(id, hashOf(token), technician, from, now, now, agent.slice(0, 200), openedBy(token, passcode));
    return { id, token, device: from };
  }

  /**
   * The session of a token, while it lasts. One that was opened by another passcode than the shop has now has not given it.
   * @param passcode the shop's, as it is now
   */
  find(token: string | undefined, passcode: string | null = null, now = Date.now()): Session | null {
    if (!token) return null;
    const row = this.sqlite
      .prepare(
        `SELECT ${FIELDS}, opened FROM sessions WHERE token = ? AND ended_at IS NULL AND seen_at > ? AND began_at > ?`,
      )
      .get(hashOf(token), now - SESSION_MS, now - LONGEST_SESSION_MS) as (Row & { opened: string | null }) | undefined;
    if (!row) return null;
    if (passcode !== null && row.opened !== openedBy(token, passcode)) row.passcode = 0;
    if (now - row.seenAt > SEEN_EVERY_MS) {
      this.sqlite.prepare('UPDATE sessions SET seen_at = ? WHERE id = ?').run(now, row.id);
    }
    const { opened: _, ...rest } = row;
    return sessionOf(rest);
  }

  end(id: string, now = Date.now()): void {
    this.sqlite.prepare('UPDATE sessions SET ended_at = ? WHERE id = ? AND ended_at IS NULL').run(now, id);
  }

  /** Ends every session of a technician: the PIN was changed, or they are gone. */
  endAll(technician: string, except: string | null = null, now = Date.now()): void {
    this.sqlite
      .prepare('UPDATE sessions SET ended_at = ? WHERE technician = ? AND ended_at IS NULL AND id IS NOT ?')
      .run(now, technician, except);
  }

  running(now = Date.now()): Session[] {
    const rows = this.sqlite
      .prepare(`SELECT ${FIELDS} FROM sessions WHERE ended_at IS NULL AND seen_at > ? ORDER BY seen_at DESC`)
      .all(now - SESSION_MS) as Row[];
    return rows.map(sessionOf);
  }

  /** The key under which what is made in a session is vouched for; made when it is first asked for. */
  authorKey(id: string): string | null {
    const row = this.sqlite.prepare('SELECT author FROM sessions WHERE id = ? AND ended_at IS NULL').get(id) as
      | { author: string | null }
      | undefined;
    if (!row) return null;
    if (row.author) return row.author;
    const author = randomBytes(32).toString('base64url');
    this.sqlite.prepare('UPDATE sessions SET author = ? WHERE id = ?').run(author, id);
    return author;
  }

  /** Was this made in that session, by the code that came with it? Also when it has ended since. */
  vouches(id: string, text: string, proof: string | undefined): boolean {
    const key = this.sqlite.prepare('SELECT author FROM sessions WHERE id = ?').pluck().get(id) as string | null;
    if (!key || !proof) return false;
    const right = createHmac('sha256', Buffer.from(key, 'base64url')).update(text).digest();
    const given = Buffer.from(proof, 'hex');
    return given.length === right.length && timingSafeEqual(given, right);
  }

  /** Whose a session of the same browser as `here` is or was; `null` for one of another browser. */
  technicianOf(id: string, here: string): string | null {
    const found = this.sqlite
      .prepare('SELECT technician FROM sessions WHERE id = ? AND device = (SELECT device FROM sessions WHERE id = ?)')
      .pluck()
      .get(id, here);
    return (found as string | null | undefined) ?? null;
  }

  /** Has this technician signed in from this browser before? */
  knows(device: string | undefined, technician: string): boolean {
    if (!device) return false;
    const found = this.sqlite
      .prepare('SELECT 1 FROM sessions WHERE device = ? AND technician = ? LIMIT 1')
      .get(device, technician);
    return found !== undefined;
  }

  close(): void {
    this.sqlite.close();
  }
}

const FIELDS = 'id, technician, passcode, device, began_at AS beganAt, seen_at AS seenAt, agent';

const sessionOf = (row: Row): Session => ({ ...row, passcode: row.passcode === 1 });
