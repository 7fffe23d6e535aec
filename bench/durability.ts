import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { planDive } from '../core/dive/index.ts';
import { servicesOf } from '../server/services.ts';
import { openDb } from '../server/db/open.ts';
import { seedAnatomies } from '../server/seed.ts';
import type { Table } from './report.ts';

const EVENTS = 400;

/** Events made durable one by one through the whole append path, beside the same rows on the bare driver with the same pragmas. */
export function durabilityBench(): Table {
  const folder = mkdtempSync(join(tmpdir(), 'nibrel-bench-'));
  const { db, close } = openDb(join(folder, 'nibrel.sqlite'));
  try {
    const services = servicesOf(db, join(folder, 'photos'));
    seedAnatomies(services);
    const { anatomy, revision } = services.anatomies.get('velmora-quill-5');
    const plan = planDive(services.anatomies.modelOf(anatomy.id, revision), { replace: ['battery'] });
    const job = services.jobs.create(
      {
        anatomy: anatomy.id,
        revision,
        customer: 'Bench',
        complaint: '',
        outside: '',
        crackedGlass: false,
        triage: [],
        plan,
      },
      { by: 'Bench', bodies: [] },
    );
    const event = (seq: number) => ({
      id: randomUUID(),
      seq,
      at: new Date().toISOString(),
      by: 'Bench',
      type: 'reading' as const,
      sensor: 'bench',
      value: 20 + seq / 10,
      unit: '°C',
    });

    let from = performance.now();
    for (let seq = 1; seq <= EVENTS; seq++) services.jobs.append(job.id, [event(seq)]);
    const ours = EVENTS / ((performance.now() - from) / 1000);

    const bare = new Database(join(folder, 'bare.sqlite'));
    for (const pragma of ['journal_mode = WAL', 'synchronous = FULL', 'foreign_keys = ON']) bare.pragma(pragma);
    bare.exec(
      'create table events (job text not null, seq integer not null, id text not null unique, at text not null, by text not null, type text not null, body text not null, primary key (job, seq))',
    );
    const insert = bare.prepare('insert into events values (?, ?, ?, ?, ?, ?, ?)');
    from = performance.now();
    for (let seq = 1; seq <= EVENTS; seq++) {
      const { id, at, by, type, ...body } = event(seq);
      insert.run(job.id, seq, id, at, by, type, JSON.stringify(body));
    }
    const driver = EVENTS / ((performance.now() - from) / 1000);
    bare.close();
    return {
      title: 'Durable events',
      note: `${EVENTS} events, each committed by itself with synchronous=FULL; checked, admitted and folded on our side, bare inserts on the other.`,
      columns: ['path', 'events per second', 'share of the bare driver'],
      rows: [
        ['append of the server', ours.toFixed(0), (ours / driver).toFixed(2)],
        ['bare better-sqlite3', driver.toFixed(0), '1.00'],
      ],
    };
  } finally {
    close();
    rmSync(folder, { recursive: true, force: true });
  }
}
