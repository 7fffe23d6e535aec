import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import sharp from 'sharp';
import { faultsOf, modelOf, readAnatomy, readAnatomyText } from '../core/anatomy/index.ts';
import { NoDive, readOldRules, readRules } from '../core/dive/index.ts';
import { actsOfPlan, isOpened, openDevice, readActs, type ActFile } from '../core/explore/index.ts';
import { learn, wayBackOf } from '../core/learn/index.ts';
import { foldRun, readEvent, runContext, type RunEvent } from '../core/run/index.ts';
import { readFasteners, readPieces } from '../core/screws/index.ts';
import { fieldTrial, planOf, QUICK } from '../demo/fieldTrial.ts';
import { seededDraw, syntheticAnatomy } from '../demo/synthetic.ts';
import { tinyDevice } from '../demo/tiny.ts';
import { Rehearsal } from '../demo/rehearsal.ts';
import { Problem } from '../server/problem.ts';
import { trialServer } from '../server/trial.ts';
import { seedAnatomies } from '../server/seed.ts';

/** Runs so many cases; throws with the smallest that breaks something. */
export type Fuzzer = (cases: number) => Promise<void>;

const text = fc.oneof(
  fc.string(),
  fc.constantFrom('', '__proto__', 'constructor', 'toString', '\u0000', '😀', 'a'.repeat(5000)),
);
const number = fc.oneof(
  fc.double(),
  fc.integer(),
  fc.constantFrom(Number.NaN, Number.POSITIVE_INFINITY, -0, 1e308, 1e-12),
);
const anything = fc.oneof(
  text,
  number,
  fc.boolean(),
  fc.constant(null),
  fc.array(fc.anything({ maxDepth: 2 }), { maxLength: 4 }),
  fc.object({ maxDepth: 2 }),
);

/** A document with one to three of its values, wherever they stand, replaced by something else. */
export function bent<T extends object>(document: T): fc.Arbitrary<unknown> {
  const paths: (string | number)[][] = [];
  const walk = (value: unknown, path: (string | number)[]) => {
    if (path.length > 0) paths.push(path);
    if (Array.isArray(value)) value.forEach((v, i) => walk(v, [...path, i]));
    else if (value && typeof value === 'object') for (const [k, v] of Object.entries(value)) walk(v, [...path, k]);
  };
  walk(document, []);
  const change = fc.record({ path: fc.constantFrom(...paths), to: anything, drop: fc.boolean() });
  return fc.array(change, { minLength: 1, maxLength: 3 }).map((changes) => {
    const copy = structuredClone(document) as Record<string | number, unknown>;
    for (const { path, to, drop } of changes) {
      let at: unknown = copy;
      for (const step of path.slice(0, -1)) at = (at as Record<string | number, unknown> | undefined)?.[step];
      if (at === null || typeof at !== 'object') continue;
      const last = path.at(-1)!;
      // An earlier change put a list here; the length of a list is no field of a document.
      if (Array.isArray(at) && typeof last === 'string') continue;
      if (drop) delete (at as Record<string | number, unknown>)[last];
      else (at as Record<string | number, unknown>)[last] = to;
    }
    return copy;
  });
}

const check = (cases: number, property: fc.IPropertyWithHooks<unknown[]> | fc.IAsyncPropertyWithHooks<unknown[]>) =>
  Promise.resolve(
    fc.assert(property as fc.IPropertyWithHooks<unknown[]>, { numRuns: cases, endOnFailure: cases > 5000 }),
  );

const anatomies: Fuzzer = (cases) =>
  check(
    cases,
    fc.property(fc.oneof(bent(tinyDevice()), anything, text), (document) => {
      const reading = typeof document === 'string' ? readAnatomyText(document) : readAnatomy(document);
      if (reading.ok) modelOf(reading.value);
      else if (reading.faults.some((f) => f.path === '' || f.message === '')) throw new Error('a fault without words');
    }) as never,
  );

const rehearsed = new Rehearsal('camera').until(8).events;

/** A field dive with some of its acts left out, told twice, told at another time, or of another thing. */
export function muddled(file: ActFile): fc.Arbitrary<ActFile> {
  const at = fc.nat(file.acts.length - 1);
  const change = fc.record({ how: fc.constantFrom('drop', 'again', 'later', 'other', 'face'), a: at, b: at });
  return fc.array(change, { minLength: 1, maxLength: 8 }).map((changes) => {
    const acts = file.acts.map((a) => ({ ...a }));
    for (const [n, { how, a: from, b: to }] of changes.entries()) {
      const [a, b] = [from % acts.length, to % acts.length];
      const act = acts[a]!;
      if (how === 'drop' && acts.length > 1) acts.splice(a, 1);
      else if (how === 'again') acts.splice(b, 0, { ...act, id: `${act.id}-${n}` });
      else if (how === 'later') acts.splice(b, 0, ...acts.splice(a, 1));
      else if (how === 'other') acts[a] = { ...act, item: acts[b]!.item };
      else if (how === 'face') acts[a] = { ...act, seen: { ...act.seen, face: 'back', on: acts[b]!.item } };
    }
    return { ...file, acts };
  });
}

/** Acts of a field dive that nobody has seen like that; what is read of them is learnt from, and closed again. */
const acts: Fuzzer = (cases) => {
  const model = modelOf(tinyDevice());
  const file = actsOfPlan(model, planOf(model, 'camera')!, { seed: 1 });
  return check(
    cases,
    fc.property(fc.oneof(bent(file), muddled(file), anything), (document) => {
      const reading = readActs(document);
      if (!reading.ok) return;
      const learnt = learn([reading.value]);
      const faults = faultsOf(learnt.anatomy);
      if (faults.length > 0) throw new Error(`learnt with faults: ${faults[0]!.path} ${faults[0]!.message}`);
      if (!isOpened(openDevice(reading.value.acts))) return;
      try {
        wayBackOf(learnt, {}, QUICK);
      } catch (error) {
        if (!(error instanceof NoDive)) throw error;
      }
    }) as never,
  );
};

/** Field dives into random devices: the way back keeps every law on the true one. */
const dives: Fuzzer = async (cases) => {
  const draw = seededDraw(1789);
  for (let done = 0, k = 0; done < cases; k++) {
    const model = modelOf(syntheticAnatomy(draw, 1 + (k % 8)));
    const parts = model.anatomy.parts.filter((p) => !p.fixed);
    const { id } = parts[draw(parts.length)]!;
    const trial = fieldTrial(model, id, { ...(k % 2 ? { shuffle: k } : {}), seed: k });
    if (!trial) continue;
    done++;
    if (trial.broken.length > 0) throw new Error(`device ${k}, ${id}: ${trial.broken[0]}`);
  }
};

const events: Fuzzer = (cases) => {
  const context = new Rehearsal('camera').context;
  return check(
    cases,
    fc.property(fc.oneof(...rehearsed.slice(0, 12).map((e) => bent(e)), anything), (document) => {
      const reading = readEvent(document);
      if (!reading.ok) {
        if (reading.message === '') throw new Error('refused without words');
        return;
      }
      // Whatever is read can be folded, admitted or not.
      const event = { ...reading.value, job: 'j', by: 'x', version: 1, seq: 1 } as RunEvent;
      foldRun(context, [event]);
      foldRun(runContext(context.model, null), [event]);
    }) as never,
  );
};

const rules: Fuzzer = (cases) => {
  const house = readRules({});
  if (!house.ok) throw new Error('the default rules do not read');
  return check(
    cases,
    fc.property(fc.oneof(bent(house.value), anything), (document) => {
      const reading = readRules(document);
      if (!reading.ok && reading.faults.length === 0) throw new Error('refused without a fault');
      const old = readRules(readOldRules(document));
      if (!old.ok) throw new Error('old rules do not come out whole');
    }) as never,
  );
};

const csv: Fuzzer = (cases) => {
  const header = fc.constantFrom(
    'id,length,thread,head,drive',
    'id;length;thread',
    'length',
    '"id',
    'id,drive,length,thread,head,holds,into,x,y,holeDepth',
  );
  const cell = fc.oneof(text, number.map(String), fc.constantFrom('1,2', '"', '""', 'PH000', '1.4', '\r'));
  const table = fc
    .tuple(header, fc.array(fc.array(cell, { maxLength: 10 }), { maxLength: 6 }), fc.constantFrom(',', ';', '\t'))
    .map(([head, rows, by]) => [head, ...rows.map((r) => r.join(by))].join('\n'));
  return check(
    cases,
    fc.property(fc.oneof(table, text), (sheet) => {
      readPieces(sheet);
      readFasteners(sheet);
    }) as never,
  );
};

const stampOf = () => ({ id: randomUUID(), seq: 1, at: '2026-01-05T09:00:00Z' });

const requests: Fuzzer = async (cases) => {
  const trial = trialServer('fuzz');
  seedAnatomies(trial.services);
  const ask = (path: string, method: string, body: string | undefined) =>
    trial.app.request(path, {
      method,
      ...(method === 'GET' || body === undefined ? {} : { body }),
      headers: { host: '127.0.0.1', 'Content-Type': 'application/json', 'If-Match': '"1"' },
    });
  const intake = { anatomy: 'tannbrook-field-3', customer: 'X', complaint: '', triage: ['swollen'], replace: [] };
  const made = (await (await ask('/api/jobs', 'POST', JSON.stringify(intake))).json()) as { job: { id: string } };
  const { id } = made.job;
  const unknown = { ...intake, anatomy: null, triage: [], device: 'Something' };
  const taken = (await (await ask('/api/jobs', 'POST', JSON.stringify(unknown))).json()) as { job: { id: string } };
  const field = taken.job.id;
  const begun = await ask('/api/workshop/drafts', 'POST', JSON.stringify({ revise: 'tannbrook-field-3' }));
  const drawn = (await begun.json()) as { id: string; document: { name: string } };
  const act = { ...stampOf(), type: 'act', act: 'screw-out', item: 's-1', note: '', seen: { at: [4, 5] } };
  const note = { ...stampOf(), type: 'note', step: null, text: 'x' };
  const paths = [
    '/api/jobs',
    `/api/jobs/${id}`,
    `/api/jobs/${id}/events`,
    `/api/jobs/${id}/plan-on`,
    '/api/jobs/none/events',
    '/api/rules',
    '/api/rules/none',
    '/api/shop',
    '/api/shop/technicians',
    '/api/shop/set-up',
    '/api/sign-in',
    '/api/screws/stock',
    '/api/screws/map/x.pdf',
    '/api/photos/none',
    '/api/nothing',
    `/api/field/${id}/learnt`,
    `/api/field/${id}/turn`,
    `/api/field/${field}/learnt`,
    `/api/field/${field}/turn`,
    `/api/field/${field}/plates`,
    `/api/field/${field}/keep`,
    `/api/jobs/${field}/events`,
    '/api/field/photographs',
    `/api/jobs/${id}/quote`,
    `/api/jobs/${id}/quote-for`,
    `/api/jobs/${id}/agreement`,
    `/api/jobs/${id}/collect`,
    `/api/jobs/${id}/unlock`,
    '/api/shop/clock',
    '/api/counter/drafts/none',
    '/api/counter/identity',
    '/api/counter/scan',
    '/api/counter/donors',
    '/api/counter/shelf',
    '/api/closing/old-part',
    '/api/closing/cells',
    `/api/closing/strips/${id}/template.pdf`,
    '/api/live/none',
    '/api/workshop/drafts',
    `/api/workshop/drafts/${drawn.id}/edits`,
    `/api/workshop/drafts/${drawn.id}/outlook`,
    '/api/workshop/plates',
    '/api/workshop/bundles?older=1',
    '/api/workshop/trusted',
  ];
  const edit = {
    id: randomUUID(),
    label: 'renamed',
    changes: [
      { do: 'device', field: 'name', from: drawn.document.name, to: 'Other' },
      { do: 'set', group: 'parts', id: 'frame', field: 'layer', from: 0, to: 1 },
    ],
  };
  const agreement = { by: 'Ida Moor', how: 'spoken', heardBy: 'Tobin Hask', at: stampOf().at, strokes: [[[0, 0, 1]]] };
  const spare = { anatomy: 'tannbrook-field-3', spare: 'battery', count: 1, cents: 1200, whole: true };
  const body = fc.oneof(
    bent({ events: [note], now: 1, session: null }).map((v) => JSON.stringify(v)),
    bent({ events: [act] }).map((v) => JSON.stringify(v)),
    bent({ renew: true, because: '' }).map((v) => JSON.stringify(v)),
    bent({ edits: [edit], proofs: { [edit.id]: 'ab'.repeat(32) }, session: 's' }).map((v) => JSON.stringify(v)),
    bent(agreement).map((v) => JSON.stringify(v)),
    bent(spare).map((v) => JSON.stringify(v)),
    bent({ jobs: { [id]: 1 } }).map((v) => JSON.stringify(v)),
    bent(intake).map((v) => JSON.stringify(v)),
    anything.map((v) => JSON.stringify(v) ?? 'undefined'),
    text,
  );
  try {
    await check(
      cases,
      fc.asyncProperty(
        fc.constantFrom(...paths),
        fc.constantFrom('GET', 'POST', 'PUT', 'DELETE'),
        body,
        async (path, method, sent) => {
          // The jobs themselves are kept for the next case.
          if (method === 'DELETE' && [id, field].some((job) => path === `/api/jobs/${job}`)) return;
          const { status } = await ask(path, method, sent);
          if (status >= 500) throw new Error(`${method} ${path} answered ${status}`);
        },
      ) as never,
    );
  } finally {
    await trial.close();
  }
};

/** Pictures that are damaged somewhere, or none: each is stored, or refused in words, and the next one is read. */
const pictures: Fuzzer = async (cases) => {
  const trial = trialServer('fuzz-pictures');
  const { photos } = trial.services;
  const drawn = sharp({ create: { width: 97, height: 61, channels: 3, background: '#846' } });
  const files = await Promise.all([drawn.jpeg(), drawn.png(), drawn.webp(), drawn.gif()].map((p) => p.toBuffer()));
  const heic = Buffer.concat([
    Buffer.from([0, 0, 0, 24]),
    Buffer.from('ftypheic\0\0\0\0mif1heic'),
    Buffer.alloc(300, 7),
  ]);
  const flips = fc.array(fc.tuple(fc.nat(), fc.nat(255)), { maxLength: 12 });
  try {
    await check(
      cases,
      fc.asyncProperty(fc.constantFrom(...files, heic), flips, fc.nat(), async (file, changes, end) => {
        const bytes = new Uint8Array(file);
        for (const [at, to] of changes) bytes[at % bytes.length] = to;
        const sent = end % 3 === 0 ? bytes.slice(0, end % bytes.length) : bytes;
        try {
          await photos.add(sent);
        } catch (error) {
          if (!(error instanceof Problem) || error.status !== 415 || error.message === '') throw error;
        }
      }) as never,
    );
    await photos.add(new Uint8Array(files[0]!));
  } finally {
    await trial.close();
  }
};

export const FUZZERS: Record<string, { run: Fuzzer; share: number }> = {
  anatomies: { run: anatomies, share: 0.3 },
  events: { run: events, share: 0.3 },
  rules: { run: rules, share: 0.15 },
  csv: { run: csv, share: 0.13 },
  requests: { run: requests, share: 0.08 },
  pictures: { run: pictures, share: 0.02 },
  acts: { run: acts, share: 0.01 },
  dives: { run: dives, share: 0.01 },
};
