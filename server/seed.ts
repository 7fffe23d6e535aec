import { randomUUID } from 'node:crypto';
import { DEFAULT_SHOP } from '../core/jobs/index.ts';
import { readAnatomyText } from '../core/anatomy/index.ts';
import { planDive } from '../core/dive/index.ts';
import { foldRun, moveAt, runContext, type EventBody, type RunEvent, type RunState } from '../core/run/index.ts';
import { actsOfPlan } from '../core/explore/index.ts';
import { ANATOMIES, DONORS, FIELD_JOB, JOBS, SHELF, SHOP, type DemoJob } from '../demo/shop.ts';
import type { Services } from './services.ts';
import { EventRows } from './db/events.ts';
import { jobs } from './db/schema.ts';
import { eq } from 'drizzle-orm';

/** The two anatomies that every shop starts with. */
export function seedAnatomies({ anatomies }: Services): void {
  for (const [name, text] of Object.entries(ANATOMIES)) {
    const reading = readAnatomyText(text);
    if (!reading.ok) throw new Error(`${name}: ${reading.faults[0]!.path}: ${reading.faults[0]!.message}`);
    anatomies.add(reading.value);
  }
}

/** Fills an empty database with the made-up shop, its devices and its jobs. */
export function seedDemo(services: Services, now = Date.now()): void {
  services.shop.save({ ...DEFAULT_SHOP, name: SHOP.name, address: SHOP.address });
  SHOP.technicians.forEach((name, i) => services.technicians.add(name, i === 0 ? 'lead' : 'technician'));
  seedAnatomies(services);
  services.stock.addKit(services.anatomies.modelOf('velmora-quill-5', 1));
  seedCounter(services, now);
  for (const [i, job] of JOBS.entries())
    seedJob(services, job, SHOP.technicians[(i + 1) % SHOP.technicians.length]!, now);
  seedFieldJob(services, SHOP.technicians[1]!, now);
}

/** What the counter has before any job: spares and donor parts. */
function seedCounter({ counter }: Services, now: number): void {
  for (const spare of SHELF) counter.keepSpare(spare);
  for (const { daysAgo, ...donor } of DONORS) {
    const boughtOn = new Date(now - daysAgo * 86_400_000).toISOString().slice(0, 10);
    counter.keepDonor({ ...donor, boughtOn, id: randomUUID(), register: null, job: null, revision: 0 });
  }
}

/** How a job came in, as the counter wrote it down. */
function intakeOf(services: Services, { counter, anatomy }: DemoJob): EventBody[] {
  if (!counter) return [];
  const { functions } = services.anatomies.get(anatomy).anatomy;
  return [
    { type: 'identified', imei: [counter.imei], serial: null, how: 'scanned' },
    { type: 'complained', symptoms: counter.symptoms },
    ...functions.map(({ id }): EventBody => {
      const fails = counter.fails.includes(id);
      const reason = fails ? 'failed at the counter' : '';
      return { type: 'test', function: id, outcome: fails ? 'fail' : 'pass', reason, circumstance: 'intake' };
    }),
  ];
}

/** What worked at the counter. */
function workedOf(services: Services, demo: DemoJob): { worked?: string[] } {
  const worked = intakeOf(services, demo).flatMap((e) =>
    e.type === 'test' && e.outcome === 'pass' ? [e.function] : [],
  );
  return worked.length > 0 ? { worked } : {};
}

/** A field dive that somebody left half-way. */
function seedFieldJob(services: Services, by: string, now: number): void {
  const { device: named, built, replace, customer, complaint, outside, progress, hoursAgo } = FIELD_JOB;
  const model = services.anatomies.modelOf(built, 1);
  const { width, height, thickness } = model.anatomy.body;
  const { kind } = model.anatomy;
  const device = { ...named, kind, width, height, thickness, like: built };
  const known = { customer, complaint, outside, crackedGlass: false, triage: [] };
  const job = services.jobs.create({ ...known, anatomy: null, revision: null, device, plan: null }, { by, bodies: [] });
  const began = now - hoursAgo * 3600_000;
  services.db
    .update(jobs)
    .set({ createdAt: new Date(began).toISOString() })
    .where(eq(jobs.id, job.id))
    .run();
  const { acts } = actsOfPlan(model, planDive(model, { replace: [replace] }), { seed: 4 });
  const rows = new EventRows(services.db.$client);
  services.db.transaction(() => {
    acts.slice(0, Math.floor(acts.length * progress)).forEach(({ act, item, note, seen }, i) => {
      const at = new Date(began + 300_000 + i * 25_000).toISOString();
      const stamp = { id: randomUUID(), job: job.id, seq: i + 1, at, by, version: 0 };
      rows.insert({ ...stamp, type: 'act', act, item, note, seen });
    });
  });
}

function seedJob(services: Services, demo: DemoJob, by: string, now: number): void {
  const { anatomy, revision } = services.anatomies.get(demo.anatomy);
  const plan =
    demo.triage.length > 0
      ? null
      : planDive(services.anatomies.modelOf(anatomy.id, revision), {
          replace: demo.replace,
          spares: demo.spares,
          condition: { crackedGlass: demo.crackedGlass, charge: demo.charge, ...workedOf(services, demo) },
        });
  const { customer, complaint, outside, crackedGlass, triage } = demo;
  const job = services.jobs.create(
    { anatomy: anatomy.id, revision, device: null, customer, complaint, outside, crackedGlass, triage, plan },
    { by, bodies: [] },
  );
  services.db
    .update(jobs)
    .set({ createdAt: new Date(now - demo.hoursAgo * 3600_000).toISOString() })
    .where(eq(jobs.id, job.id))
    .run();
  const bodies = intakeOf(services, demo);
  if (!plan || (demo.progress === 0 && bodies.length === 0)) return;

  const context = runContext(services.anatomies.modelOf(anatomy.id, revision), plan);
  const log: RunEvent[] = [];
  let state: RunState | null = null;
  let at = now - demo.hoursAgo * 3600_000 + 600_000;
  const add = (body: EventBody) =>
    log.push({
      id: randomUUID(),
      job: job.id,
      seq: log.length + 1,
      at: new Date(at).toISOString(),
      by,
      version: 1,
      ...body,
    });
  const rows = new EventRows(services.db.$client);
  const keep = () => {
    services.db.transaction(() => {
      for (const event of log) rows.insert(event);
    });
    services.counter.follow(job.id, log);
    services.cells.follow(job.id, log);
  };
  for (const body of bodies) add(body);
  if (plan.losses.length > 0 && demo.progress > 0)
    add({
      type: 'losses-agreed',
      losses: plan.losses.map((l) => l.function),
      word: demo.customer,
      said: new Date(at).toISOString(),
    });
  for (const step of plan.steps.slice(0, Math.floor(plan.steps.length * demo.progress))) {
    at += step.seconds * 1000;
    // The one key, pressed until the step is done.
    for (;;) {
      state = foldRun(context, log, state);
      if (state.done.has(step.id)) break;
      const failing = step.do === 'test' ? demo.failsNow?.filter((id) => step.items.includes(id)) : undefined;
      if (failing && failing.length > 0) {
        for (const id of step.items) {
          const fails = failing.includes(id);
          const outcome = fails ? 'fail' : 'pass';
          add({ type: 'test', function: id, outcome, reason: fails ? 'dark' : '', circumstance: 'open' });
        }
        at += 1000;
        keep();
        return;
      }
      const move = moveAt(context, state, step, at, true);
      if (move.kind === 'refused') throw new Error(`demo job, step ${step.n}: ${JSON.stringify(move.refusal.said)}`);
      if (move.kind === 'wait') at += move.seconds * 1000 + 500;
      else for (const body of move.events) add(body);
    }
    if (step.do === 'press' || step.do === 'cure') at += step.waits * 1000;
  }
  for (const body of demo.care ?? []) add(body);
  if (demo.progress === 1) add({ type: 'signed-off', name: by });
  keep();
}
