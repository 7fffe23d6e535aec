import { join } from 'node:path';
import type { Shop } from '../core/jobs/index.ts';
import { Anatomies } from './anatomies.ts';
import { Backups } from './backups.ts';
import { CellLog } from './cells.ts';
import { Counter, Vault } from './counter.ts';
import { Erasure } from './erasure.ts';
import type { DeviceRegister, PartsSupplier } from '../core/counter/index.ts';
import { simulatedRegister } from './simulated/register.ts';
import { simulatedSupplier } from './simulated/supplier.ts';
import { isExposed, type Config } from './config.ts';
import type { Db } from './db/db.ts';
import type { Who } from './guard.ts';
import { Drafts } from './drafts.ts';
import { Jobs } from './jobs.ts';
import { Live } from './live.ts';
import { Photos } from './photos.ts';
import { Plates } from './plates.ts';
import { Pool } from './pool.ts';
import { RuleSets } from './ruleSets.ts';
import { Sessions } from './sessions.ts';
import { ShopBook } from './shop.ts';
import { ShopKey } from './shopKey.ts';
import { Stock } from './stock.ts';
import { Streams } from './streams.ts';
import { Technicians } from './technicians.ts';

export interface Services {
  db: Db;
  anatomies: Anatomies;
  drafts: Drafts;
  plates: Plates;
  jobs: Jobs;
  live: Live;
  photos: Photos;
  ruleSets: RuleSets;
  stock: Stock;
  shop: ShopBook;
  /** Made when it is first asked for. */
  shopKey: () => ShopKey;
  technicians: Technicians;
  sessions: Sessions;
  backups: Backups;
  counter: Counter;
  cells: CellLog;
  erasure: Erasure;
  /** Whom the counter asks; stand-ins say that they are. */
  register: DeviceRegister;
  supplier: PartsSupplier;
  pool: Pool;
  streams: Streams;
  /** Ends what runs on its own. */
  close: () => Promise<void>;
}

/** @param data folder of the shop's data */
export function servicesOf(db: Db, data: string): Services {
  const anatomies = new Anatomies(db);
  const live = new Live();
  const shop = new ShopBook(db);
  const pool = new Pool();
  const photos = new Photos(db, join(data, 'photos'), (bytes) => pool.run('heic', { bytes }));
  const sessions = new Sessions(join(data, 'private', 'sessions.sqlite'));
  const jobs = new Jobs(db, anatomies, live);
  const backups = new Backups(db, data, shop);
  const counter = new Counter(db, jobs, shop, new Vault(join(data, 'private', 'unlock.key')));
  const cells = new CellLog(db, jobs);
  jobs.onEvents = (job, added) => {
    counter.follow(job, added);
    cells.follow(job, added);
  };
  let key: ShopKey | null = null;
  return {
    db,
    anatomies,
    drafts: new Drafts(db, live),
    plates: new Plates(db),
    jobs,
    live,
    photos,
    ruleSets: new RuleSets(db),
    stock: new Stock(db),
    shop,
    shopKey: () => (key ??= new ShopKey(join(data, 'private', 'shop-key.pem'))),
    technicians: new Technicians(db),
    sessions,
    backups,
    counter,
    cells,
    erasure: new Erasure(db, jobs, shop, data),
    register: simulatedRegister(),
    supplier: simulatedSupplier(),
    pool,
    streams: new Streams(),
    close: async () => {
      backups.stop();
      await pool.close();
      jobs.close();
      sessions.close();
    },
  };
}

/** What the shop calls itself, who works there, and what the one who asks may do. */
export function shopOf(services: Services, config: Config, who: Who): Shop {
  const shop = services.shop.get();
  const { technician, lead, session } = who;
  return {
    ...shop,
    technicians: services.technicians.active().map((t) => t.name),
    demo: config.demo,
    passcodeNeeded: config.passcode !== null,
    pinsNeeded: services.technicians.pinsNeeded,
    signedIn: technician && { id: technician.id, name: technician.name, role: technician.role },
    lead,
    session,
    exposed: isExposed(config),
    warnings: lead ? [...services.backups.warnings(), ...services.counter.warnings()] : [],
  };
}
