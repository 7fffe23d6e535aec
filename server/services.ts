import type { Shop } from '../core/jobs/index.ts';
import { Anatomies } from './anatomies.ts';
import type { Config } from './config.ts';
import type { Db } from './db/open.ts';
import { settings } from './db/schema.ts';
import { Jobs } from './jobs.ts';
import { Photos } from './photos.ts';
import { RuleSets } from './ruleSets.ts';
import { Stock } from './stock.ts';

export interface Services {
  db: Db;
  anatomies: Anatomies;
  jobs: Jobs;
  photos: Photos;
  ruleSets: RuleSets;
  stock: Stock;
}

export function servicesOf(db: Db, photoFolder: string): Services {
  const anatomies = new Anatomies(db);
  return {
    db,
    anatomies,
    jobs: new Jobs(db, anatomies),
    photos: new Photos(db, photoFolder),
    ruleSets: new RuleSets(db),
    stock: new Stock(db),
  };
}

/** What the shop calls itself, and who works there. */
export function shopOf(db: Db, config: Pick<Config, 'demo' | 'passcode'>): Shop {
  const rows = new Map(
    db
      .select()
      .from(settings)
      .all()
      .map((row) => [row.key, row.value]),
  );
  return {
    name: (rows.get('shop-name') as string | undefined) ?? 'My bench',
    technicians: (rows.get('technicians') as string[] | undefined) ?? ['Technician'],
    demo: config.demo,
    passcodeNeeded: config.passcode !== null,
  };
}
