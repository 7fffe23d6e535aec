import { randomUUID } from 'node:crypto';
import { and, asc, desc, eq, gt, lt, sql } from 'drizzle-orm';
import type { Anatomy } from '../core/anatomy/index.ts';
import { applied, Clash, shapeFaults, type Edit } from '../core/draft/index.ts';
import type { DraftSummary } from '../core/jobs/index.ts';
import type { Db } from './db/db.ts';
import { draftEdits, drafts } from './db/schema.ts';
import type { Live } from './live.ts';
import { notFound, Problem } from './problem.ts';

/**
 * When a draft goes by itself. Origin: own choice; a device that nobody went on drawing for a year will not be drawn,
 * and of a draft with many edits the newest are enough to tell another window what it missed.
 */
export const PRUNING = { untouchedDays: 365, keptEdits: 5000 } as const;

export interface Draft {
  id: string;
  base: { anatomy: string; revision: number } | null;
  document: Anatomy;
  version: number;
  by: string;
  createdAt: string;
  changedAt: string;
}

/** Anatomies that are being drawn, with every edit of them. */
export class Drafts {
  constructor(
    private readonly db: Db,
    private readonly live: Live,
  ) {}

  list(): DraftSummary[] {
    const rows = this.db.select().from(drafts).orderBy(desc(drafts.changedAt)).all();
    return rows.map((row) => {
      const { name, maker, id } = row.document as Anatomy;
      const base = row.base as Draft['base'];
      return { id: row.id, name, maker, device: id, base, version: row.version, by: row.by, changedAt: row.changedAt };
    });
  }

  /** @throws Problem 404 */
  get(id: string): Draft {
    const row = this.db.select().from(drafts).where(eq(drafts.id, id)).get();
    if (!row) throw notFound('the draft');
    return { ...row, base: row.base as Draft['base'], document: row.document as Anatomy };
  }

  begin(document: Anatomy, base: Draft['base'], by: string): Draft {
    const now = new Date().toISOString();
    const draft = { id: randomUUID(), base, document, version: 0, by, createdAt: now, changedAt: now };
    this.db.insert(drafts).values(draft).run();
    return draft;
  }

  remove(id: string): void {
    this.get(id);
    this.db.delete(drafts).where(eq(drafts.id, id)).run();
  }

  /** The edits that were taken in after a version; `null` when some of them are not kept any more. */
  since(id: string, version: number): { version: number; edit: Edit; by: string }[] | null {
    const rows = this.db
      .select()
      .from(draftEdits)
      .where(and(eq(draftEdits.draft, id), gt(draftEdits.version, version)))
      .orderBy(asc(draftEdits.version))
      .all();
    if (rows.length !== this.get(id).version - version) return null;
    return rows.map((row) => ({ version: row.version, edit: row.edit as Edit, by: row.by }));
  }

  /**
   * Takes in edits, all of them or none. What was taken in before, by its id, is passed over, so that sending twice
   * changes nothing.
   * @param seen the version that they were made on
   * @throws Problem 409 with what was missed when it is not the newest; 422 when an edit does not fit or has no shape
   */
  edit(id: string, sent: readonly Edit[], seen: number, by: string): { version: number } {
    const version = this.db.transaction(() => {
      const draft = this.get(id);
      const there = new Map(
        sent.length === 0
          ? []
          : this.db
              .select({ id: draftEdits.id, version: draftEdits.version })
              .from(draftEdits)
              .where(
                and(
                  eq(draftEdits.draft, id),
                  sql`${draftEdits.id} IN (${sql.join(
                    sent.map((e) => sql`${e.id}`),
                    sql`, `,
                  )})`,
                ),
              )
              .all()
              .map((row) => [row.id, row.version] as const),
      );
      const fresh = sent.filter((e) => !there.has(e.id));
      // Of what came after the version seen, the sender's own edits are no news to them; anybody else's are.
      const own = [...there.values()].filter((v) => v > seen).length;
      if (seen + own < draft.version) {
        throw new Problem(409, {
          error: 'this draft was changed in another window; here is what you missed',
          draft: { version: draft.version, missed: this.since(id, seen), known: [...there.keys()] },
        });
      }
      if (fresh.length === 0) return draft.version;
      let { document } = draft;
      const at = new Date().toISOString();
      fresh.forEach((edit, i) => {
        document = fitted(document, edit, i);
        this.db
          .insert(draftEdits)
          .values({ draft: id, version: draft.version + i + 1, id: edit.id, by, at, edit })
          .run();
      });
      const next = draft.version + fresh.length;
      this.db.update(drafts).set({ document, version: next, changedAt: at }).where(eq(drafts.id, id)).run();
      this.db
        .delete(draftEdits)
        .where(and(eq(draftEdits.draft, id), lt(draftEdits.version, next - PRUNING.keptEdits)))
        .run();
      return next;
    });
    this.live.tell({ kind: 'draft', draft: id, version });
    return { version };
  }

  /** A draft goes on from what was just published. */
  rebase(id: string, base: Draft['base']): void {
    this.db.update(drafts).set({ base }).where(eq(drafts.id, id)).run();
  }

  /** Removes drafts that nobody went on with. @returns how many */
  prune(now = Date.now()): number {
    const before = new Date(now - PRUNING.untouchedDays * 86_400_000).toISOString();
    return this.db.delete(drafts).where(lt(drafts.changedAt, before)).run().changes;
  }
}

function fitted(document: Anatomy, edit: Edit, i: number): Anatomy {
  try {
    const next = applied(document, edit);
    const faults = shapeFaults(next, edit);
    if (faults.length > 0)
      throw new Problem(422, {
        error: `edits[${i}], ${edit.label}: ${faults[0]!.path} ${faults[0]!.message}`,
        faults,
        edit: edit.id,
      });
    return next;
  } catch (error) {
    if (error instanceof Clash)
      throw new Problem(422, { error: `edits[${i}], ${edit.label}: ${error.message}`, edit: edit.id });
    throw error;
  }
}
