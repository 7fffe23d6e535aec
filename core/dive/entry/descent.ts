import type { Fastener, Latch, Model, Part } from '../../anatomy/index.ts';
import { relation, rule } from '../graph/reasons.ts';
import type { Caution } from '../house/cautions.ts';
import { CONNECTOR_KINDS } from '../house/connectorKinds.ts';
import { FASTENER_SECONDS, isTurned, SECONDS } from '../house/times.ts';
import { driverFor, toolName } from '../house/tools.ts';
import type { Bundle } from '../order/bundles.ts';
import type { Phase } from '../types.ts';
import { fluxed } from './iron.ts';
import { draft, type Base, type Draft } from './draft.ts';
import { wordsOut } from './motion.ts';
import { releaseBond, type DescentSetting } from './seam.ts';

/** The steps by which one bundle is undone on the way in. */
export function descentSteps(model: Model, bundle: Bundle, phase: Phase, setting: DescentSetting): Draft[] {
  const base = { because: bundle.because, tool: bundle.tool };
  const id = bundle.items[0]!;
  switch (bundle.kind) {
    case 'loosen':
      return loosenAll(model, bundle, phase, setting.stripped, base);
    case 'open':
      return open(model, id, phase, base);
    case 'release':
      return model.latches.has(id)
        ? [releaseLatch(model.latches.get(id)!, phase, base)]
        : releaseBond(model, id, phase, setting, base);
    case 'ease':
      return [easeOpen(model.parts.get(id)!, phase, base)];
    case 'swing':
      return [swingOpen(model.parts.get(id)!, phase, base)];
    case 'lift':
      return [liftOff(model.parts.get(id)!, phase, base)];
    default:
      return bundle.kind satisfies never;
  }
}

function loosenAll(
  model: Model,
  bundle: Bundle,
  phase: Phase,
  stripped: ReadonlySet<string> | undefined,
  base: Base,
): Draft[] {
  const extract = bundle.items.filter((item) => stripped?.has(item));
  const sound = bundle.items.filter((item) => !stripped?.has(item));
  return [
    ...(sound.length > 0 ? [loosen(model, { ...bundle, items: sound }, phase, base)] : []),
    ...extract.map((item) =>
      draft(phase, 'unscrew', [item], {
        ...base,
        tool: 'screw-extractor',
        seconds: SECONDS.extractScrew,
        hint: 'Stripped: a band or the extractor, slowly; catch the swarf. It never goes back: a new one is driven in.',
      }),
    ),
  ];
}

function releaseLatch(latch: Latch, phase: Phase, base: Base): Draft {
  const edges = [latch.edge, ...latch.alsoAt].join(', ');
  const pried = latch.notch ? 'Enter at the notch and run along the edge.' : 'Work along the edge, catch by catch.';
  const last = 'Slide or tilt the part free of its hooks; it is the last thing that holds.';
  const byItself = 'It lets go by itself as the part is turned or slid out; nothing is pried here.';
  const how = latch.letsGo === 'turned' ? byItself : latch.release === 'last' ? last : pried;
  return draft(phase, 'release', [latch.id], {
    ...base,
    tool: latch.letsGo === 'turned' ? null : base.tool,
    seconds: latch.letsGo === 'turned' ? SECONDS.openLatchEach : latch.count * SECONDS.openLatchEach,
    hint: latch.alsoAt.length > 0 ? `All at once, on the edges ${edges}. ${how}` : how,
  });
}

const cautionsOf = (part: Part): Caution[] => {
  const cautions: Caution[] = [];
  if (part.kind === 'battery') cautions.push('lithium');
  if (part.glass) cautions.push('glass');
  return cautions;
};

function easeOpen(part: Part, phase: Phase, base: Base): Draft {
  const { width, reaches } = part.swing!.gap!;
  return draft(phase, 'ease', [part.id], {
    ...base,
    seconds: SECONDS.easeOpen,
    cautions: cautionsOf(part),
    hint: `Only a gap of ${width} mm at first: ${reaches.length === 1 ? 'a flex is' : 'flexes are'} still mated inside.`,
  });
}

function swingOpen(part: Part, phase: Phase, base: Base): Draft {
  return draft(phase, 'swing', [part.id], {
    ...base,
    seconds: SECONDS.swing,
    cautions: cautionsOf(part),
    hint:
      `Open towards the ${part.swing!.hinge} edge to about ${part.swing!.degrees}° ` +
      `and prop it; no flex may carry the weight. Photograph the layer.`,
  });
}

function liftOff(part: Part, phase: Phase, base: Base): Draft {
  if (part.kind === 'tray')
    return draft(phase, 'eject', [part.id], {
      ...base,
      seconds: SECONDS.ejectTray,
      hint: 'Press the pin straight in; keep the card with the job.',
    });
  const careful = part.kind === 'battery' ? 'Carry it by its frame, flat, with both hands.' : '';
  return draft(phase, 'lift', [part.id], {
    ...base,
    seconds: SECONDS.lift,
    cautions: cautionsOf(part),
    hint: [careful, wordsOut(part), part.note].filter(Boolean).join(' '),
  });
}

/** How what is never turned comes out. */
const PULLED: Record<Fastener['kind'], readonly string[]> = {
  screw: [],
  captive: [],
  standoff: [],
  clip: [],
  cap: ['A rubber cap: raise its lip and pull it; it has no thread.'],
  plug: ['It sits by friction: pull it straight out; it has no thread.'],
  'press-fit': ['Pressed in: ease it out evenly, a little on either side; it has no thread.'],
};

function loosen(model: Model, bundle: Bundle, phase: Phase, base: Base): Draft {
  const fasteners = bundle.items.map((id) => model.fasteners.get(id)!);
  const kind = fasteners[0]!.kind;
  const hints: string[] = [];
  if (kind === 'captive') hints.push('Captive: loosen only, they stay in the part.');
  if (kind === 'clip') hints.push('The clip flies off: shield it with a finger.');
  if (!isTurned(fasteners[0]!)) hints.push(...PULLED[kind]);
  if (fasteners.some((f) => !f.magnetic)) hints.push('Some are not magnetic and fall off the driver.');
  if (new Set(fasteners.map((f) => f.length)).size > 1) hints.push('Lengths differ: mind the well of each.');
  if (fasteners.some((f) => f.threadlock)) hints.push('Threadlocked: press firmly, turn slowly.');
  hints.push(...atAPinch(fasteners));
  return draft(phase, isTurned(fasteners[0]!) ? 'unscrew' : 'release', bundle.items, {
    ...base,
    because: fasteners.length > 1 ? [...base.because, rule('R12')] : base.because,
    seconds: fasteners.length * FASTENER_SECONDS[kind],
    hint: hints.join(' '),
  });
}

/** Other drivers that turn these screws at a pinch, each told once. */
function atAPinch(fasteners: readonly Fastener[]): string[] {
  const told = fasteners.flatMap((f) =>
    f.alternatives.map(
      ({ drive, caution }) =>
        `At a pinch ${toolName(driverFor(drive))}${caution ? `: ${caution.replace(/\.$/, '')}` : ''}.`,
    ),
  );
  return [...new Set(told)];
}

function open(model: Model, id: string, phase: Phase, base: Base): Draft[] {
  const c = model.connectors.get(id)!;
  const kind = CONNECTOR_KINDS[c.kind];
  const steps = [
    ...(kind.iron ? [fluxed(id, phase, kind.iron)] : []),
    draft(phase, kind.open.verb, [id], {
      ...base,
      because: kind.iron ? [...base.because, rule('R24')] : base.because,
      seconds: kind.open.seconds + (kind.iron?.cool ?? 0),
      cautions: c.isolatesPower ? ['lithium', ...kind.cautions] : [...kind.cautions],
      hint: [kind.open.hint, c.shape ? `Note how it lies: ${c.shape}.` : ''].filter(Boolean).join(' '),
    }),
  ];
  if (!c.isolatesPower && c.liesOver.length > 0)
    steps.push(
      draft(phase, 'bend-aside', [id], {
        because: c.liesOver.map((over) => relation('foldsOver', over)),
        tool: 'spudger',
        seconds: SECONDS.bendAside,
        hint: `Fold the ${c.flex === null ? 'flex' : 'head'} aside over its other end, no sharp bend.`,
      }),
    );
  if (c.isolatesPower) {
    steps.push(
      draft(phase, 'bend-aside', [id], {
        ...base,
        because: [rule('A4')],
        seconds: SECONDS.bendAside,
        cautions: ['retained-charge'],
        hint: 'Bend the flex aside so that it cannot touch its socket.',
      }),
    );
  }
  return steps;
}
