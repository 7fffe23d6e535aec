import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoModel } from '../../demo/models.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { tinyDevice } from '../../demo/tiny.ts';
import { modelOf, type Anatomy } from '../anatomy/index.ts';
import { checkPlan, DEFAULT_RULES, NoDive, planDive } from '../dive/index.ts';
import { actsOfPlan, readActs, type Act, type ActFile } from '../explore/index.ts';
import { answered, FREE, keyOfDone, learn, meet, questionsOf, wayBackOf, type Learnt } from './index.ts';
import { amountOf, THOROUGH } from '../../demo/thorough.ts';

const QUICK = { budget: 0, heat: 'usual' } as const;
const fileOf = (anatomy: Anatomy, part: string, shuffle?: number, seed = 1): ActFile => {
  const model = modelOf(anatomy);
  return actsOfPlan(model, planDive(model, { replace: [part] }, DEFAULT_RULES, QUICK), { shuffle, seed });
};
const quill = demoModel('velmora-quill-5').anatomy;

describe('acts of a plan', () => {
  it('bear what a person sees, and nothing of what holds what', () => {
    const { acts } = fileOf(quill, 'battery', 3);
    const said = JSON.stringify(acts.map(({ label: _, ...a }) => a));
    for (const { id, name } of [...quill.parts, ...quill.connectors]) {
      if (id.length > 4 && !['battery', 'display'].includes(id)) expect(said).not.toContain(`"${id}"`);
      if (!['Battery', 'Display'].includes(name)) expect(said).not.toContain(name);
    }
    for (const word of ['holds', 'layer', 'into', 'joins', 'covers', 'within']) expect(said).not.toContain(`"${word}"`);
  });

  it('are read back as they were written, and refused with the path of what is wrong', () => {
    const file = fileOf(quill, 'battery');
    expect(readActs(JSON.parse(JSON.stringify(file)))).toEqual({ ok: true, value: file });
    const spoilt = structuredClone(file) as unknown as { acts: { act: string }[] };
    spoilt.acts[4]!.act = 'teleported';
    const reading = readActs(spoilt);
    expect(reading.ok).toBe(false);
    expect(!reading.ok && reading.faults[0]!.path).toBe('acts[4].act');
  });

  it('noise of places and lengths is that of a hand', () => {
    const off: number[] = [];
    const short: number[] = [];
    for (let seed = 1; seed < 14; seed++)
      for (const a of fileOf(quill, 'board', undefined, seed).acts) {
        const f = quill.fasteners.find((x) => x.id === a.label);
        if (!f || !a.seen.at) continue;
        off.push(a.seen.at[0] - f.at[0], a.seen.at[1] - f.at[1]);
        if (a.seen.length != null) short.push(a.seen.length - f.length!);
      }
    const deviation = (list: number[]) => Math.sqrt(list.reduce((s, x) => s + x * x, 0) / list.length);
    expect(deviation(off)).toBeCloseTo(0.5, 1);
    expect(deviation(short)).toBeCloseTo(0.05, 2);
  });
});

describe('learning', () => {
  it('is the same each time, and does not look at labels (property)', () => {
    fc.assert(
      fc.property(fc.nat(10_000), fc.integer({ min: 1, max: 6 }), (seed, size) => {
        const draw = seededDraw(seed);
        const anatomy = syntheticAnatomy(draw, size);
        const parts = anatomy.parts.filter((p) => !p.fixed);
        let file: ActFile;
        try {
          file = fileOf(anatomy, parts[draw(parts.length)]!.id, seed);
        } catch (error) {
          if (error instanceof NoDive) return;
          throw error;
        }
        const labels = file.acts.map((a) => a.label).toSorted(() => draw(3) - 1);
        const scrambled: ActFile = {
          ...file,
          acts: file.acts.map((a, i): Act => (labels[i] === undefined ? { ...a } : { ...a, label: labels[i] })),
        };
        const one = learn([file]);
        expect(learn([file]).anatomy).toEqual(one.anatomy);
        expect(learn([scrambled]).anatomy).toEqual(one.anatomy);
        expect(learn([scrambled]).evidence).toEqual(one.evidence);
      }),
      { numRuns: amountOf(30, 3) },
    );
  }, 40_000);

  it('sets acts aside that contradict others, and learns from the rest', () => {
    const file = fileOf(quill, 'battery');
    const twice = file.acts.find((a) => a.act === 'screw-out')!;
    const odd: ActFile = { ...file, acts: [...file.acts, { ...twice, id: 'again' }] };
    const learnt = learn([odd]);
    expect(learnt.told.dives[0]!.setAside).toEqual([{ act: 'again', words: expect.stringMatching(/already/) }]);
    expect(learnt.anatomy).toEqual(learn([file]).anatomy);
  });

  it('a screw that went back in and came out again is one screw', () => {
    const file = fileOf(quill, 'battery');
    const at = file.acts.findIndex((a) => a.act === 'screw-out');
    const first = file.acts[at]!;
    const again: ActFile = {
      ...file,
      acts: file.acts.toSpliced(at + 1, 0, { ...first, id: 'in', act: 'screw-in' }, { ...first, id: 'out' }),
    };
    expect(learn([again]).anatomy.fasteners).toHaveLength(learn([file]).anatomy.fasteners.length);
  });

  it('nothing opened is nothing to close', () => {
    const file = { ...fileOf(quill, 'battery'), acts: [] };
    const plan = wayBackOf(learn([file]));
    expect(plan.steps).toEqual([]);
    expect(plan.changes).toEqual([{ code: 'nothing-opened' }]);
  });

  it('the way back is there from every depth of a dive, and lawful on the true device', () => {
    const model = modelOf(quill);
    const file = fileOf(quill, 'dock', 5);
    for (let n = 1; n <= file.acts.length; n += THOROUGH ? 1 : 3) {
      const learnt = learn([{ ...file, acts: file.acts.slice(0, n) }], { ids: 'labels' });
      const plan = wayBackOf(learnt, { replace: [] }, QUICK);
      if (plan.steps.some((s) => s.phase === 'ascent'))
        expect(checkPlan(model, plan, { laws: true, done: n }), `after ${n} acts`).toBeNull();
    }
  }, 60_000);
});

describe('orders that are kept', () => {
  const freedoms = (l: Learnt) => {
    const { done } = l.told.dives[0]!;
    const sequence = l.orders.sequence(0);
    return done.flatMap((then, j) =>
      done.slice(0, j).map((first) => ({ first, then, why: sequence.freedomOf(keyOfDone(first), keyOfDone(then)) })),
    );
  };

  it('nothing is freed that the true device asks for', () => {
    const model = modelOf(quill);
    for (const shuffle of [1, 2, 3, 4]) {
      const learnt = learn([fileOf(quill, 'dock', shuffle)], { ids: 'labels' });
      for (const { first, then, why } of freedoms(learnt)) {
        if (why === null || why === 'hung') continue;
        // A screw goes back before the part that lies over it, and after the part that it holds.
        const over = model.parts.has(first.thing) && model.items.has(then.thing) && first.kind !== 'lift';
        if (over) expect(model.overlaps(first.thing, then.thing) && why === 'apart').toBe(false);
        const held = model.fasteners.get(first.thing)?.holds.includes(then.thing) ?? false;
        expect(held, `${first.thing} holds ${then.thing}, freed as ${why}`).toBe(false);
      }
    }
  });

  it('two dives that did things the other way round free them', () => {
    const files = [fileOf(quill, 'dock', 1), fileOf(quill, 'dock', 2)];
    const kept = (l: Learnt) => [...l.orders.sequence(0).needs.values()].flat().length;
    const free = (l: Learnt) => freedoms(l).filter((f) => f.why === 'other-dive').length;
    expect(free(learn([files[0]!]))).toBe(0);
    expect(free(learn(files))).toBeGreaterThan(20);
    expect(kept(learn(files))).toBeGreaterThan(0);
  });

  it('places and lengths are averaged with their errors', () => {
    const files = [1, 2, 3, 4, 5].map((n) => fileOf(quill, 'battery', n, n));
    const { told } = learn(files, { ids: 'labels' });
    for (const id of ['p1', 'p2', 'p3', 'p4']) {
      const thing = told.things.get(id)!;
      const truth = quill.fasteners.find((f) => f.id === id)!;
      expect(thing.dives).toEqual([0, 1, 2, 3, 4]);
      expect(thing.placeError).toBeGreaterThan(0);
      expect(thing.placeError).toBeLessThan(0.5);
      expect(Math.hypot(thing.place![0] - truth.at[0], thing.place![1] - truth.at[1])).toBeLessThan(1.1);
      expect(Math.abs(thing.length! - truth.length!)).toBeLessThan(0.12);
    }
  });
});

describe('questions', () => {
  it('what a screw held is asked first; of the others the one with the greatest expected change, by brute force', () => {
    const seconds = (files: ActFile[]) => {
      const { steps, totals } = wayBackOf(learn(files), {}, QUICK);
      const first = steps.find((s) => s.phase !== 'prepare' && s.phase !== 'descent');
      return first ? totals.elapsed - first.starts : 0;
    };
    let asked = 0;
    for (let seed = 1; seed < 14; seed++) {
      const anatomy = syntheticAnatomy(seededDraw(seed), 3);
      let file: ActFile;
      try {
        file = fileOf(anatomy, 'board', seed, seed);
      } catch (error) {
        if (error instanceof NoDive) continue;
        throw error;
      }
      const all = questionsOf([file], undefined, 1000);
      const [first] = questionsOf([file]);
      if (!first) continue;
      asked++;
      const now = seconds([file]);
      const change = (q: (typeof all)[number]) =>
        q.options.reduce((s, o) => s + o.chance * Math.abs(now - seconds(answered([file], q.id, o.value))), 0);
      const ofHolders = all.filter((q) => q.id.startsWith('holds:'));
      const best = Math.max(...(ofHolders.length > 0 ? ofHolders : all).map(change));
      expect(change(first)).toBeCloseTo(best, 6);
      if (ofHolders.length > 0) expect(first.id).toMatch(/^holds:/);
      expect(first.options.reduce((s, o) => s + o.chance, 0)).toBeCloseTo(1, 9);
    }
    expect(asked).toBeGreaterThan(2);
  }, 60_000);

  it('an answer frees what it says, and is not asked for again', () => {
    const tablet = demoModel('osterleigh-broadleaf-12').anatomy;
    const file = fileOf(tablet, 'board', 3);
    const question = questionsOf([file]).find((q) => q.id.startsWith('order:'))!;
    const after = answered([file], question.id, FREE);
    expect(questionsOf(after).map((q) => q.id)).not.toContain(question.id);
    const kept = (files: ActFile[]) => [...learn(files).orders.sequence(0).needs.values()].flat();
    expect(kept(after)).not.toEqual(kept([file]));
  });
});

describe('what was known of a device', () => {
  it('is confirmed where it is found again, told where it does not fit, and added to', () => {
    const drawn: Anatomy = structuredClone(quill);
    drawn.fasteners = drawn.fasteners.filter((f) => f.id !== 'p2');
    drawn.fasteners.find((f) => f.id === 'p1')!.length = 2.6;
    drawn.fasteners.find((f) => f.id === 'p1')!.holeDepth = 2.8;
    const met = meet(drawn, learn([fileOf(quill, 'battery', 2, 4)], { ids: 'labels' }));
    expect(met.confirmed).toEqual(expect.arrayContaining(['power-cover', 'battery', 'p3', 'battery-flex']));
    expect(met.added).toEqual(['p2']);
    expect(met.contradictions.map((c) => c.item)).toContain('p1');
    expect(met.anatomy.fasteners.some((f) => f.id === 'p2')).toBe(true);
  });

  it('says what was reached although it is drawn beneath something', () => {
    const truth = tinyDevice();
    const drawn = tinyDevice((a) => {
      // Drawn as if the bracket lay over the camera.
      a.parts.find((p) => p.id === 'bracket')!.outline = { rect: [2, 2, 36, 26] };
    });
    const learnt = learn([fileOf(truth, 'camera', 1), fileOf(truth, 'board', 2)], { ids: 'labels' });
    const { contradictions } = meet(drawn, learnt);
    expect(contradictions.every((c) => c.words.length > 10)).toBe(true);
  });
});
