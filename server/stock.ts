import { randomUUID } from 'node:crypto';
import { and, asc, eq, gt, sql } from 'drizzle-orm';
import type { Model } from '../core/anatomy/index.ts';
import { FASTENERS } from '../core/kinds/index.ts';
import { classesOf, type ScrewShape, type StockItem } from '../core/screws/index.ts';
import type { Db } from './db/db.ts';
import { stock } from './db/schema.ts';
import { notFound, Problem } from './problem.ts';

/** The shop's stock of screws, counted down as they are used. */
export class Stock {
  constructor(private readonly db: Db) {}

  all(): StockItem[] {
    return this.db
      .select()
      .from(stock)
      .orderBy(asc(stock.drive), asc(stock.thread), asc(stock.length))
      .all() as StockItem[];
  }

  /** Adds to what is there of the same kind. */
  add(shape: ScrewShape & { length: number }, count: number): void {
    this.db
      .insert(stock)
      .values({ id: randomUUID(), ...shape, count })
      .onConflictDoUpdate({
        target: [stock.kind, stock.drive, stock.length, stock.thread, stock.head, stock.magnetic],
        set: { count: sql`${stock.count} + ${count}`, revision: sql`${stock.revision} + 1` },
      })
      .run();
  }

  /** One set of a device's screws. */
  addKit(model: Model): void {
    this.db.transaction(() => {
      for (const { shape, fasteners } of classesOf(model))
        if (!FASTENERS.of(shape.kind).stays && shape.length !== null)
          this.add({ ...shape, length: shape.length }, fasteners.length);
    });
  }

  /** @throws Problem 404 */
  get(id: string): StockItem {
    const found = this.db.select().from(stock).where(eq(stock.id, id)).get();
    if (!found) throw notFound('the kind of screw');
    return found as StockItem;
  }

  /** @throws Problem 404 */
  setCount(id: string, count: number): void {
    if (
      this.db
        .update(stock)
        .set({ count, revision: sql`${stock.revision} + 1` })
        .where(eq(stock.id, id))
        .run().changes === 0
    )
      throw notFound('the kind of screw');
  }

  /** Takes one out. @throws Problem 409 when none is left */
  use(id: string): StockItem {
    const { changes } = this.db
      .update(stock)
      .set({ count: sql`${stock.count} - 1`, revision: sql`${stock.revision} + 1` })
      .where(and(eq(stock.id, id), gt(stock.count, 0)))
      .run();
    if (changes === 0) throw new Problem(409, { error: 'none of these is left in the stock' });
    return this.get(id);
  }
}
