import { randomBytes, randomUUID, scrypt, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';
import { eq, sql } from 'drizzle-orm';
import type { Role, Technician } from '../core/jobs/index.ts';
import type { Db } from './db/db.ts';
import { technicians } from './db/schema.ts';
import { notFound, Problem } from './problem.ts';

const derive = promisify(scrypt) as (secret: string, salt: Buffer, length: number) => Promise<Buffer>;
const LENGTH = 32;

/** Salt and hash of a PIN by scrypt (RFC 7914) with the cost of `node:crypto`: N 16384, r 8, p 1. */
async function hashOf(pin: string): Promise<string> {
  const salt = randomBytes(16);
  return `${salt.toString('hex')}:${(await derive(pin, salt, LENGTH)).toString('hex')}`;
}

async function matches(pin: string, stored: string): Promise<boolean> {
  const [salt, hash] = stored.split(':');
  const given = await derive(pin, Buffer.from(salt!, 'hex'), LENGTH);
  return timingSafeEqual(given, Buffer.from(hash!, 'hex'));
}

/** Takes as long as a real comparison for an account that is not there. */
const NOBODY = `${'00'.repeat(16)}:${'00'.repeat(LENGTH)}`;

/** Who works here. While nobody has a PIN, everybody may do everything; from the first one on, everybody signs in. */
export class Technicians {
  private known: (typeof technicians.$inferSelect)[] | null = null;

  constructor(private readonly db: Db) {}

  private rows(): (typeof technicians.$inferSelect)[] {
    this.known ??= this.db.select().from(technicians).orderBy(sql`rowid`).all();
    return this.known;
  }

  all(): Technician[] {
    return this.rows().map(asTechnician);
  }

  active(): Technician[] {
    return this.all().filter((t) => t.active);
  }

  get pinsNeeded(): boolean {
    return this.rows().some((row) => row.active && row.pin !== null);
  }

  find(id: string): Technician | null {
    const row = this.rows().find((t) => t.id === id);
    return row ? asTechnician(row) : null;
  }

  /** Is that the PIN of a technician who works here? */
  async proves(id: string, pin: string): Promise<boolean> {
    const row = this.rows().find((t) => t.id === id && t.active && t.pin !== null);
    const right = await matches(pin, row?.pin ?? NOBODY);
    return right && row !== undefined;
  }

  /** @throws Problem 422 when the name is taken */
  add(name: string, role: Role): Technician {
    this.free(name, null);
    const row = { id: randomUUID(), name, role, pin: null, active: true, createdAt: new Date().toISOString() };
    this.db.insert(technicians).values(row).run();
    this.known = null;
    return asTechnician(row);
  }

  /** @throws Problem 422 when the shop would be left without anybody who may change it */
  async change(id: string, to: { name?: string; role?: Role; active?: boolean; pin?: string | null }): Promise<void> {
    const { pin: given, ...rest } = to;
    // What takes long comes first: between looking and writing nothing else may happen.
    const hashed = typeof given === 'string' ? await hashOf(given) : given;
    const row = this.rows().find((t) => t.id === id);
    if (!row) throw notFound('the technician');
    if (to.name !== undefined) this.free(to.name, id);
    const next = { ...row, ...rest, pin: hashed === undefined ? row.pin : hashed };
    const others = this.rows().filter((t) => t.id !== id);
    const guarded = [...others, next].filter((t) => t.active && t.pin !== null);
    if (guarded.length > 0 && !guarded.some((t) => t.role === 'lead')) {
      throw new Problem(422, { error: 'a lead needs a PIN first, else nobody could change the shop any more' });
    }
    if (![...others, next].some((t) => t.active && t.role === 'lead')) {
      throw new Problem(422, { error: 'the shop needs at least one lead' });
    }
    this.db.update(technicians).set(next).where(eq(technicians.id, id)).run();
    this.known = null;
  }

  private free(name: string, id: string | null): void {
    if (!this.rows().some((t) => t.name === name && t.id !== id)) return;
    throw new Problem(422, { error: `there is a technician "${name}" already; add a letter to tell them apart` });
  }
}

const asTechnician = (row: typeof technicians.$inferSelect): Technician => ({
  id: row.id,
  name: row.name,
  role: row.role,
  pin: row.pin !== null,
  active: row.active,
});
