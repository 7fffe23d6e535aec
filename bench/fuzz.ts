import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { readAnatomy, readAnatomyText } from '../core/anatomy/index.ts';
import { readOldRules, readRules } from '../core/dive/index.ts';
import { foldRun, readEvent, runContext, type RunEvent } from '../core/run/index.ts';
import { readFasteners, readPieces } from '../core/screws/index.ts';
import { modelOf } from '../core/anatomy/index.ts';
import { tinyDevice } from '../demo/tiny.ts';
import { Rehearsal } from '../demo/rehearsal.ts';
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
function bent<T extends object>(document: T): fc.Arbitrary<unknown> {
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
  const note = { id: randomUUID(), seq: 1, at: '2026-01-05T09:00:00Z', type: 'note', step: null, text: 'x' };
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
  ];
  const body = fc.oneof(
    bent({ events: [note], now: 1, session: null }).map((v) => JSON.stringify(v)),
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
          // The job itself is kept for the next case.
          if (method === 'DELETE' && path === `/api/jobs/${id}`) return;
          const { status } = await ask(path, method, sent);
          if (status >= 500) throw new Error(`${method} ${path} answered ${status}`);
        },
      ) as never,
    );
  } finally {
    await trial.close();
  }
};

export const FUZZERS: Record<string, { run: Fuzzer; share: number }> = {
  anatomies: { run: anatomies, share: 0.3 },
  events: { run: events, share: 0.3 },
  rules: { run: rules, share: 0.15 },
  csv: { run: csv, share: 0.15 },
  requests: { run: requests, share: 0.1 },
};
