import { CATCHES } from '../../kinds/index.ts';
import type { Fastener, Latch, Model, Part } from '../../anatomy/index.ts';
import { relation, rule } from '../graph/reasons.ts';
import type { Caution } from '../house/cautions.ts';
import { CONNECTOR_KINDS } from '../house/connectorKinds.ts';
import { FASTENER_KINDS } from '../house/fastenerKinds.ts';
import { isTurned, SECONDS } from '../house/times.ts';
import { quoted, sameMessage } from '../../message/index.ts';
import type { Hint } from '../hints.ts';
import { driverFor } from '../house/tools.ts';
import type { Bundle } from '../order/bundles.ts';
import type { Phase } from '../types.ts';
import { fluxed } from './iron.ts';
import { draft, type Base, type Draft } from './draft.ts';
import { wayOut } from './motion.ts';
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
        hint: [{ code: 'screw-stripped' }],
      }),
    ),
  ];
}

function releaseLatch(latch: Latch, phase: Phase, base: Base): Draft {
  const how: Hint = {
    code: !CATCHES.of(latch.letsGo).worked
      ? 'latch-turned'
      : latch.release === 'last'
        ? 'latch-last'
        : latch.notch
          ? 'latch-notch'
          : 'latch-along',
  };
  return draft(phase, 'release', [latch.id], {
    ...base,
    tool: !CATCHES.of(latch.letsGo).worked ? null : base.tool,
    seconds: !CATCHES.of(latch.letsGo).worked ? SECONDS.openLatchEach : latch.count * SECONDS.openLatchEach,
    hint: latch.alsoAt.length > 0 ? [{ code: 'latch-all-edges', edges: [latch.edge, ...latch.alsoAt] }, how] : [how],
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
    hint: [{ code: 'gap-first', width, flexes: reaches.length }],
  });
}

function swingOpen(part: Part, phase: Phase, base: Base): Draft {
  return draft(phase, 'swing', [part.id], {
    ...base,
    seconds: SECONDS.swing,
    cautions: cautionsOf(part),
    hint: [{ code: 'swing-open', edge: part.swing!.hinge, degrees: part.swing!.degrees }],
  });
}

function liftOff(part: Part, phase: Phase, base: Base): Draft {
  if (part.kind === 'tray')
    return draft(phase, 'eject', [part.id], {
      ...base,
      seconds: SECONDS.ejectTray,
      hint: [{ code: 'tray-pin' }],
    });
  const careful: Hint[] = part.kind === 'battery' ? [{ code: 'carry-cell' }] : [];
  return draft(phase, 'lift', [part.id], {
    ...base,
    seconds: SECONDS.lift,
    cautions: cautionsOf(part),
    hint: [...careful, ...wayOut(part), ...quoted(part.note)],
  });
}

function loosen(model: Model, bundle: Bundle, phase: Phase, base: Base): Draft {
  const fasteners = bundle.items.map((id) => model.fasteners.get(id)!);
  const kind = fasteners[0]!.kind;
  const hint: Hint[] = [...FASTENER_KINDS.of(kind).out];
  if (fasteners.some((f) => !f.magnetic)) hint.push({ code: 'not-magnetic' });
  if (new Set(fasteners.map((f) => f.length)).size > 1) hint.push({ code: 'lengths-differ' });
  if (fasteners.some((f) => f.threadlock)) hint.push({ code: 'threadlocked' });
  hint.push(...atAPinch(fasteners));
  return draft(phase, isTurned(fasteners[0]!) ? 'unscrew' : 'release', bundle.items, {
    ...base,
    because: fasteners.length > 1 ? [...base.because, rule('R12')] : base.because,
    seconds: fasteners.length * FASTENER_KINDS.of(kind).seconds,
    hint,
  });
}

/** Other drivers that turn these screws at a pinch, each told once. */
function atAPinch(fasteners: readonly Fastener[]): Hint[] {
  const told = fasteners.flatMap((f) =>
    f.alternatives.map(({ drive, caution }): Hint => ({ code: 'at-a-pinch', tool: driverFor(drive), caution })),
  );
  return told.filter((hint, i) => told.findIndex((other) => sameMessage(other, hint)) === i);
}

function open(model: Model, id: string, phase: Phase, base: Base): Draft[] {
  const c = model.connectors.get(id)!;
  const kind = CONNECTOR_KINDS.of(c.kind);
  const steps = [
    ...(kind.iron ? [fluxed(id, phase, kind.iron)] : []),
    draft(phase, kind.open.verb, [id], {
      ...base,
      because: kind.iron ? [...base.because, rule('R24')] : base.because,
      seconds: kind.open.seconds + (kind.iron?.cool ?? 0),
      cautions: c.isolatesPower ? ['lithium', ...kind.cautions] : [...kind.cautions],
      hint: [{ code: `open-${kind.open.way}` }, ...(c.shape ? [{ code: 'shape-out', words: c.shape } as const] : [])],
    }),
  ];
  if (!c.isolatesPower && c.liesOver.length > 0)
    steps.push(
      draft(phase, 'bend-aside', [id], {
        because: c.liesOver.map((over) => relation('foldsOver', over)),
        tool: 'spudger',
        seconds: SECONDS.bendAside,
        hint: [{ code: c.flex === null ? 'fold-flex-aside' : 'fold-head-aside' }],
      }),
    );
  if (c.isolatesPower) {
    steps.push(
      draft(phase, 'bend-aside', [id], {
        ...base,
        because: [rule('A4')],
        seconds: SECONDS.bendAside,
        cautions: ['retained-charge'],
        hint: [{ code: 'bend-clear' }],
      }),
    );
  }
  return steps;
}
