import { rule, type Reason } from '../graph/reasons.ts';
import { bondLength, type Model } from '../../anatomy/index.ts';
import { CUT_SECONDS } from '../../opening/index.ts';
import { BOND_KINDS } from '../house/bondKinds.ts';
import { CONNECTOR_KINDS } from '../house/connectorKinds.ts';
import type { Caution } from '../house/cautions.ts';
import { releaseMethod, type Bundle } from '../order/bundles.ts';
import { cuttingOf, heatingOf, type HeatBasis } from './heating.ts';
import type { HouseRules } from '../house/rules.ts';
import { FASTENER_SECONDS, SECONDS } from '../house/times.ts';
import type { Condition, HeatSetting, Phase, Step } from '../types.ts';

/** A step before it is numbered and placed. */
export type Draft = Omit<
  Step,
  'id' | 'n' | 'mirrors' | 'live' | 'face' | 'depth' | 'waitsFor' | 'starts' | 'because'
> & {
  face?: Step['face'];
  because: Reason[];
};

export function draft(phase: Phase, verb: Step['do'], items: string[], rest: Partial<Draft> = {}): Draft {
  return {
    phase,
    do: verb,
    items,
    tool: null,
    seconds: 0,
    waits: 0,
    because: [],
    cautions: [],
    gate: null,
    hint: '',
    heat: null,
    ...rest,
  };
}

export function joinsCell(model: Model, joins: readonly string[]): boolean {
  return joins.some((id) => model.parts.get(id)?.kind === 'battery');
}

function isGlass(model: Model, joins: readonly string[]): boolean {
  return joins.some((id) => model.parts.get(id)?.glass);
}

/** What the steps of a bundle hang on besides the bundle itself. */
export interface DescentSetting {
  rules: HouseRules;
  condition: Condition;
  basis: HeatBasis;
  /** Fasteners that only an extractor draws. */
  stripped?: ReadonlySet<string> | undefined;
  /** Whether a metal blade may be used: nothing is open yet, or the device is isolated by then, whatever the order (A5). Asked only where a blade would be. */
  mayBlade: () => boolean;
}

/** The steps by which one bundle is undone on the way in. */
export function descentSteps(model: Model, bundle: Bundle, phase: Phase, setting: DescentSetting): Draft[] {
  const { stripped } = setting;
  const base = { because: bundle.because, tool: bundle.tool };
  const id = bundle.items[0]!;
  if (bundle.kind === 'loosen') {
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
  if (bundle.kind === 'open') return open(model, id, phase, base);
  if (bundle.kind === 'release') {
    const latch = model.latches.get(id);
    if (latch) {
      const from = latch.notch ? 'Enter at the notch and run along the edge.' : 'Work along the edge, catch by catch.';
      return [
        draft(phase, 'release', [id], {
          ...base,
          seconds: latch.count * SECONDS.openLatchEach,
          hint:
            latch.release === 'last'
              ? 'Slide or tilt the part free of its hooks; it is the last thing that holds.'
              : from,
        }),
      ];
    }
    return releaseBond(model, id, phase, setting, base);
  }
  const part = model.parts.get(id)!;
  const cautions: Caution[] = [];
  if (part.kind === 'battery') cautions.push('lithium');
  if (part.glass) cautions.push('glass');
  if (bundle.kind === 'swing') {
    const hint = `Open towards the ${part.swing!.hinge} edge to about ${part.swing!.degrees}° and prop it; no flex may carry the weight. Photograph the layer.`;
    return [draft(phase, 'swing', [id], { ...base, seconds: SECONDS.swing, cautions, hint })];
  }
  if (part.kind === 'tray') {
    return [
      draft(phase, 'eject', [id], {
        ...base,
        seconds: SECONDS.ejectTray,
        hint: 'Press the pin straight in; keep the card with the job.',
      }),
    ];
  }
  const hints = [part.kind === 'battery' ? 'Carry it by its frame, flat, with both hands.' : '', part.note].filter(
    Boolean,
  );
  return [draft(phase, 'lift', [id], { ...base, seconds: SECONDS.lift, cautions, hint: hints.join(' ') })];
}

type Base = Pick<Draft, 'because' | 'tool'>;

function loosen(model: Model, bundle: Bundle, phase: Phase, base: Base): Draft {
  const fasteners = bundle.items.map((id) => model.fasteners.get(id)!);
  const kind = fasteners[0]!.kind;
  const hints: string[] = [];
  if (kind === 'captive') hints.push('Captive: loosen only, they stay in the part.');
  if (kind === 'clip') hints.push('The clip flies off: shield it with a finger.');
  if (fasteners.some((f) => !f.magnetic)) hints.push('Some are not magnetic and fall off the driver.');
  if (new Set(fasteners.map((f) => f.length)).size > 1) hints.push('Lengths differ: mind the well of each.');
  if (fasteners.some((f) => f.threadlock)) hints.push('Threadlocked: press firmly, turn slowly.');
  return draft(phase, kind === 'clip' ? 'release' : 'unscrew', bundle.items, {
    ...base,
    seconds: fasteners.length * FASTENER_SECONDS[kind],
    hint: hints.join(' '),
  });
}

function open(model: Model, id: string, phase: Phase, base: Base): Draft[] {
  const c = model.connectors.get(id)!;
  const kind = CONNECTOR_KINDS[c.kind];
  const steps = [
    draft(phase, kind.open.verb, [id], {
      ...base,
      seconds: kind.open.seconds,
      cautions: c.isolatesPower ? ['lithium', ...kind.cautions] : [...kind.cautions],
      hint: kind.open.hint,
    }),
  ];
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

function releaseBond(
  model: Model,
  id: string,
  phase: Phase,
  { rules, condition, basis, mayBlade }: DescentSetting,
  base: Base,
): Draft[] {
  const bond = model.bonds.get(id)!;
  const cell = joinsCell(model, bond.joins);
  const glass = isGlass(model, bond.joins);
  const length = bondLength(bond, (part) => model.parts.get(part)!.outline);
  const cutSeconds = Math.round((length / 10) * (cell ? SECONDS.pryGluePerCentimetre : CUT_SECONDS.perCentimetre));
  const method = releaseMethod(model, bond, rules);
  const lithium: Caution[] = cell ? ['lithium'] : [];
  if (method === 'peel')
    return [
      draft(phase, 'release', [id], {
        ...base,
        tool: 'tweezers',
        seconds: SECONDS.peelFoil,
        hint: 'Peel slowly from a corner.',
      }),
    ];
  if (method === 'pull') {
    return [
      draft(phase, 'pull', [id], {
        ...base,
        tool: null,
        seconds: bond.tabs.length * SECONDS.pullPerTab,
        cautions: lithium,
        hint: BOND_KINDS[bond.kind].pull,
      }),
    ];
  }
  const steps: Draft[] = [];
  const hard = method === 'heat-solvent-and-cut';
  let heat: HeatSetting | null = null;
  if (method === 'heat-and-cut' || hard) {
    const heating = heatingOf(model, bond, rules, hard, basis);
    heat = heating.setting;
    steps.push(
      draft(phase, 'heat', [id], {
        ...base,
        tool: rules.heat,
        seconds: heating.hands,
        waits: heating.wait,
        cautions: ['hot', 'lithium'],
        hint: heating.hint,
        heat,
      }),
    );
  }
  // Under a cell it is the card and the patience that count, not the depth.
  const cutting = cell ? null : cuttingOf(model, bond, rules, condition.crackedGlass, heat);
  const gap = () => {
    // Where a cup has no room, the way that has takes its place.
    const way = cutting?.gap.way ?? rules.firstGap;
    const cautions: Caution[] = glass ? ['glass'] : [];
    const told = cutting?.gap.how;
    if (way === 'thin-blade') {
      // A5: the blade is metal; it may part the rim from outside, but not go into a live device.
      const blade = mayBlade();
      const plastic = blade ? '' : ' Here it is a plastic pick: the device may be open and live by now.';
      return draft(phase, 'gap', [id], {
        ...base,
        tool: blade ? 'thin-blade' : 'pick',
        seconds: SECONDS.gap,
        cautions,
        hint: (told ?? 'At the frame, never between the glass and its rim; no deeper than the rim.') + plastic,
      });
    }
    const tape = condition.crackedGlass && glass ? ' The cup holds on the clear tape.' : '';
    return draft(phase, 'gap', [id], {
      ...base,
      tool: way,
      seconds: SECONDS.gap,
      cautions,
      hint: `${told ?? 'Lift until a hairline shows, no more.'} Then set a pick.${tape}`,
    });
  };
  const outside = 'perimeterOf' in bond.at;
  if (hard && outside && !cell) steps.push(gap());
  if (method === 'solvent-and-cut' || hard) {
    steps.push(
      draft(phase, 'solvent', [id], {
        ...base,
        tool: 'solvent-dropper',
        seconds: SECONDS.solvent,
        waits: SECONDS.solventWait,
        cautions: ['solvent', ...lithium],
        hint: 'A few drops along the seam; let it creep. No heat while it is wet.',
      }),
    );
  }
  if (!hard && outside && !cell) steps.push(gap());
  const depth = 'width' in bond.at ? ` The bond is ${bond.at.width} mm wide: no deeper than it needs.` : '';
  steps.push(
    draft(phase, 'cut', [id], {
      ...base,
      tool: 'pick',
      seconds: cutting ? Math.round(cutting.seconds) : cutSeconds,
      cautions: [...(glass ? (['glass'] as const) : []), ...lithium],
      hint: cutting ? cutting.hint : `Run along the seam and leave a second pick behind you.${depth}`,
    }),
  );
  return steps;
}
