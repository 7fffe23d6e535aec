import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gunzipSync } from 'node:zlib';
import { describe, expect, it, vi } from 'vitest';
import Database from 'better-sqlite3';
import { readAs } from '../../core/format/index.ts';
import { DEFAULT_RULES, planFormat, type PlanOne } from '../../core/dive/index.ts';
import { moveAt } from '../../core/run/index.ts';
import { explain, tell, tellAll } from '../../words/index.ts';
import { servicesOf } from '../services.ts';
import { openDb } from './open.ts';
import { DataFault } from './fault.ts';
import { DATA_VERSION } from './upgrade.ts';

const fixture = (name: string) => fileURLToPath(new URL(`../testdata/${name}.sqlite.gz`, import.meta.url));

/** A shop as it was stored when a step was its place in the plan: ten jobs, one of them planned anew half way. */
const POSITIONS = fixture('shop-of-positions');
/** A shop as it was stored when plans said in sentences what they say in codes since: twelve jobs. */
const SENTENCES = fixture('shop-of-sentences');

function oldShop(of = POSITIONS): string {
  const folder = mkdtempSync(join(tmpdir(), 'nibrel-old-'));
  writeFileSync(join(folder, 'nibrel.sqlite'), gunzipSync(readFileSync(of)));
  return folder;
}

interface Kept {
  id: string;
  plan: string;
}

describe('C2 data of an older version', () => {
  it('goes on: jobs stand where they stood, and the one key carries a running job on to its end', async () => {
    const folder = oldShop();
    const { db, close } = openDb(join(folder, 'nibrel.sqlite'));
    const services = servicesOf(db, folder);
    // Lines that were never written are read by and by.
    const lines = await vi.waitFor(() => {
      const all = services.jobs.summaries();
      expect(all.some((j) => j.state === 'reading')).toBe(false);
      return all;
    }, 60_000);
    // As the older version listed them.
    expect(lines.map((j) => [j.replace.join(), j.state, j.step, j.steps])).toEqual([
      ['Port module', 'ready', 1, 40],
      ['Display module', 'ready', 1, 84],
      ['Thermal camera', 'ready', 1, 54],
      ['Fan', 'running', 19, 48],
      ['Display assembly', 'ready', 1, 92],
      ['', 'stopped', null, 0],
      ['Battery', 'ready', 1, 52],
      ['Display assembly', 'running', 13, 68],
      ['Main camera module', 'running', 13, 36],
      ['Battery', 'signed', null, 52],
    ]);
    expect(services.technicians.all().map((t) => [t.name, t.role])).toEqual([
      ['Ysolde Marrin', 'lead'],
      ['Tobin Hask', 'technician'],
    ]);
    const fan = lines.find((j) => j.replace[0] === 'Fan')!;
    expect(services.jobs.stateOf(fan.id).state).toMatchObject({
      version: 2,
      notes: [{ text: 'Sticky edge.' }],
      deviations: [{ kind: 'stripped' }],
    });
    let now = Date.now();
    for (let tries = 0; tries < 600; tries++) {
      const { state } = services.jobs.stateOf(fan.id);
      if (state.cursor === null) break;
      const step = state.context.steps.get(state.cursor)!;
      if (step.gate === 'G6') now += 3600_000;
      const move = moveAt(state.context, state, step, now);
      if (move.kind === 'wait') {
        now += move.seconds * 1000;
        continue;
      }
      if (move.kind === 'refused') throw new Error(`${step.id}: ${JSON.stringify(move.refusal.said)}`);
      for (const body of move.events) {
        const event = { id: randomUUID(), at: new Date(now).toISOString(), ...body };
        const seq = services.jobs.eventsOf(fan.id).length + 1;
        const { refused } = await services.jobs.append(fan.id, [{ ...event, seq }], 'Tobin Hask', {
          now,
          received: now,
        });
        expect(refused).toBeNull();
      }
    }
    expect(services.jobs.stateOf(fan.id).state.cursor).toBeNull();
    await services.close();
    close();
  });
  it.each([POSITIONS, SENTENCES])('plans that were kept in sentences are shown as they were (%#)', async (of) => {
    const folder = oldShop(of);
    const path = join(folder, 'nibrel.sqlite');
    const kept = new Map(
      (new Database(path).prepare('SELECT id, plan FROM jobs WHERE plan IS NOT NULL').all() as Kept[]).map((row) => [
        row.id,
        JSON.parse(row.plan) as PlanOne,
      ]),
    );
    const { db, close } = openDb(path);
    const services = servicesOf(db, folder);
    let hints = 0;
    for (const [id, old] of kept) {
      const { plan } = services.jobs.get(id);
      const { model } = services.jobs.stateOf(id).state.context;
      expect(readAs(planFormat, plan)).toMatchObject({ ok: true });
      for (const [i, step] of plan!.steps.entries()) {
        expect(tellAll(model, step.hint)).toBe(old.steps[i]!.hint);
        if (step.hint.length > 0) hints++;
        for (const [k, reason] of step.because.entries()) {
          const before = old.steps[i]!.because[k]!;
          // What was a rule, a relation or a plain reason is one again; only the words of an order are quoted.
          expect(reason.why === 'quoted', before).toBe(before.startsWith('order: '));
          if (reason.why === 'relation') expect(before).toContain(reason.item);
          if (reason.why === 'rule') expect(before).toBe(reason.rule);
          expect(explain(model, reason)).not.toBe('');
        }
      }
      expect(plan!.losses.map((l) => [tell(model, l.because), tell(model, l.remedy)])).toEqual(
        old.losses.map((l) => [l.because, l.remedy]),
      );
      expect(plan!.changes.map((change) => tell(model, change))).toEqual(old.changes);
    }
    expect(hints).toBeGreaterThan(100);
    await services.close();
    close();
  });
  it('is brought up once, and a version that is newer is left alone', () => {
    const folder = oldShop();
    const path = join(folder, 'nibrel.sqlite');
    openDb(path).close();
    const again = openDb(path);
    expect(again.db.$client.pragma('user_version', { simple: true })).toBe(DATA_VERSION);
    again.db.$client.pragma(`user_version = ${DATA_VERSION + 1}`);
    again.close();
    expect(() => openDb(path)).toThrow(/newer Nibrel/);
  });
  it('that is damaged, empty or no database is named in a sentence', () => {
    const folder = mkdtempSync(join(tmpdir(), 'nibrel-odd-'));
    const path = join(folder, 'nibrel.sqlite');
    const said = (bytes: Buffer) => {
      writeFileSync(path, bytes);
      try {
        openDb(path).close();
        return null;
      } catch (error) {
        expect(error).toBeInstanceOf(DataFault);
        return (error as Error).message;
      }
    };
    expect(said(Buffer.alloc(0))).toMatch(/empty file/);
    expect(said(Buffer.from('this is no database, it only lies where one should be '.repeat(40)))).toMatch(/damaged/);
    const torn = gunzipSync(readFileSync(POSITIONS));
    torn.fill(0xa5, 4096, 4096 * 40);
    expect(said(torn)).toMatch(/damaged/);
  });
  it('an unknown house rule turns no other into a default', () => {
    const folder = oldShop();
    const { db, close } = openDb(join(folder, 'nibrel.sqlite'));
    const services = servicesOf(db, folder);
    const [set] = services.ruleSets.all();
    const rules = { ...set!.rules, heat: 'gun', weather: 'rainy', pickMarks: 'many' };
    db.$client.prepare('UPDATE rule_sets SET rules = ? WHERE id = ?').run(JSON.stringify(rules), set!.id);
    expect(services.ruleSets.get(set!.id).rules).toMatchObject({ heat: 'gun', pickMarks: DEFAULT_RULES.pickMarks });
    expect(services.ruleSets.get(set!.id).rules).not.toHaveProperty('weather');
    close();
  });
});
