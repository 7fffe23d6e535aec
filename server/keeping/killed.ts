import { randomUUID } from 'node:crypto';
import { appendFileSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { openDb } from '../db/open.ts';
import { servicesOf, type Services } from '../services.ts';
import { Journal, type Moment } from './journal.ts';
import { JOURNAL, restoreBackup } from './restore.ts';

/** What a process does that is killed at one moment of it, beside a bench that writes. */
export interface Killing {
  data: string;
  kind: string;
  step: string;
  at: Moment['at'];
  /** What the procedure is begun with. */
  customer: string;
  job: string;
  /** The job of the bench, and where its acknowledged events are noted. */
  bench: string;
  acknowledged: string;
  backup: string;
}

/** Events of the bench before the procedure begins, and how often it writes on. */
const BEFORE = 3;
const EVERY_MS = 2;

export async function beginning(services: Services, { kind, customer, job }: Killing): Promise<void> {
  if (kind === 'erasure') await services.erasure.erase(customer, 'asked', 'Tobin Hask');
  else if (kind === 'deletion') await services.deletion.remove(job, 'taken in twice', 'Tobin Hask');
  else if (kind === 'backup') await services.backups.daily();
  else if (kind === 'photographs') await services.deletion.unnamed(Date.now() + 40 * 86_400_000);
  else if (kind === 'following') {
    const seqs = services.jobs.eventsOf(job).map((e) => e.seq);
    await services.journal.begin('following', 'following', { job, seqs });
  } else throw new Error(`nobody begins ${kind}`);
}

function killAt(journal: Journal, { kind, step, at }: Killing): void {
  journal.onMoment = (moment) => {
    if (moment.kind === kind && moment.step === step && moment.at === at) process.kill(process.pid, 'SIGKILL');
  };
}

async function killed(killing: Killing): Promise<void> {
  const { data, kind, bench, acknowledged } = killing;
  if (kind === 'restore') {
    await restoreBackup(killing.backup, data, (journal) => killAt(journal, killing));
    return;
  }
  const journal = new Journal(join(data, JOURNAL));
  const { db } = openDb(join(data, 'nibrel.sqlite'));
  const services = servicesOf(db, data, { journal });
  const write = async () => {
    const event = {
      id: randomUUID(),
      seq: services.jobs.eventsOf(bench).length + 1,
      at: new Date().toISOString(),
      type: 'note' as const,
      step: null,
      text: 'on the bench',
    };
    await services.jobs.append(bench, [event], 'Tobin Hask', { now: null, received: Date.now() });
    appendFileSync(acknowledged, `${event.id}\n`);
  };
  for (let i = 0; i < BEFORE; i++) await write();
  const on = async () => {
    for (;;) {
      await write();
      await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
    }
  };
  void on();
  killAt(journal, killing);
  await beginning(services, killing);
}

if (process.argv[2]) {
  await killed(JSON.parse(readFileSync(process.argv[2], 'utf8')) as Killing);
  process.exit(3);
}
