import { randomUUID } from 'node:crypto';
import { and, desc, eq } from 'drizzle-orm';
import { ratingOf, transportOf } from '../core/cells/index.ts';
import type { CellStateKind, ShopCell } from '../core/jobs/index.ts';
import { cellJudgement, type RunEvent } from '../core/run/index.ts';
import type { Db } from './db/db.ts';
import { cells } from './db/schema.ts';
import type { Jobs } from './jobs.ts';
import { notFound, Problem } from './problem.ts';

/** What may become of a cell: a hurt one only goes to the collection, and what is gone is gone. */
const NEXT: Record<CellStateKind, readonly CellStateKind[]> = {
  stored: ['stored', 'boxed', 'collected', 'sent'],
  boxed: ['boxed', 'collected'],
  collected: [],
  sent: [],
};

export interface CellChange {
  state: CellStateKind;
  charge: number | null;
  box: string;
  gone: string;
}

/** The log of the cells in the shop: from the job they came out of to the licensed collection. */
export class CellLog {
  constructor(
    private readonly db: Db,
    private readonly jobs: Jobs,
  ) {}

  all(): ShopCell[] {
    return this.db.select().from(cells).orderBy(desc(cells.createdAt)).all() as ShopCell[];
  }

  /** @throws Problem 404 */
  get(id: string): ShopCell {
    const found = this.db.select().from(cells).where(eq(cells.id, id)).get();
    if (!found) throw notFound('the cell');
    return found as ShopCell;
  }

  add(given: Omit<ShopCell, 'id' | 'createdAt' | 'changedAt' | 'revision'>, at = new Date().toISOString()): ShopCell {
    const cell = { ...given, id: randomUUID(), createdAt: at, changedAt: at, revision: 1 };
    this.db.insert(cells).values(cell).run();
    return cell;
  }

  /** @throws Problem 404, or 409 where that cannot become of it */
  change(id: string, change: CellChange, by: string): ShopCell {
    const cell = this.get(id);
    if (!NEXT[cell.state].includes(change.state))
      throw new Problem(409, {
        error:
          cell.state === 'boxed'
            ? 'a cell from the sand box only goes to the licensed collection'
            : 'this cell has left the shop already',
      });
    if (change.state === 'sent' && transportOf(cell, cell.damaged).class !== 'small')
      throw new Problem(409, { error: 'this cell goes in no ordinary parcel; hand it to the licensed collection' });
    if ((change.state === 'collected' || change.state === 'sent') && change.gone.trim() === '')
      throw new Problem(422, {
        error: 'say who took it, or how it was sent',
        faults: [{ path: 'gone', message: 'is asked for' }],
      });
    this.db
      .update(cells)
      .set({
        ...change,
        damaged: cell.damaged || change.state === 'boxed',
        by,
        changedAt: new Date().toISOString(),
        revision: cell.revision + 1,
      })
      .where(eq(cells.id, id))
      .run();
    return this.get(id);
  }

  /** Cells come into the log as the events of a job say it: one that was boxed at once, one that was replaced at its end. */
  follow(job: string, added: readonly RunEvent[]): void {
    for (const event of added) {
      if (event.type === 'cell-boxed')
        this.enter(job, event.cell, event.of, { box: event.box, boxed: true, by: event.by, at: event.at });
      if (event.type !== 'signed-off') continue;
      const { context } = this.jobs.stateOf(job).state;
      for (const part of context.plan.renew)
        if (context.model.parts.get(part)?.kind === 'battery')
          this.enter(job, part, 'old', { box: '', boxed: false, by: event.by, at: event.at });
    }
  }

  private enter(
    job: string,
    part: string,
    of: 'old' | 'new',
    to: { box: string; boxed: boolean; by: string; at: string },
  ): void {
    const { job: row, state } = this.jobs.stateOf(job);
    const { model } = state.context;
    const key = `${part} ${of}`;
    const known = this.db
      .select()
      .from(cells)
      .where(and(eq(cells.job, job), eq(cells.part, key)))
      .get();
    const { refit } = cellJudgement(state, part, of);
    const damaged = to.boxed || refit?.verdict === 'unfit';
    if (known) {
      if (to.boxed && known.state === 'stored')
        this.change(known.id, { state: 'boxed', charge: known.charge, box: to.box, gone: '' }, to.by);
      return;
    }
    const charge = state.care.cells.get(key)?.measured.get('charge')?.value ?? null;
    this.add(
      {
        job,
        part: key,
        label: `${model.anatomy.maker} ${model.anatomy.name}, ${model.nameOf(part)} of job ${row.number}${of === 'new' ? ', new' : ''}`,
        ...ratingOf(model.anatomy, part),
        damaged,
        state: damaged ? 'boxed' : 'stored',
        charge,
        box: to.box,
        gone: '',
        by: to.by,
      },
      to.at,
    );
  }
}
