import { and, desc, eq, max, ne } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { completed, modelOf, type Anatomy, type Model } from '../core/anatomy/index.ts';
import type { Db } from './db/db.ts';
import { anatomyRevisions, deviceMarks } from './db/schema.ts';
import { notFound } from './problem.ts';

/** The row that stands in for the anatomy of devices that are in no list; it is in none itself. */
export const UNLISTED = 'unlisted';

/** Revisions held in memory. Origin: own choice; some 100 kB each, and more than a shop has on its benches. */
export const KEPT_REVISIONS = 300;

/** What a shop says of a device beside its revisions. */
export interface Marks {
  archived: boolean;
  origin: { name: string; fingerprint: string; at: string } | null;
  untried: boolean;
}

/** A revision without its document. */
export interface Revision {
  revision: number;
  createdAt: string;
  by: string | null;
  changes: string[] | null;
}

export interface StoredAnatomy {
  anatomy: Anatomy;
  revision: number;
  createdAt: string;
}

/** Anatomies with their revisions. A revision never changes once it is written. */
export class Anatomies {
  private readonly models = new LRUCache<string, Model>({ max: KEPT_REVISIONS });
  /** A revision never changes, so that it is read once. */
  private readonly read = new LRUCache<string, StoredAnatomy>({ max: KEPT_REVISIONS });

  constructor(private readonly db: Db) {}

  latest(): StoredAnatomy[] {
    const newest = this.db
      .select({ anatomy: anatomyRevisions.anatomy, revision: max(anatomyRevisions.revision).as('newest') })
      .from(anatomyRevisions)
      .where(ne(anatomyRevisions.anatomy, UNLISTED))
      .groupBy(anatomyRevisions.anatomy)
      .all();
    return newest.map(({ anatomy, revision }) => this.get(anatomy, revision!));
  }

  /** The number of the newest revision. @throws Problem 404 */
  newest(id: string): number {
    const found = this.db
      .select({ revision: max(anatomyRevisions.revision) })
      .from(anatomyRevisions)
      .where(eq(anatomyRevisions.anatomy, id))
      .get();
    if (!found?.revision) throw notFound(`the anatomy "${id}"`);
    return found.revision;
  }

  /** @throws Problem 404 */
  get(id: string, revision = this.newest(id)): StoredAnatomy {
    const key = `${id}@${revision}`;
    const known = this.read.get(key);
    if (known) return known;
    const row = this.db
      .select()
      .from(anatomyRevisions)
      .where(and(eq(anatomyRevisions.anatomy, id), eq(anatomyRevisions.revision, revision)))
      .get();
    if (!row) throw notFound(`the anatomy "${id}"`);
    // Fields that came to the format after this revision was stored take their defaults.
    const stored = {
      anatomy: completed(row.document as Anatomy),
      revision: row.revision,
      createdAt: row.createdAt,
    };
    this.read.set(key, stored);
    return stored;
  }

  has(id: string): boolean {
    return (
      this.db
        .select({ anatomy: anatomyRevisions.anatomy })
        .from(anatomyRevisions)
        .where(eq(anatomyRevisions.anatomy, id))
        .get() !== undefined
    );
  }

  modelOf(id: string, revision: number): Model {
    const key = `${id}@${revision}`;
    const known = this.models.get(key);
    if (known) return known;
    const model = modelOf(this.get(id, revision).anatomy);
    this.models.set(key, model);
    return model;
  }

  /** The revisions of a device, newest first. @throws Problem 404 */
  revisions(id: string): Revision[] {
    const { revision, createdAt, by, changes } = anatomyRevisions;
    const rows = this.db
      .select({ revision, createdAt, by, changes })
      .from(anatomyRevisions)
      .where(eq(anatomyRevisions.anatomy, id))
      .orderBy(desc(anatomyRevisions.revision))
      .all();
    if (rows.length === 0) throw notFound(`the anatomy "${id}"`);
    return rows.map((row) => ({ ...row, changes: row.changes as string[] | null }));
  }

  /** Marks by device; a device that was drawn here and is in use has none. */
  marks(): Map<string, Marks> {
    // A device from elsewhere is untried until a dive on it has been signed off.
    this.db.$client
      .prepare(
        `UPDATE device_marks SET untried = 0 WHERE untried = 1 AND EXISTS (SELECT 1 FROM jobs JOIN events ON
         events.job = jobs.id WHERE jobs.anatomy = device_marks.anatomy AND events.type = 'signed-off')`,
      )
      .run();
    const rows = this.db.select().from(deviceMarks).all();
    return new Map(rows.map(({ anatomy, ...row }) => [anatomy, { ...row, origin: row.origin as Marks['origin'] }]));
  }

  mark(anatomy: string, change: Partial<Marks>): void {
    const set = { archived: false, origin: null, untried: false, ...this.marks().get(anatomy), ...change };
    this.db
      .insert(deviceMarks)
      .values({ anatomy, ...set })
      .onConflictDoUpdate({ target: deviceMarks.anatomy, set })
      .run();
  }

  /** Adds a revision, unless the newest one is the same already. */
  add(anatomy: Anatomy, by: string | null = null, changes: string[] | null = null): StoredAnatomy {
    const newest = this.db
      .select()
      .from(anatomyRevisions)
      .where(eq(anatomyRevisions.anatomy, anatomy.id))
      .orderBy(desc(anatomyRevisions.revision))
      .limit(1)
      .get();
    if (newest && JSON.stringify(newest.document) === JSON.stringify(anatomy))
      return { anatomy, revision: newest.revision, createdAt: newest.createdAt };
    const revision = (newest?.revision ?? 0) + 1;
    const createdAt = new Date().toISOString();
    this.db
      .insert(anatomyRevisions)
      .values({ anatomy: anatomy.id, revision, document: anatomy, createdAt, by, changes })
      .run();
    return { anatomy, revision, createdAt };
  }
}
