import { join } from 'node:path';
import type { Shop } from '../core/jobs/index.ts';
import { Anatomies } from './anatomies.ts';
import { Backups } from './keeping/backups.ts';
import { Deletion } from './keeping/deletion.ts';
import { Journal, type Procedure } from './keeping/journal.ts';
import { JOURNAL } from './keeping/restore.ts';
import { scrubbedLate, scrubberByMarks } from './keeping/scrub.ts';
import { clockWarnings, waitingOf } from './keeping/standing.ts';
import { machineReadings, SteadyClock, type Readings, type Sighting } from './clock.ts';
import { photosNamedIn } from './db/events.ts';
import { keyFile } from './keyFile.ts';
import { publishing } from './publish.ts';
import { CellLog } from './cells.ts';
import { Counter, Vault } from './counter.ts';
import { Erasure } from './keeping/erasure.ts';
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
import { Pictures } from './pictures/pictures.ts';
import { Plates } from './plates.ts';
import { Pool } from './pool.ts';
import { keepRecipes } from './recipes.ts';
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
  /** Whatever reads pixels that somebody sent. */
  pictures: Pictures;
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
  deletion: Deletion;
  /** What was begun and goes on at the next start. */
  journal: Journal;
  clock: SteadyClock;
  /** Whom the counter asks; stand-ins say that they are. */
  register: DeviceRegister;
  supplier: PartsSupplier;
  pool: Pool;
  streams: Streams;
  /** Ends what runs on its own. */
  close: () => Promise<void>;
}

/**
 * @param data folder of the shop's data
 * @param journal of that folder; left out, it is opened here
 */
export function servicesOf(
  db: Db,
  data: string,
  { journal = new Journal(join(data, JOURNAL)), readings = machineReadings() } = {},
): Services {
  const clock = clockOf(db, journal, readings);
  const anatomies = new Anatomies(db);
  const live = new Live();
  const shop = new ShopBook(db);
  keepRecipes(data);
  const pool = new Pool(data);
  const pictures = new Pictures();
  const photos = new Photos(db, join(data, 'photos'), pictures, () => clock.now());
  const sessions = new Sessions(join(data, 'private', 'sessions.sqlite'));
  const jobs = new Jobs(db, anatomies, live, () => clock.now());
  const counter = new Counter(db, jobs, shop, new Vault(join(data, 'private', 'unlock.key')), clock);
  const cells = new CellLog(db, jobs);
  jobs.onEvents = (job, added) => {
    counter.follow(job, added);
    cells.follow(job, added);
  };
  journal.add(following(jobs));
  journal.add(publishing({ anatomies, jobs }));
  jobs.onOwed = (job, seqs) =>
    void journal
      .begin('following', `following ${job} ${seqs[0]}`, { job, seqs })
      .catch(told('what follows from events'));
  const lateKey = keyFile(join(data, 'private', 'late.key'));
  jobs.lateFor = (customer) => {
    const scrub = scrubberByMarks(lateKey(), new Set(journal.marksOf(customer, clock.now())));
    return (event) => scrubbedLate(event, scrub);
  };
  const erasure = new Erasure(db, jobs, photos, shop, data, journal, clock, lateKey);
  const deletion = new Deletion(jobs, photos, journal);
  jobs.onLate = (_, added) => {
    const shown = added.flatMap((event) => photosNamedIn(JSON.stringify(event)));
    if (shown.length > 0) void deletion.late(shown).catch(told('photographs that came late'));
  };
  const backups = new Backups(db, data, shop, journal, clock, () => erasure.noteBeside());
  // What cannot be noted now, as on a full disk, is noted later; it stops nothing.
  const sight = () => {
    try {
      journal.remember('clock', clock.sighting());
    } catch (error) {
      told('the clock was not noted')(error as Error);
    }
  };
  const sighted = setInterval(sight, SIGHTING_MS);
  sighted.unref();
  sight();
  let key: ShopKey | null = null;
  return {
    db,
    anatomies,
    drafts: new Drafts(db, live),
    plates: new Plates(db),
    jobs,
    live,
    photos,
    pictures,
    ruleSets: new RuleSets(db),
    stock: new Stock(db),
    shop,
    shopKey: () => (key ??= new ShopKey(join(data, 'private', 'shop-key.pem'))),
    technicians: new Technicians(db),
    sessions,
    backups,
    counter,
    cells,
    erasure,
    deletion,
    journal,
    clock,
    register: simulatedRegister(),
    supplier: simulatedSupplier(),
    pool,
    streams: new Streams(),
    close: async () => {
      clearInterval(sighted);
      backups.stop();
      pictures.close();
      await pool.close();
      jobs.close();
      live.close();
      sessions.close();
      sight();
      await journal.close();
    },
  };
}

/** How often it is noted what the clock says, ms. Origin: own choice. */
const SIGHTING_MS = 60_000;

const told = (what: string) => (error: Error) => console.error(`${what}: ${error.message}`);

/** The clock goes on from what was seen of it last, and never lies behind what was recorded. */
function clockOf(db: Db, journal: Journal, readings: Readings): SteadyClock {
  const seen = journal.recall<Sighting>('clock');
  const newest = seen ? null : (db.$client.prepare('SELECT max(at) FROM events').pluck().get() as string | null);
  const open = db.$client
    .prepare("SELECT 1 FROM jobs WHERE json_extract(summary, '$.state') = 'running' LIMIT 1")
    .get();
  return new SteadyClock(readings, seen, newest === null ? null : Date.parse(newest), open !== undefined);
}

/** What follows from events in other tables and could not be stored with them. */
function following(jobs: Jobs): Procedure<{ job: string; seqs: number[] }> {
  return {
    kind: 'following',
    steps: [
      {
        name: 'tables',
        run: ({ job, seqs }) => {
          if (jobs.has(job)) jobs.followAgain(job, seqs);
        },
      },
    ],
    left: () => null,
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
    author: technician && session ? services.sessions.authorKey(session) : null,
    exposed: isExposed(config),
    warnings: lead
      ? [
          ...clockWarnings(services.clock),
          ...waitingOf(services.journal),
          ...services.backups.warnings(),
          ...services.counter.warnings(),
        ]
      : [],
  };
}
