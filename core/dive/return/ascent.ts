import type { Bond, Model } from '../../anatomy/index.ts';
import type { Caution } from '../house/cautions.ts';
import { draft, joinsCell, type Draft } from '../entry/descent.ts';
import { keyOf } from '../graph/keys.ts';
import { relation, rule } from '../graph/reasons.ts';
import type { StepGraph } from '../graph/stepGraph.ts';
import { openingTool, type Bundle } from '../order/bundles.ts';
import { pressTool, type HouseRules } from '../house/rules.ts';
import { pressWait, SECONDS, SEAT_SECONDS } from '../house/times.ts';
import { tighteningOrder } from '../order/driving.ts';
import { driverFor } from '../house/tools.ts';
import { NoDive, type Phase, type Standing } from '../types.ts';

/**
 * A7: for every bundle of the way back the bundles that come before it there. Geometry reversed,
 * `mateOrder` kept, isolation undone last among the connectors.
 * @param included bundle indices of this limb
 */
export function ascentNeeds(
  graph: StepGraph,
  bundles: readonly Bundle[],
  included: readonly number[],
): Map<number, Set<number>> {
  const { model } = graph;
  const after = new Map<number, Set<number>>(included.map((i) => [i, new Set<number>()]));
  const within = (i: number) => after.has(i);
  for (const then of included) {
    for (const [first, { physical }] of bundles[then]!.needs)
      if (physical && within(first)) after.get(first)!.add(then);
  }
  const openingIndex = (connector: string): number => {
    const key = graph.openingOf(connector);
    return bundles.findIndex((b) => keyOf(b.kind, b.items[0]!) === key);
  };
  const isolation = new Set(
    graph.isolation.map((key) => bundles.findIndex((b) => keyOf(b.kind, b.items[0]!) === key)).filter(within),
  );
  const closes = (from: number, to: number): boolean => {
    const stack = [from];
    const seen = new Set<number>();
    while (stack.length > 0) {
      const at = stack.pop()!;
      if (at === to) return true;
      if (seen.has(at)) continue;
      seen.add(at);
      stack.push(...after.get(at)!);
    }
    return false;
  };
  for (const i of [...included].reverse()) {
    const opened =
      bundles[i]!.kind === 'open' ||
      (bundles[i]!.kind === 'lift' && graph.contactsBroken(bundles[i]!.items[0]!).length > 0);
    if (!opened || isolation.has(i)) continue;
    // A live connector lies over the isolation itself: it can only be closed after it.
    for (const iso of isolation) if (!closes(i, iso)) after.get(iso)!.add(i);
  }
  for (const list of model.anatomy.mateOrder) {
    const present = list.map(openingIndex).filter((i) => i >= 0 && within(i));
    for (let k = 0; k + 1 < present.length; k++) after.get(present[k + 1]!)!.add(present[k]!);
  }
  // A part is screwed down before flexes are pressed onto it, wherever its screws can be reached by then.
  for (const then of included) {
    if (bundles[then]!.kind !== 'open') continue;
    const c = model.connectors.get(bundles[then]!.items[0]!)!;
    for (const first of included) {
      if (bundles[first]!.kind !== 'loosen' || bundles[first]!.face === 'edge') continue;
      const held = bundles[first]!.items.flatMap((id) => model.fasteners.get(id)!.holds);
      if ((held.includes(c.to) || held.includes(c.from)) && !closes(first, then)) after.get(then)!.add(first);
    }
  }
  return after;
}

/**
 * The bundles in the order of the way back that mirrors the way in wherever that is allowed.
 * @param descent bundle indices in the order of the way in
 * @throws NoDive when `mateOrder` contradicts the geometry
 */
export function mirrorOrder(
  bundles: readonly Bundle[],
  descent: readonly number[],
  after: ReadonlyMap<number, ReadonlySet<number>>,
): number[] {
  const mirror = [...descent].reverse();
  const done = new Set<number>();
  const order: number[] = [];
  while (order.length < mirror.length) {
    const free = (i: number) => !done.has(i) && [...after.get(i)!].every((j) => done.has(j));
    // A bond is pressed and a catch snapped as soon as its part lies.
    const next = mirror.find((i) => bundles[i]!.kind === 'release' && free(i)) ?? mirror.find(free);
    if (next === undefined)
      throw new NoDive(
        'mateOrder',
        'the mating order cannot be kept: it asks for a connector that is already covered by then; correct mateOrder or the layers',
      );
    done.add(next);
    order.push(next);
  }
  return order;
}

interface Ascent {
  graph: StepGraph;
  bundles: readonly Bundle[];
  /** Bundles of this limb in the order of the way back. */
  order: readonly number[];
  rules: HouseRules;
  phase: Phase;
  /** Old parts that are exchanged; they come back as new ones. */
  replaced: ReadonlySet<string>;
  transferred: ReadonlySet<string>;
  /** Functions touched that can be tested before the device is closed. */
  openTests: readonly string[];
  /** Where the device stood when this plan began; `undefined` is closed. */
  from: Standing | undefined;
}

/** What one bundle becomes on the way back: cleaning, which dries while other things are done, then the rest. */
export interface Return {
  clean: Draft | null;
  main: Draft[];
}

/** The steps of the way back, by bundle index; gates and tests stand where this order makes them due. */
export function ascentSteps(ascent: Ascent): Map<number, Return> {
  const { graph, bundles, order, rules } = ascent;
  const { model } = graph;
  const returns = new Map<number, Return>();
  const gatedConnectors = new Set<string>();
  const gatedScrews = new Set<string>();
  let tested = false;
  const closings = order.filter((i) => isClosing(bundles, order, i));
  const lastClosing = closings
    .filter((i) => model.contextOf(bundles[i]!.items[0]!) === null && bundles[i]!.face !== 'edge')
    .at(-1);
  const isolationLeft = new Set(
    graph.isolation.filter((key) => order.some((i) => keyOf(bundles[i]!.kind, bundles[i]!.items[0]!) === key)),
  );

  for (const i of order) {
    const bundle = bundles[i]!;
    const id = bundle.items[0]!;
    const base = { because: [relation('returns', id)] };
    if (bundle.kind === 'loosen') returns.set(i, { clean: null, main: [fasten(model, bundle, ascent.phase, base)] });
    else if (bundle.kind === 'open') returns.set(i, { clean: null, main: [seat(model, id, ascent.phase, base)] });
    else if (bundle.kind === 'release')
      returns.set(i, { clean: null, main: closesWithItsPart(id) ? [] : settle(model, id, ascent.phase, rules, base) });
    else returns.set(i, close(i));
    isolationLeft.delete(keyOf(bundle.kind, id));
  }
  return returns;

  function close(i: number): Return {
    const bundle = bundles[i]!;
    const part = model.parts.get(bundle.items[0]!)!;
    const base = { because: [relation('returns', part.id)] };
    const out: Draft[] = [];
    let clean: Draft | null = null;
    const gate = (g: Draft['gate'], items: string[], hint: string) =>
      out.push(draft(ascent.phase, 'gate', items, { gate: g, because: [rule(g!)], seconds: SECONDS.gate, hint }));

    if (!isClosing(bundles, order, i)) {
      // It only comes back onto its hinge; it is closed, and gated, later.
      const hint = `Hang it at the ${part.swing!.hinge} edge, propped; no flex may carry the weight.`;
      return {
        clean: null,
        main: [
          draft(ascent.phase, 'swing', [part.id], {
            ...base,
            seconds: SECONDS.swing,
            hint,
            cautions: part.glass ? ['glass'] : [],
          }),
        ],
      };
    }
    const beneath = (items: readonly string[]) =>
      items.filter(
        (id) => graph.covers.get(id)!.includes(part.id) || model.connectors.get(id)?.reachedBy?.swing === part.id,
      );
    const opened = order.flatMap((j) =>
      bundles[j]!.kind === 'open'
        ? bundles[j]!.items
        : bundles[j]!.kind === 'lift'
          ? graph.contactsBroken(bundles[j]!.items[0]!)
          : [],
    );
    // What was undone and made good before this plan began still has to pass its gate.
    const ungated = (g: 'G1' | 'G2', items: ReadonlyMap<string, unknown>) =>
      [...(ascent.from?.touched ?? [])].filter(
        (id) => items.has(id) && !ascent.from!.absent.has(id) && !ascent.from!.gated.get(g)?.has(id),
      );
    const connectors = beneath([...new Set([...opened, ...ungated('G1', model.connectors)])]);
    const fresh = connectors.filter((id) => !gatedConnectors.has(id) && model.connectors.get(id)!.kind !== 'contact');
    if (fresh.length > 0) {
      gate('G1', fresh, 'Every connector below is seated: run a fingertip over each.');
      for (const id of fresh) gatedConnectors.add(id);
    }
    const screws = beneath([
      ...new Set([
        ...order.flatMap((j) => (bundles[j]!.kind === 'loosen' ? bundles[j]!.items : [])),
        ...ungated('G2', model.fasteners),
      ]),
    ]).filter((id) => !gatedScrews.has(id));
    if (screws.length > 0) {
      gate('G2', screws, 'All wells of the layers below are empty.');
      for (const id of screws) gatedScrews.add(id);
    }
    const bonds = model.anatomy.bonds.filter((b) => restored(i, b));
    const last = i === lastClosing;
    const seals =
      bonds.some((b) => b.kind !== 'thermal' && b.kind !== 'foil') &&
      (connectors.length > 0 || (part.within === null && part.layer === 0));
    if (
      !tested &&
      isolationLeft.size === 0 &&
      ascent.openTests.length > 0 &&
      (seals || (last && rules.powerOnTest === 'before-sealing'))
    ) {
      const tests = [...ascent.openTests];
      const emitters: Caution[] = order.some((j) =>
        bundles[j]!.items.some((id) => model.parts.get(id)?.kind === 'sensor'),
      )
        ? ['emitter']
        : [];
      out.push(
        draft(ascent.phase, 'power-on', [], {
          seconds: SECONDS.powerOn,
          because: [rule('G4')],
          cautions: emitters,
          hint: 'Everything connected, nothing sealed.',
        }),
      );
      out.push(draft(ascent.phase, 'test', tests, { seconds: tests.length * SECONDS.perTest, because: [rule('G4')] }));
      gate('G4', tests, 'Every function touched so far has passed, or is waived with a reason.');
      tested = true;
    }
    if (bonds.length > 0 || part.kind === 'battery' || last) {
      const what =
        bonds.length > 0
          ? 'Take off the old adhesive; wipe surfaces and contacts; let dry at least 30 s.'
          : 'Wipe the contacts; look for anything loose; let dry.';
      clean = draft(ascent.phase, 'clean', [part.id], {
        seconds: SECONDS.clean,
        waits: SECONDS.cleanDry,
        tool: 'wipes',
        because: [rule('G3')],
        cautions: ['solvent'],
        hint: what,
      });
    }
    if (part.kind === 'battery' || last) {
      if (part.kind === 'battery') {
        out.push(
          draft(ascent.phase, 'inspect', [part.id], {
            seconds: SECONDS.inspect,
            because: [rule('A7')],
            cautions: ['lithium'],
            hint: 'No puncture, swelling or dent; if in doubt, do not fit it.',
          }),
        );
      }
      gate('G3', [part.id], 'Nothing loose, contacts and bonding surfaces clean and dry.');
    }
    for (const bond of bonds) out.push(...prepareBond(bond));
    const lined = bonds.filter(
      (b) =>
        b.fate === 'renew' &&
        (b.kind === 'tape' || b.kind === 'stretch-tab' || b.kind === 'pull-pouch') &&
        !(b.kind === 'tape' && rules.seal === 'liquid-glue'),
    );
    if (lined.length > 0) {
      out.push(
        draft(
          ascent.phase,
          'remove-liner',
          lined.map((b) => b.id),
          {
            seconds: SECONDS.liners * lined.length,
            because: [rule('G5')],
            hint: 'Liners come off in order; those on the strips last.',
          },
        ),
      );
    }
    if (bonds.some((b) => b.kind !== 'thermal' && b.kind !== 'foil'))
      gate(
        'G5',
        bonds.map((b) => b.id),
        'All liners off, transfers and lens films done.',
      );

    const hooks = model.anatomy.latches.filter((l) => l.mate === 'first' && l.joins.includes(part.id));
    const hints = [
      hooks.length > 0
        ? `Hook the ${hooks.map((l) => l.edge).join(' and ')} edge in first, at about 20°, then lay it down along the sides.`
        : '',
      part.glass ? 'No force; flush all round.' : '',
      graph.contactsBroken(part.id).length > 0 ? 'Check that the spring contacts stand up and meet their pads.' : '',
    ].filter(Boolean);
    const cautions: Caution[] = [
      ...(part.kind === 'battery' ? (['lithium'] as const) : []),
      ...(part.glass ? (['glass'] as const) : []),
    ];
    out.push(
      draft(ascent.phase, ascent.transferred.has(part.id) ? 'transfer' : 'fit', [part.id], {
        ...base,
        seconds: bonds.length > 0 ? SECONDS.fitBonded : SECONDS.fit,
        cautions,
        hint: hints.join(' '),
        because: ascent.replaced.has(part.id) ? [relation('fresh', part.id)] : base.because,
      }),
    );
    // A bond is pressed as soon as its part lies.
    for (const bond of bonds)
      if (bond.kind !== 'thermal')
        out.push(...settle(model, bond.id, ascent.phase, rules, { because: [relation('returns', bond.id)] }));
    return { clean, main: out };
  }

  function closesWithItsPart(id: string): boolean {
    return closings.some((i) => restored(i, model.bonds.get(id) ?? null));
  }

  function hasBundle(id: string): boolean {
    return order.some((j) => bundles[j]!.kind === 'release' && bundles[j]!.items[0] === id);
  }

  /** Bonds that come into being again when this part is laid down: those whose release it needed, and thermal ones. */
  function restored(i: number, bond: Bond | null): boolean {
    if (!bond) return false;
    const bundle = bundles[i]!;
    const family = model.familyOf(bundle.items[0]!);
    if (bond.kind === 'foil') return false;
    if (!divides(family, bond.joins)) return false;
    // Where two parts of a bond are both off, it closes with the one that is laid down last.
    const later = order.slice(order.indexOf(i) + 1).some((j) => {
      const other = bundles[j]!;
      return (
        (other.kind === 'lift' || other.kind === 'swing') &&
        isClosing(bundles, order, j) &&
        bond.joins.includes(other.items[0]!) &&
        divides(model.familyOf(other.items[0]!), bond.joins)
      );
    });
    return !later && (bond.kind === 'thermal' || hasBundle(bond.id));
  }

  function prepareBond(bond: Bond): Draft[] {
    if (bond.fate === 'keep' || ascent.from?.renewed.has(bond.id)) return [];
    const seconds = {
      tape:
        rules.seal === 'die-cut'
          ? SECONDS.newTape
          : rules.seal === 'strips'
            ? SECONDS.newTapeStrips
            : SECONDS.liquidGlue,
      'stretch-tab': SECONDS.newTabs,
      'pull-pouch': SECONDS.newTabs,
      glue: SECONDS.liquidGlue,
      gasket: SECONDS.newTape,
      thermal: SECONDS.newPaste,
      foil: SECONDS.newFoil,
    }[bond.kind];
    const lay = {
      'die-cut': 'Lay the die-cut seal from one corner.',
      strips: 'Cut the strips to the old run.',
      'liquid-glue': 'A thin even bead; nothing near mesh or lens.',
    }[rules.seal];
    const how =
      bond.kind === 'tape'
        ? `${lay} Leave the gaps for sensors, camera and mesh.`
        : bond.kind === 'stretch-tab'
          ? 'New strips, tabs folded where they can be gripped.'
          : '';
    const cell = joinsCell(model, bond.joins);
    return [
      draft(ascent.phase, 'bond', [bond.id], {
        seconds,
        because: [relation('renews', bond.id)],
        cautions: bond.kind === 'glue' ? ['solvent'] : cell ? ['lithium'] : [],
        hint: how,
      }),
    ];
  }
}

/** True when some but not all of `joined` belong to the family. */
function divides(family: readonly string[], joined: readonly string[]): boolean {
  return joined.some((id) => family.includes(id)) && !joined.every((id) => family.includes(id));
}

/** The move that shuts a part: for one that was swung and then lifted, the closing of the swing. */
function isClosing(bundles: readonly Bundle[], order: readonly number[], i: number): boolean {
  const bundle = bundles[i]!;
  if (bundle.kind === 'swing') return true;
  if (bundle.kind !== 'lift') return false;
  return !order.some((j) => bundles[j]!.kind === 'swing' && bundles[j]!.items[0] === bundle.items[0]);
}

type Base = Pick<Draft, 'because'>;

function fasten(model: Model, bundle: Bundle, phase: Phase, base: Base): Draft {
  const items = tighteningOrder(bundle.items.map((id) => model.fasteners.get(id)!));
  const fasteners = items.map((id) => model.fasteners.get(id)!);
  const kind = fasteners[0]!.kind;
  const each =
    kind === 'captive'
      ? SECONDS.perCaptive
      : kind === 'standoff'
        ? SECONDS.perStandoff
        : kind === 'clip'
          ? SECONDS.perClip
          : SECONDS.perScrew;
  const locked = fasteners.filter((f) => f.threadlock);
  const torques = [...new Set(fasteners.flatMap((f) => (f.torque === null ? [] : [f.torque])))];
  const crosswise = fasteners.length > 2 && !fasteners.some((f) => f.order !== null);
  const hints = [
    `Turn backwards until the thread drops in, then forwards. ${fasteners.length === 1 ? '' : crosswise ? 'Two passes crosswise: all loosely, then tight in the same order.' : 'Two passes: all loosely, then tight in order.'}`.trim(),
  ];
  if (torques.length > 0) hints.push(`Torque ${torques.join(' and ')} N·cm.`);
  else hints.push('Snug, no more.');
  if (locked.length > 0) hints.push('New screws with activator and one drop of threadlocker.');
  return draft(phase, 'fasten', items, {
    ...base,
    tool: driverFor(fasteners[0]!.drive),
    hint: hints.join(' '),
    seconds: fasteners.length * each + locked.length * SECONDS.screwExtraWithThreadlock,
  });
}

function seat(model: Model, id: string, phase: Phase, base: Base): Draft {
  const c = model.connectors.get(id)!;
  const hint =
    c.kind === 'solder'
      ? 'Isolated only. Clean pads, little heat, look at the joint.'
      : c.isolatesPower
        ? 'Last of all: align, press evenly, hear the snap. From here the device is live.'
        : 'Clean the contacts, align, press evenly until it clicks. Never force.';
  return draft(phase, c.kind === 'solder' ? 'solder' : 'connect', [id], {
    ...base,
    tool: openingTool(model, id),
    seconds: SEAT_SECONDS[c.kind],
    hint,
    because: c.isolatesPower ? [rule('A7'), ...base.because] : base.because,
    cautions: c.kind === 'solder' ? ['solder', 'hot'] : c.isolatesPower ? ['lithium', 'static'] : ['static'],
  });
}

/** What is left of a bond or a latch once the part lies in its place: snapping in, pressing, curing. */
function settle(model: Model, id: string, phase: Phase, rules: HouseRules, base: Base): Draft[] {
  const latch = model.latches.get(id);
  if (latch) {
    if (latch.mate === 'first') return [];
    return [
      draft(phase, 'press', [id], {
        ...base,
        seconds: latch.count * SECONDS.snapLatchEach,
        hint: 'Press along the edge until every catch has snapped.',
      }),
    ];
  }
  const bond = model.bonds.get(id)!;
  if (bond.kind === 'foil') {
    return [
      draft(phase, 'bond', [id], {
        ...base,
        seconds: SECONDS.newFoil,
        hint: bond.fate === 'keep' ? 'Smooth the foil back.' : 'Lay a new foil.',
      }),
    ];
  }
  const press = pressWait(bond, rules);
  return [
    draft(phase, press.verb, [id], {
      ...base,
      tool: press.wait > 0 ? (pressTool(rules) ?? 'clips') : null,
      seconds: press.hands,
      waits: press.wait,
      cautions: joinsCell(model, bond.joins) ? ['lithium'] : press.verb === 'cure' ? ['solvent'] : [],
      hint:
        press.verb === 'cure' ? 'Clamp lightly and let it cure.' : 'Even pressure all along the bond; flush, no gap.',
    }),
  ];
}
