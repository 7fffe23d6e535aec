import { beforeAll, describe, expect, test } from 'vitest';
import { modelOf, type Model } from '../anatomy/index.ts';
import { accessOf, planDive, type Access, type Plan } from '../dive/index.ts';
import { chanceOf } from '../explore/index.ts';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { handledBy, minutesToFind, shopDives, tallyOf } from '../../demo/faultyDives.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import type { DiveRecord, Stage, TestMade } from './afterDive.ts';
import { diagnose } from './suspects.ts';
import { amountOf } from '../../demo/thorough.ts';

let model: Model;
let plan: Plan;
let access: Access;
beforeAll(() => {
  model = demoModel('velmora-quill-5');
  plan = planDive(model, { replace: ['display'], spares: ['display-full'] });
  access = accessOf(model, plan);
});

const openTest = () => plan.steps.find((s) => s.phase === 'ascent' && s.do === 'test')!;

/** All touched functions tested, with those that failed. */
function record(failed: string[], stage: Stage, rest: Partial<DiveRecord> = {}): DiveRecord {
  const tests = plan.touched.map((id): TestMade => ({ function: id, failed: failed.includes(id), stage }));
  const device = access.after(stage === 'open' ? openTest().n : plan.steps.length);
  return { handled: handledBy(plan, model), device, tests, telltales: [], sound: new Set(), ...rest };
}

const named = (failed: string[], stage: Stage, rest: Partial<DiveRecord> = {}) =>
  diagnose(model, plan, record(failed, stage, rest), access);

describe('which opened item most likely did it', () => {
  test('nothing failed: nobody is suspected, and nothing is looked at', () => {
    const { suspects, next, nothing } = named([], 'closed');
    expect(suspects).toEqual([]);
    expect(next).toBeNull();
    expect(nothing).toBeGreaterThan(0.5);
  });

  test('no picture on the open device: the plug that carries it, as common practice has it', () => {
    const { suspects, next } = named(['picture', 'brightness'], 'open');
    expect(suspects[0]).toMatchObject({ item: 'picture-flex', cause: 'not-seated', touched: true });
    expect(suspects[0]!.because).toContainEqual({ code: 'rests-on', functions: ['picture', 'brightness'] });
    expect(next!.item).toBe('picture-flex');
  });

  test('neither picture nor touch: the new display before two plugs at once', () => {
    const { suspects } = named(['picture', 'brightness', 'touch'], 'open');
    expect(suspects[0]).toMatchObject({ item: 'display', cause: 'spare-bad' });
    expect(suspects[0]!.because).toContainEqual({ code: 'new-on-dive' });
  });

  test('what worked open and fails closed was pinched or let go since, not badly mated', () => {
    const before = record([], 'open').tests;
    const fresh = named(['picture', 'brightness'], 'closed');
    const known = named(['picture', 'brightness'], 'closed', {
      tests: [...before, ...record(['picture', 'brightness'], 'closed').tests],
    });
    const kind = (d: typeof fresh, k: string) =>
      d.suspects.find((s) => s.item === 'picture-flex')!.causes.find((c) => c.kind === k)!.odds;
    expect(kind(known, 'pinched') / kind(known, 'not-seated')).toBeGreaterThan(
      3 * (kind(fresh, 'pinched') / kind(fresh, 'not-seated')),
    );
  });

  test('a flex recorded as torn is suspected before all others, and the reason is told', () => {
    const telltales = [
      {
        item: 'touch-flex',
        kind: 'torn' as const,
        factor: 60,
        said: { code: 'recorded-as' as const, kind: 'torn', words: '' },
      },
    ];
    const [first] = named(['touch'], 'open', { telltales }).suspects;
    expect(first).toMatchObject({ item: 'touch-flex', cause: 'torn' });
    expect(first!.because).toContainEqual({ code: 'recorded-as', kind: 'torn', words: '' });
  });

  test('what was looked at and found sound is suspected less, and the next is another', () => {
    const first = named(['touch'], 'open').next!.item!;
    const then = named(['touch'], 'open', { sound: new Set([first]) });
    expect(then.next!.item).not.toBe(first);
  });

  test('what failed before the dive is an old fault of what the dive left alone', () => {
    const old = [{ function: 'focus', failed: true, stage: 'before' as const }];
    const tests = [...old, { function: 'focus', failed: true, stage: 'closed' as const }];
    const { suspects } = named([], 'closed', { tests });
    expect(suspects[0]).toMatchObject({ cause: 'was-bad-before', touched: false });
    expect(['camera', 'focus-flex', 'board']).toContain(suspects[0]!.item);
  });

  test('getting there is counted: the way to a plug behind the seal costs its seal again', () => {
    const sound = new Set(['display']);
    const open = named(['picture', 'brightness'], 'open', { sound }).next!;
    const closed = named(['picture', 'brightness'], 'closed', { sound }).next!;
    expect([open.item, closed.item]).toEqual(['picture-flex', 'picture-flex']);
    expect(closed.opens).toContain('display-seal');
    expect(open.opens).not.toContain('display-seal');
    expect(closed.seconds).toBeGreaterThan(open.seconds + 300);
  });

  test('dead altogether: what feeds it before what any one function rests on', () => {
    const all = plan.touched;
    const { suspects } = named(all, 'open');
    expect(['battery-flex', 'battery', 'board']).toContain(suspects[0]!.item);
  });
});

describe('a shop whose dives go wrong, by a generator that is not the network', () => {
  const dives = () => shopDives(DEVICES.map(demoModel), 4);

  test('the true item is among the first three in at least 90 of 100 dives, and nobody is accused too surely', () => {
    const tally = tallyOf(dives(), amountOf(600, 3), chanceOf(2026));
    expect(tally.firstThree).toBeGreaterThanOrEqual(0.9);
    // On a fold more things share what they do.
    for (const [id, share] of Object.entries(tally.byDevice))
      expect(share, id).toBeGreaterThan(demoModel(id).anatomy.bodies ? 0.7 : 0.78);
    // Nobody is accused with more certainty than there is.
    for (const { told, guilty, count } of tally.reliability)
      if (count >= 40) expect(guilty, `told ${told}`).toBeGreaterThan(told - 0.12);
  });

  test('97 of 100 of what exact odds under the truth of the shop reach, on devices drawn at random too', () => {
    const drawn = [904, 907, 911, 915, 921].flatMap((seed) => {
      const model = modelOf(syntheticAnatomy(seededDraw(seed), 16));
      try {
        return shopDives([model], 2);
      } catch {
        return [];
      }
    });
    for (const some of [dives(), drawn]) {
      expect(some.length).toBeGreaterThan(2);
      const { byKind } = tallyOf(some, amountOf(200, 2), chanceOf(31), 1);
      const sum = (of: (k: NonNullable<(typeof byKind)['torn']>) => number) =>
        Object.values(byKind).reduce((total, k) => total + of(k), 0);
      // Within three times the standard error of a share of three in a hundred: two kinds of devices are asked, with few dives.
      const most = sum((k) => k.three.most);
      expect(sum((k) => k.three.ours)).toBeGreaterThanOrEqual(0.97 * most - 3 * Math.sqrt(0.03 * most));
      // The commonest faults, and what a dive is made for: the plug and the new part.
      for (const kind of ['not-seated', 'spare-bad', 'torn'] as const) {
        const { three } = byKind[kind]!;
        expect(three.ours, kind).toBeGreaterThanOrEqual(0.97 * three.most - 1);
      }
    }
  });

  test('it is found in at least 35 % fewer minutes than in the order of the way back', () => {
    const minutes = minutesToFind(dives(), amountOf(60, 3), chanceOf(44));
    expect(minutes.nibrel).toBeLessThanOrEqual(0.65 * minutes['order of the way back']);
    expect(minutes.nibrel).toBeLessThanOrEqual(1.1 * minutes['told the true rates']);
  });
});
