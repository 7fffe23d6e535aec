import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { fieldTrial, planOf, plansOfDives, QUICK, tallyOf, type PlanTrial } from '../../demo/fieldTrial.ts';
import { marketAnatomy } from '../../demo/market.ts';
import { seededDraw, syntheticAnatomy, type Draw } from '../../demo/synthetic.ts';
import { isTried, THOROUGH } from '../../demo/thorough.ts';
import { modelOf, type Model } from '../anatomy/index.ts';
import { checkPlan } from '../dive/index.ts';
import { actsOfPlan, specOf, type Act, type ActFile } from '../explore/index.ts';
import { learn, wayBackOf } from './index.ts';

/* Judged by the dive checker on the true anatomy; `npm run fuzz` does it with a thousand random devices and more. */

/** Acts from one depth at which it is turned round to the next. */
const STRIDE = THOROUGH ? 45 : 300;

interface Tally {
  dives: number;
  broken: string[];
  ratios: number[];
  known: Map<string, [right: number, all: number]>;
}

const newTally = (): Tally => ({ dives: 0, broken: [], ratios: [], known: new Map() });

function dive(tally: Tally, model: Model, part: string, shuffle: number | undefined, seed: number, of: string): void {
  const trial = fieldTrial(model, part, { ...(shuffle === undefined ? {} : { shuffle }), seed });
  if (!trial) return;
  tally.dives++;
  tally.broken.push(...trial.broken.map((words) => `${of}: ${words}`));
  tally.ratios.push(trial.ratio);
  for (const { key, right } of trial.known) {
    const [yes, all] = tally.known.get(key) ?? [0, 0];
    tally.known.set(key, [yes + (right ? 1 : 0), all + 1]);
  }
}

function report(name: string, { dives, broken, ratios, known }: Tally): { inferred: number; seen: number } {
  const sorted = ratios.toSorted((a, b) => a - b);
  const at = (share: number) => sorted[Math.floor((sorted.length - 1) * share)]!.toFixed(3);
  const precision = (grade: string) => {
    const of = [...known].filter(([key]) => key.endsWith(grade)).map(([, n]) => n);
    return of.reduce((s, [yes]) => s + yes, 0) / of.reduce((s, [, all]) => s + all, 0);
  };
  const list = [...known].map(([key, [yes, all]]) => `${key} ${((100 * yes) / all).toFixed(1)} % of ${all}`).sort();
  const over = sorted.filter((r) => r > 1.05).length;
  console.log(
    `${name}: ${dives} field dives, ${broken.length} broken; work back against the planner's: median ${at(0.5)}, ` +
      `nine in ten ${at(0.9)}, most ${at(1)}; over 1.05: ${over}\n  ${list.join('\n  ')}`,
  );
  return { inferred: precision('inferred'), seen: precision('seen') };
}

/** A dive in which the device was turned over somewhere after a part had been swung open; `null` where none was. */
function turnedWhileOpen(file: ActFile, draw: Draw): ActFile | null {
  const open = file.acts.findIndex((a) => a.act === 'part-swung');
  if (open < 0) return null;
  const at = open + 1 + draw(file.acts.length - open);
  const other = { front: 'back', back: 'front' } as const;
  const turn: Act = { ...file.acts[open]!, id: 'turned', act: 'turned-over', item: null, label: undefined, seen: {} };
  const later = file.acts.slice(at).map((a): Act => {
    const { face, on } = a.seen;
    return on == null && (face === 'front' || face === 'back') ? { ...a, seen: { ...a.seen, face: other[face] } } : a;
  });
  return { ...file, acts: [...file.acts.slice(0, at), turn, ...later] };
}

describe('the way back of a field dive keeps every law on the true device', () => {
  it.each(DEVICES)(
    '%s: every part, in the order of the plan or in another',
    (name) => {
      const model = demoModel(name);
      const tally = newTally();
      for (const [i, part] of model.anatomy.parts.filter((p) => !p.fixed).entries())
        for (const shuffle of [undefined, 2 * i + 1].filter((_, k) => isTried(i + k, 4)))
          dive(tally, model, part.id, shuffle, 100 * i + (shuffle ?? 0), `${part.id}, shuffle ${shuffle}`);
      const { inferred, seen } = report(name, tally);
      expect(tally.broken).toEqual([]);
      expect(inferred).toBeGreaterThanOrEqual(0.98);
      expect(seen).toBeGreaterThanOrEqual(0.98);
      const within = tally.ratios.filter((r) => r <= 1.05).length / tally.ratios.length;
      expect(within).toBeGreaterThan(0.8);
    },
    240_000,
  );

  it('from any depth: what was opened goes back as it was', () => {
    const broken: string[] = [];
    let turned = 0;
    for (const name of DEVICES.filter((_, d) => isTried(d, 5))) {
      const model = demoModel(name);
      for (const [i, part] of model.anatomy.parts.filter((p) => !p.fixed).entries()) {
        const file = actsOfPlan(model, planOf(model, part.id)!, { shuffle: i, seed: i });
        for (let n = 8 + (i % STRIDE); n <= file.acts.length; n += STRIDE) {
          // What parted by itself as a part came off is told together with it.
          let end = n;
          while (end < file.acts.length && specOf(file.acts[end]!.act).does === 'parted') end++;
          const learnt = learn([{ ...file, acts: file.acts.slice(0, end) }], { ids: 'labels' });
          const back = wayBackOf(learnt, { replace: [] }, QUICK);
          const violation = checkPlan(model, back, { laws: true });
          if (violation)
            broken.push(`${name}, ${part.id}, after ${end} acts: ${violation.rule}, ${JSON.stringify(violation.said)}`);
          turned++;
        }
      }
    }
    expect(turned).toBeGreaterThan(THOROUGH ? 60 : 4);
    expect(broken).toEqual([]);
  }, 120_000);

  it('an open device always has one: also where it was turned over with a part hanging open', () => {
    const draw = seededDraw(404);
    const broken: string[] = [];
    let tried = 0;
    for (let k = 0; tried < (THOROUGH ? 300 : 5); k++) {
      const model = modelOf(marketAnatomy(draw));
      const parts = model.anatomy.parts.filter((p) => !p.fixed);
      const part = parts[draw(parts.length)]!.id;
      const file = turnedWhileOpen(actsOfPlan(model, planOf(model, part)!, { seed: k }), draw);
      if (!file) continue;
      tried++;
      const back = wayBackOf(learn([file], { ids: 'labels' }), { replace: [] }, QUICK);
      const undone = new Set(file.acts.filter((a) => specOf(a.act).of === 'fastener').map((a) => a.label));
      expect(back.steps.filter((s) => s.do === 'fasten').flatMap((s) => s.items).length).toBe(undone.size);
      const kept = back.steps.filter((s) => s.phase === 'prepare' || s.phase === 'descent').length;
      const violation = checkPlan(model, back, { laws: true, done: kept });
      if (violation) broken.push(`${k} ${part}: ${violation.rule}, ${JSON.stringify(violation.said)}`);
    }
    console.log(`${tried} turned over while open, ${broken.length} against a law: ${broken.join('; ')}`);
    expect(broken.length).toBeLessThanOrEqual(tried * 0.05);
  }, 240_000);

  it('random devices', () => {
    const tally = newTally();
    const draw = seededDraw(1789);
    for (let k = 0; tally.dives < 300; k++) {
      const model = modelOf(syntheticAnatomy(draw, 1 + (k % 8)));
      const parts = model.anatomy.parts.filter((p) => !p.fixed);
      dive(tally, model, parts[draw(parts.length)]!.id, k % 2 ? k : undefined, k, `device ${k}`);
    }
    const { inferred } = report('random devices', tally);
    expect(tally.broken).toEqual([]);
    expect(inferred).toBeGreaterThanOrEqual(0.98);
  }, 240_000);
});

describe('what several dives tell', () => {
  it('plans for other parts of what was opened are sound on the true device, or rest on what nobody has seen', () => {
    const curve: PlanTrial[][] = [[], [], []];
    for (const name of DEVICES.filter((_, d) => isTried(d, 4)))
      for (const [n, plans] of plansOfDives(demoModel(name), name.length * 7, 3).entries()) curve[n]!.push(...plans);
    const words = curve.map((plans, n) => {
      const { sound, marked, work, least } = tallyOf(plans);
      const share = `work ${(work / least).toFixed(2)} of the least`;
      return `${n + 1}: ${sound} of ${plans.length} sound, ${marked} resting on the unseen, ${share}`;
    });
    console.log(`plans from so many dives\n  ${words.join('\n  ')}`);
    const several = curve.slice(1).flat();
    const all = tallyOf(several);
    expect(all.sound / all.plans).toBeGreaterThanOrEqual(0.95);
    const unmarked = several.filter((p) => !p.sound && !p.marked);
    expect(unmarked.length / all.plans).toBeLessThan(0.05);
  }, 240_000);
});
