import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { faultsOf, modelOf, type Model } from '../anatomy/index.ts';
import { checkPlan, DEFAULT_RULES, NoDive, planDive, StepGraph, totalsOf, type Plan } from '../dive/index.ts';
import { actsOfPlan, countsOf, openDevice, type ActFile } from '../explore/index.ts';
import { isUnseen, learn, wayBackOf, type Evidence } from './index.ts';

/*
 * Simulated field dives: the way in of a plan in many valid orders, with the noise of a hand, as a technician's acts. The
 * way back is planned on what was learnt, and judged by the dive checker on the true anatomy, which nothing here has seen.
 */
const QUICK = { budget: 0, heat: 'usual' } as const;

function planOf(model: Model, part: string): Plan | null {
  try {
    return planDive(model, { replace: [part] }, DEFAULT_RULES, QUICK);
  } catch (error) {
    if (error instanceof NoDive) return null;
    throw error;
  }
}

/** Hands and turns of the way back, proof aside: what a device does is not known of one that nobody has drawn. */
function workBack(plan: Plan): number {
  const steps = plan.steps.filter(
    (s) =>
      s.phase !== 'prepare' &&
      s.phase !== 'descent' &&
      !['test', 'confirm-loss', 'power-on', 'power-off'].includes(s.do) &&
      s.gate !== 'G4',
  );
  const { hands, toolChanges, turnOvers } = totalsOf(steps, plan.rules);
  return hands + toolChanges * DEFAULT_RULES.toolChange + turnOvers * DEFAULT_RULES.turnOver;
}

/** Is a relation true of the device? `null` for what the format does not say. */
function isTrue(model: Model, graph: StepGraph, { relation, of, to }: Evidence): boolean | null {
  const family = (part: string) => (model.parts.has(part) ? model.familyOf(part) : []);
  const screw = model.fasteners.get(of);
  const plug = model.connectors.get(of);
  const joint = model.bonds.get(of) ?? model.latches.get(of);
  switch (relation) {
    case 'holds':
      return screw ? screw.holds.includes(to) : null;
    case 'into':
      return screw ? screw.into === to : null;
    case 'joins':
      if (plug) return [plug.from, plug.to].some((p) => family(to).includes(p));
      return joint ? joint.joins.includes(to) : null;
    case 'from':
      return plug ? family(to).includes(plug.from) : null;
    case 'tilts':
      return plug?.reachedBy?.swing === to;
    case 'within':
      return model.parts.has(of) ? family(to).includes(of) : null;
    case 'tether':
      return model.parts.get(of)?.swing?.tether.includes(to) ?? null;
    case 'covers':
      if (model.connectors.has(of)) return model.connectors.get(to)!.beneath.includes(of);
      return model.parts.has(of) && model.items.has(to) ? graph.hides(of, to) : null;
    default:
      return null;
  }
}

interface Tally {
  dives: number;
  broken: string[];
  ratios: number[];
  known: Map<string, [right: number, all: number]>;
}

const newTally = (): Tally => ({ dives: 0, broken: [], ratios: [], known: new Map() });

function dive(
  tally: Tally,
  model: Model,
  part: string,
  shuffle: number | undefined,
  seed: number,
  called: string,
): void {
  const plan = planOf(model, part);
  if (!plan) return;
  tally.dives++;
  const file = actsOfPlan(model, plan, { shuffle, seed });
  const learnt = learn([file], { ids: 'labels' });
  const faults = faultsOf(learnt.anatomy);
  if (faults.length > 0) tally.broken.push(`${called}: learnt with faults, ${faults[0]!.path} ${faults[0]!.message}`);
  const back = wayBackOf(learnt, {}, QUICK);
  const violation = checkPlan(model, back, { laws: true });
  if (violation) tally.broken.push(`${called}: ${violation.rule}, ${violation.message}`);
  countsAreEven(tally, model, file, back, called);
  tally.ratios.push(workBack(back) / workBack(plan));
  const graph = new StepGraph(model);
  for (const e of learnt.evidence) {
    const right = isTrue(model, graph, e);
    if (right === null) continue;
    const key = `${e.relation} ${e.grade}`;
    const [yes, all] = tally.known.get(key) ?? [0, 0];
    tally.known.set(key, [yes + (right ? 1 : 0), all + 1]);
  }
}

/** Every screw that came out goes back, once, and lay in a well until then. */
function countsAreEven(tally: Tally, model: Model, file: ActFile, back: Plan, called: string): void {
  const open = openDevice(file.acts);
  const out = file.acts.filter((a) => a.act === 'screw-out').map((a) => a.label!);
  const fastened = back.steps.filter((s) => s.do === 'fasten').flatMap((s) => s.items);
  const even = [...out].sort().join() === [...fastened].sort().join();
  const captive = out.filter((id) => model.fasteners.get(id)!.kind === 'captive').length;
  const { screwsOut } = countsOf(open);
  if (!even || screwsOut !== out.length || open.wells.size !== out.length - captive)
    tally.broken.push(`${called}: ${out.length} out, ${fastened.length} back, ${open.wells.size} in wells`);
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

describe('the way back of a field dive keeps every law on the true device', () => {
  it.each(DEVICES)(
    '%s: every part, in the order of the plan and in two others',
    (name) => {
      const model = demoModel(name);
      const tally = newTally();
      for (const [i, part] of model.anatomy.parts.filter((p) => !p.fixed).entries())
        for (const shuffle of [undefined, 2 * i + 1, 2 * i + 2])
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

  it('1,000 random devices', () => {
    const tally = newTally();
    const draw = seededDraw(1789);
    for (let k = 0; tally.dives < 1000; k++) {
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
    const tally = new Map<number, { plans: number; sound: number; marked: number; work: number; least: number }>();
    const unmarked: string[] = [];
    for (const name of DEVICES) {
      const model = demoModel(name);
      const parts = model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);
      const draw = seededDraw(name.length * 7);
      const files: ActFile[] = [];
      const opened = new Set<string>();
      for (let n = 1; n <= 3; n++) {
        const file = actsOfPlan(model, planOf(model, parts[draw(parts.length)]!)!, { shuffle: 10 * n + 1, seed: n });
        files.push(file);
        for (const a of file.acts) if (a.act === 'part-off') opened.add(a.label!);
        const learnt = modelOf(learn(files, { ids: 'labels' }).anatomy);
        const counts = tally.get(n) ?? { plans: 0, sound: 0, marked: 0, work: 0, least: 0 };
        tally.set(n, counts);
        for (const part of opened) {
          const plan = planOf(learnt, part);
          counts.plans++;
          const guess = plan?.steps.some((s) => s.items.some(isUnseen)) ?? true;
          // A thing that was taken for another bears a name that the true device lacks.
          const known = (id: string) => model.items.has(id) || model.anatomy.functions.some((f) => f.id === id);
          const own = plan?.steps.every((s) => s.items.every(known)) ?? false;
          const sound = plan !== null && !guess && own && checkPlan(model, plan, { laws: true }) === null;
          if (sound) {
            counts.sound++;
            counts.work += plan.totals.screws + plan.totals.connectors;
            const { totals } = planOf(model, part)!;
            counts.least += totals.screws + totals.connectors;
          } else if (guess) counts.marked++;
          else unmarked.push(`${name}, ${n} dives, ${part}`);
        }
      }
    }
    const told = [...tally].map(
      ([n, c]) =>
        `${n}: ${c.sound} of ${c.plans} sound, ${c.marked} resting on the unseen, work ${(c.work / c.least).toFixed(2)} of the least`,
    );
    console.log(`plans from so many dives\n  ${told.join('\n  ')}`);
    const all = [...tally.values()].reduce((s, c) => ({ plans: s.plans + c.plans, sound: s.sound + c.sound }), {
      plans: 0,
      sound: 0,
    });
    expect(all.sound / all.plans).toBeGreaterThanOrEqual(0.95);
    expect(unmarked.length / all.plans).toBeLessThan(0.05);
  }, 240_000);
});
