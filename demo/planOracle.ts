import type { Anatomy, Connector, Model, Outline } from '../core/anatomy/index.ts';
import { givesUp, type Plan, type Step } from '../core/dive/index.ts';
import { Checker, checkPlan, needless } from '../core/judge/index.ts';
import { wrongBack } from './backOracle.ts';
import { lawBroken } from './lawsOnly.ts';

/**
 * What can be said of any plan without knowing what it should be: that no law and no rule of good work is broken, that what it
 * tells of itself adds up, that a technician would know every tool and time in it. It compares a plan with no other plan, and
 * reads the document only.
 */

/** s that one step of a kind may take a practised hand, for one item, least and most. Common practice, generously. */
const HANDS: Partial<Record<Step['do'], readonly [least: number, most: number]>> = {
  'power-off': [3, 60],
  discharge: [5, 60],
  eject: [3, 30],
  film: [5, 60],
  'tape-glass': [15, 180],
  photo: [3, 30],
  heat: [5, 900],
  gap: [5, 120],
  cut: [1, 900],
  solvent: [5, 90],
  unscrew: [3, 60],
  disconnect: [2, 30],
  desolder: [20, 300],
  release: [2, 90],
  ease: [2, 30],
  swing: [3, 30],
  lift: [3, 30],
  pull: [5, 240],
  'bend-aside': [2, 20],
  inspect: [5, 120],
  clean: [10, 400],
  fit: [3, 60],
  connect: [3, 40],
  fasten: [3, 60],
  bond: [3, 900],
  'remove-liner': [3, 60],
  press: [1, 300],
  cure: [5, 300],
  solder: [30, 300],
  gate: [3, 30],
  test: [5, 90],
  'power-on': [10, 180],
  try: [30, 400],
  renew: [5, 120],
};

/** Of these every item takes its time. */
const BY_ITEM: readonly Step['do'][] = ['unscrew', 'fasten', 'test', 'disconnect', 'connect', 'desolder', 'solder'];

/** What a step may be done with; `null` is bare hands. Common practice. */
const TOOLS: Partial<Record<Step['do'], readonly (string | null)[]>> = {
  disconnect: ['spudger'],
  connect: ['spudger'],
  'bend-aside': ['spudger', null],
  desolder: ['soldering-iron'],
  solder: ['soldering-iron'],
  heat: ['mat', 'pad', 'gun', 'gel-pack', 'dryer'],
  gap: ['suction-cup', 'cup-clamp', 'thin-blade', 'pick'],
  cut: ['pick'],
  solvent: ['solvent-dropper'],
  pull: [null],
  lift: [null],
  swing: [null],
  fit: [null],
  eject: ['eject-pin'],
  film: ['film'],
  'tape-glass': ['cover-tape'],
  photo: ['camera', null],
  clean: ['wipes'],
  flux: [null],
  tin: ['soldering-iron'],
  'leak-test': ['leak-tester'],
  'tape-down': ['cover-tape'],
  gate: [null],
  test: [null],
};

const LOOKED_AT: readonly Step['do'][] = [
  'discharge',
  'power-off',
  'photo',
  'inspect',
  'turn-over',
  'power-on',
  'test',
  'gate',
  'confirm-loss',
];

type Said = string | null;

/** Every step begins as soon as hands, tool and waits allow, and no sooner; the totals are those of the steps. */
export function clock({ steps, rules, totals, optimality }: Plan): Said {
  let held: string | null = null;
  let [free, hands, waits, taken, turned] = [0, 0, 0, 0, 0];
  for (const [i, s] of steps.entries()) {
    if (s.n !== i + 1) return `step ${i + 1} is numbered ${s.n}`;
    const takes = s.tool !== null && s.tool !== held;
    let start = free + (takes ? rules.toolChange : 0) + (s.do === 'turn-over' ? rules.turnOver : 0);
    for (const n of s.waitsFor) {
      const on = steps[n - 1];
      if (!on || n >= s.n || on.waits <= 0) return `step ${s.n} waits for ${n}, which it cannot`;
      start = Math.max(start, on.starts + on.seconds + on.waits);
    }
    if (Math.abs(s.starts - start) > 1e-6) return `step ${s.n} starts at ${s.starts}, not ${start}`;
    free = s.starts + s.seconds;
    hands += s.seconds;
    waits += s.waits;
    if (takes) taken++;
    if (s.do === 'turn-over') turned++;
    held = s.tool ?? (LOOKED_AT.includes(s.do) ? held : null);
  }
  const idle = free - hands - taken * rules.toolChange - turned * rules.turnOver;
  const items = (...verbs: Step['do'][]) =>
    new Set(steps.filter((s) => verbs.includes(s.do)).flatMap((s) => s.items)).size;
  const reckoned = {
    hands,
    waits,
    idle,
    elapsed: free,
    toolChanges: taken,
    turnOvers: turned,
    screws: items('unscrew'),
    connectors: items('disconnect', 'desolder'),
  };
  for (const [what, value] of Object.entries(reckoned))
    if (Math.abs(totals[what as keyof typeof totals] - value) > 1e-6)
      return `${what} is told as ${totals[what as keyof typeof totals]}, not ${value}`;
  return optimality.lowerBound > optimality.cost + 1e-6 ? 'the bound is above the cost' : null;
}

/** What a wait is for has waited, and nothing that a wait holds up comes before its end. */
function waited({ steps }: Plan): Said {
  for (const s of steps) {
    if (s.waits < 0 || s.seconds < 0) return `step ${s.n} takes less than no time`;
    if (s.do === 'heat' && !s.heat && s.waits > 0) return `step ${s.n} heats again, and is waited for`;
    if (s.waits === 0) continue;
    const off = s.do === 'discharge' ? steps.find((o) => o.do === 'power-off') : undefined;
    if (off && !off.waitsFor.includes(s.n)) return `step ${off.n} does not wait until the cell is drawn down`;
    if (s.do !== 'heat' && s.do !== 'solvent') continue;
    const next = steps.find((o) => o.n > s.n && o.phase === s.phase && o.items.some((id) => s.items.includes(id)));
    if (next && !next.waitsFor.includes(s.n)) return `step ${next.n} does not wait for ${s.do} ${s.items}`;
  }
  return null;
}

function handled(anatomy: Anatomy, { steps, rules }: Plan): Said {
  const screws = new Map(anatomy.fasteners.map((f) => [f.id, f]));
  const parts = new Map(anatomy.parts.map((p) => [p.id, p]));
  for (const s of steps) {
    const at = `step ${s.n}, ${s.do} ${s.items.join(' ')}`;
    const span = HANDS[s.do];
    const each = s.seconds / (BY_ITEM.includes(s.do) ? s.items.length : 1);
    const aside = s.tool === 'screw-extractor' || (s.do === 'heat' && !s.heat);
    if (span && !aside && (each < span[0] || each > span[1])) return `${at}: ${s.seconds} s`;
    const dry = s.do === 'clean' && s.items.some((id) => parts.get(id)?.limits?.solvent === false);
    const may = dry ? ['spudger'] : TOOLS[s.do];
    if (may && !may.includes(s.tool)) return `${at}: done with ${s.tool}`;
    // What has cooled is heated again as before.
    const again = s.do === 'heat' && !s.heat && steps.some((o) => o.n < s.n && o.do === 'heat' && o.tool === s.tool);
    if (s.do === 'heat' && !again && (s.tool !== s.heat?.source || rules.lacks.includes(s.tool!)))
      return `${at}: heated with ${s.tool}, which the step does not say or the shop lacks`;
    if (s.do === 'unscrew' || s.do === 'fasten')
      for (const id of s.items) {
        const { drive, kind } = screws.get(id)!;
        const byThumb = kind === 'cap' || kind === 'plug';
        const fits = byThumb ? null : drive === 'none' ? 'spudger' : `driver-${drive}`;
        if (s.tool !== fits && s.tool !== 'screw-extractor')
          return `${at}: ${id} (${kind}) takes ${fits}, not ${s.tool}`;
      }
    if (s.because.length === 0 && s.phase === 'descent') return `${at}: nothing says why`;
  }
  return null;
}

/** Screws that a maker numbers are driven by their numbers; others never next to each other when a farther one is left. */
function driven(anatomy: Anatomy, { steps }: Plan): Said {
  const screws = new Map(anatomy.fasteners.map((f) => [f.id, f]));
  for (const s of steps) {
    if (s.do !== 'fasten' || s.items.length < 3) continue;
    const list = s.items.map((id) => screws.get(id)!);
    const numbered = list.flatMap((f) => (f.order === null ? [] : [f.order]));
    if (numbered.some((n, i) => i > 0 && n < numbered[i - 1]!)) return `step ${s.n}: screws out of their printed order`;
    if (numbered.length > 0) continue;
    const far = (a: (typeof list)[number], b: (typeof list)[number]) =>
      Math.hypot(a.at[0] - b.at[0], a.at[1] - b.at[1]);
    const most = Math.max(...list.slice(1).map((f) => far(list[0]!, f)));
    if (far(list[0]!, list[1]!) < most - 1e-6) return `step ${s.n}: the second screw is not the one across`;
  }
  return null;
}

/** Whoever may be hurt is told: lithium, glass, heat, solvent, solder. */
function cautioned(anatomy: Anatomy, { steps }: Plan): Said {
  const parts = new Map(anatomy.parts.map((p) => [p.id, p]));
  const joins = new Map([...anatomy.bonds, ...anatomy.latches].map((j) => [j.id, j.joins]));
  const touches = (s: Step) => s.items.flatMap((id) => joins.get(id) ?? (parts.has(id) ? [id] : []));
  for (const s of steps) {
    const at = `step ${s.n}, ${s.do} ${s.items.join(' ')}`;
    const lacks = (caution: Step['cautions'][number]) => !s.cautions.includes(caution);
    if (s.do === 'heat' && lacks('hot')) return `${at}: nobody says that it is hot`;
    if (s.do === 'solvent' && lacks('solvent')) return `${at}: nobody says that the vapour burns`;
    if ((s.do === 'solder' || s.do === 'desolder') && lacks('solder')) return `${at}: nobody warns of the iron`;
    const cell = touches(s).some((id) => parts.get(id)?.kind === 'battery');
    if (cell && ['cut', 'pull', 'lift', 'solvent'].includes(s.do) && lacks('lithium'))
      return `${at}: no word of lithium`;
    const glass = touches(s).some((id) => parts.get(id)?.glass);
    if (glass && ['gap', 'cut', 'lift', 'swing'].includes(s.do) && s.phase === 'descent' && lacks('glass'))
      return `${at}: no word of glass`;
  }
  return null;
}

type Box = readonly [x0: number, y0: number, x1: number, y1: number];
function boxOf(outline: Outline): Box {
  if ('rect' in outline)
    return [outline.rect[0], outline.rect[1], outline.rect[0] + outline.rect[2], outline.rect[1] + outline.rect[3]];
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return [x - r, y - r, x + r, y + r];
  }
  const of = (k: 0 | 1) => outline.polygon.map((p) => p[k]);
  return [Math.min(...of(0)), Math.min(...of(1)), Math.max(...of(0)), Math.max(...of(1))];
}

/** Of the plugs that cut power those that cut what feeds these items: by rails and bodies, by boxes alone. */
export function feeding(anatomy: Anatomy, power: readonly Connector[], items: readonly string[]): readonly Connector[] {
  const { rails, bodies = [], parts, fasteners, connectors, bonds, latches } = anatomy;
  if (!rails || rails.length < 2) return power;
  const ends = items.flatMap((id) => {
    const [screw, plug] = [fasteners.find((f) => f.id === id), connectors.find((c) => c.id === id)];
    if (screw) return [...screw.holds, screw.into];
    if (plug) return [plug.from, plug.to];
    return [...bonds, ...latches].find((j) => j.id === id)?.joins ?? parts.filter((p) => p.id === id).map((p) => p.id);
  });
  if (ends.length === 0) return power;
  const bodyOf = (id: string): string | null => {
    const part = parts.find((p) => p.id === id);
    if (!part) return null;
    if (part.body) return part.body;
    if (part.within !== null) return bodyOf(part.within);
    const [x0, y0, x1, y1] = boxOf(part.outline);
    const lies = bodies.find(({ outline }) => {
      const [a0, b0, a1, b1] = boxOf(outline);
      const [w, h] = [Math.min(x1, a1) - Math.max(x0, a0), Math.min(y1, b1) - Math.max(y0, b0)];
      return w > 0 && h > 0 && w * h >= 0.8 * (x1 - x0) * (y1 - y0);
    });
    return lies?.id ?? null;
  };
  // What lies over the hinge is fed from where it is plugged in.
  const where = ends.flatMap((id) => {
    const beyond = anatomy.connectors.flatMap((c) => (c.from === id ? [c.to] : c.to === id ? [c.from] : []));
    return bodyOf(id) === null && beyond.length > 0 ? beyond.map(bodyOf) : [bodyOf(id)];
  });
  return power.filter((c) => {
    const rail = rails.find((r) => r.id === (c.isolates ?? rails[0]!.id))!;
    return rail.feeds.length === 0 || where.some((b) => b === null || rail.feeds.includes(b));
  });
}

/** A plug is looked at once for each time that it is mated. */
function seatedOnce({ steps }: Plan): Said {
  const seen = new Set<string>();
  for (const s of steps) {
    const again = s.gate === 'G1' ? s.items.find((id) => seen.has(id)) : undefined;
    if (again) return `step ${s.n}: ${again} is looked at twice`;
    for (const id of s.items) {
      if (s.gate === 'G1') seen.add(id);
      else if (s.do !== 'gate') seen.delete(id);
    }
  }
  return null;
}

/** Depth is what is off or open by then; live is whether power is joined; what is undone and what undoes it know each other. */
export function told(anatomy: Anatomy, plan: Plan): Said {
  const parts = new Map(anatomy.parts.map((p) => [p.id, p]));
  const power = anatomy.connectors.filter((c) => c.isolatesPower);
  const [off, open] = [new Set<string>(), new Set<string>()];
  for (const s of plan.steps) {
    const cutting = feeding(anatomy, power, s.items);
    const dead =
      cutting.length > 0 && cutting.every((c) => open.has(c.id) || (c.kind === 'contact' && off.has(c.from)));
    if (s.phase !== 'prepare' && s.live === dead) return `step ${s.n} is told ${s.live ? 'live' : 'isolated'}`;
    const deep = [...off].filter(
      (id) => !(s.do === 'fit' && s.items.includes(id)) && !parts.get(id)!.within && parts.get(id)!.face !== 'edge',
    ).length;
    if (s.depth !== deep) return `step ${s.n} is told at depth ${s.depth}, not ${deep}`;
    if (s.mirrors !== null) {
      const other = plan.steps[s.mirrors - 1];
      if (other?.mirrors !== s.n || !other.items.some((id) => s.items.includes(id)))
        return `step ${s.n} and what undoes it do not know each other`;
    }
    for (const id of s.items) {
      if (['lift', 'swing', 'ease'].includes(s.do)) off.add(id);
      if (s.do === 'fit') off.delete(id);
      if (s.do === 'disconnect' || s.do === 'desolder') open.add(id);
      if (s.do === 'connect' || s.do === 'solder') open.delete(id);
    }
  }
  return null;
}

/** What was moved is tested once, what never goes back is on the list, and a pair that parts is told. */
function accounted(anatomy: Anatomy, plan: Plan): Said {
  const within = (id: string, whole: string): boolean => {
    for (let at: string | null = id; at; at = anatomy.parts.find((p) => p.id === at)!.within)
      if (at === whole) return true;
    return false;
  };
  const moved = new Set<string>();
  const renew = new Set(plan.renew);
  for (const s of plan.steps)
    for (const id of s.items) {
      const c = anatomy.connectors.find((x) => x.id === id);
      if (c && (s.do === 'disconnect' || s.do === 'desolder')) for (const f of c.carries) moved.add(f);
      if (s.do === 'lift' || s.do === 'swing')
        for (const p of anatomy.parts) if (within(p.id, id)) for (const f of p.functions) moved.add(f);
      const bond = anatomy.bonds.find((b) => b.id === id);
      if (s.do === 'cut' && bond?.fate === 'renew' && !renew.has(id)) return `${id} is cut and not on the list`;
      const screw = anatomy.fasteners.find((f) => f.id === id);
      if (s.do === 'unscrew' && (screw?.fate === 'renew' || screw?.threadlock) && !renew.has(id))
        return `${id} never goes back and is not on the list`;
    }
  const lost = plan.losses.map((l) => l.function);
  const tested = plan.steps.filter((s) => s.do === 'test').flatMap((s) => s.items);
  const untested = [...moved].find((f) => !lost.includes(f) && !tested.includes(f));
  if (untested) return `${untested} was moved and is not tested`;
  if ([...new Set(tested)].sort().join() !== [...plan.touched].sort().join())
    return 'what is tested is not what is told';
  // Twice only where its part was opened once more in between.
  const first = plan.steps.findIndex((s) => s.do === 'test');
  const again = plan.steps.slice(first).filter((s) => s.do === 'swing');
  const rests = (f: string) => (part: string) =>
    anatomy.parts.some((p) => within(p.id, part) && p.functions.includes(f)) ||
    anatomy.connectors.some((c) => c.kind === 'contact' && c.carries.includes(f) && within(c.from, part));
  const twice = tested.find((f, i) => tested.indexOf(f) !== i && !again.some((s) => s.items.some(rests(f))));
  if (twice) return `${twice} is tested twice`;
  const fresh = new Set(plan.replace.flatMap((id) => anatomy.parts.flatMap((p) => (within(p.id, id) ? [p.id] : []))));
  for (const t of plan.transfers) for (const p of anatomy.parts) if (within(p.id, t.part)) fresh.delete(p.id);
  for (const p of anatomy.parts)
    for (const pair of p.pairing)
      if (fresh.has(p.id) || fresh.has(pair.with))
        for (const f of pair.loses) if (!lost.includes(f)) return `${f} is lost with ${p.id}, and nobody says so`;
  return plan.replace.find((id) => !renew.has(id)) ?? null;
}

/** @returns what is wrong with a plan, in words; `null` when nothing can be said against it */
export function wrongWith(model: Model, plan: Plan): string | null {
  const { anatomy } = model;
  const law = lawBroken(anatomy, plan);
  if (law) return `law: ${law}`;
  const laws = givesUp(plan);
  const violation = checkPlan(anatomy, plan, { laws });
  if (violation) return `judge: ${violation.rule}, step ${violation.step}: ${JSON.stringify(violation.said)}`;
  const idle = laws ? null : needless(anatomy, plan);
  if (idle) return `judge: R11, ${idle} could stay`;
  return (
    clock(plan) ??
    waited(plan) ??
    handled(anatomy, plan) ??
    driven(anatomy, plan) ??
    seatedOnce(plan) ??
    cautioned(anatomy, plan) ??
    told(anatomy, plan) ??
    accounted(anatomy, plan) ??
    wrongBack(anatomy, plan)
  );
}

/** May a part be said to have no dive? Only where the judge, power and turning aside, does not get it or the battery off. */
export function mayHaveNone(model: Model, part: string): boolean {
  const judge = new Checker(model.anatomy);
  const isolates = model.anatomy.connectors.filter((c) => c.isolatesPower).map((c) => c.from);
  return ![part, ...isolates].every((id) => judge.comesOff(id));
}
