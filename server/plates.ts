import { randomUUID } from 'node:crypto';
import { asc, eq } from 'drizzle-orm';
import type { PlateInfo, PlateSurvey } from '../core/jobs/index.ts';
import type { Db } from './db/db.ts';
import { plates } from './db/schema.ts';
import { notFound } from './problem.ts';

/** Photographs straightened to millimetres, by device, face and depth. */
export class Plates {
  constructor(private readonly db: Db) {}

  of(device: string): PlateInfo[] {
    const rows = this.db.select().from(plates).where(eq(plates.device, device)).orderBy(asc(plates.createdAt)).all();
    return rows.map(asInfo);
  }

  /** @throws Problem 404 */
  get(id: string): PlateInfo {
    const row = this.db.select().from(plates).where(eq(plates.id, id)).get();
    if (!row) throw notFound('the plate');
    return asInfo(row);
  }

  add(made: Omit<PlateInfo, 'id' | 'createdAt' | 'reviewed'>, reviewed: string | null = null): PlateInfo {
    const row = { ...made, id: randomUUID(), reviewed, createdAt: new Date().toISOString() };
    this.db.insert(plates).values(row).run();
    return row;
  }

  review(id: string, by: string | null): PlateInfo {
    this.get(id);
    this.db.update(plates).set({ reviewed: by }).where(eq(plates.id, id)).run();
    return this.get(id);
  }

  remove(id: string): void {
    this.get(id);
    this.db.delete(plates).where(eq(plates.id, id)).run();
  }
}

const asInfo = (row: typeof plates.$inferSelect): PlateInfo => ({ ...row, survey: row.survey as PlateSurvey });
