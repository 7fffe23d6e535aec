import { and, desc, eq, max } from 'drizzle-orm';
import { anatomySchema, modelOf, type Anatomy, type Model } from '../core/anatomy/index.ts';
import type { Db } from './db/open.ts';
import { anatomyRevisions } from './db/schema.ts';
import { notFound } from './problem.ts';

export interface StoredAnatomy {
  anatomy: Anatomy;
  revision: number;
  createdAt: string;
}

/** Anatomies with their revisions. A revision never changes once it is written. */
export class Anatomies {
  private readonly models = new Map<string, Model>();

  constructor(private readonly db: Db) {}

  latest(): StoredAnatomy[] {
    const newest = this.db
      .select({ anatomy: anatomyRevisions.anatomy, revision: max(anatomyRevisions.revision).as('newest') })
      .from(anatomyRevisions)
      .groupBy(anatomyRevisions.anatomy)
      .all();
    return newest.map(({ anatomy, revision }) => this.get(anatomy, revision!));
  }

  /** @throws Problem 404 */
  get(id: string, revision?: number): StoredAnatomy {
    const row = this.db
      .select()
      .from(anatomyRevisions)
      .where(
        revision === undefined
          ? eq(anatomyRevisions.anatomy, id)
          : and(eq(anatomyRevisions.anatomy, id), eq(anatomyRevisions.revision, revision)),
      )
      .orderBy(desc(anatomyRevisions.revision))
      .limit(1)
      .get();
    if (!row) throw notFound(`the anatomy "${id}"`);
    // Fields that came to the format after this revision was stored take their defaults.
    return {
      anatomy: anatomySchema.validate(row.document).value as Anatomy,
      revision: row.revision,
      createdAt: row.createdAt,
    };
  }

  modelOf(id: string, revision: number): Model {
    const key = `${id}@${revision}`;
    const known = this.models.get(key);
    if (known) return known;
    const model = modelOf(this.get(id, revision).anatomy);
    this.models.set(key, model);
    return model;
  }

  /** Adds a revision, unless the newest one is the same already. */
  add(anatomy: Anatomy): StoredAnatomy {
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
    this.db.insert(anatomyRevisions).values({ anatomy: anatomy.id, revision, document: anatomy, createdAt }).run();
    return { anatomy, revision, createdAt };
  }
}
