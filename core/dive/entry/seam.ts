import { bondLength, type Bond, type Model } from '../../anatomy/index.ts';
import { CUT_SECONDS, wayUnder } from '../../opening/index.ts';
import { rule } from '../graph/reasons.ts';
import { BOND_KINDS, RELEASES, type ReleaseMethod } from '../house/bondKinds.ts';
import type { Hint, PartingReason } from '../hints.ts';
import type { Caution } from '../house/cautions.ts';
import type { HouseRules } from '../house/rules.ts';
import { SECONDS } from '../house/times.ts';
import type { Condition, Phase } from '../types.ts';
import { draft, joinsCell, type Base, type Draft } from './draft.ts';
import { cuttingOf, heatingOf } from './heating.ts';
import type { Parting } from './parting.ts';

function isGlass(model: Model, joins: readonly string[]): boolean {
  return joins.some((id) => model.parts.get(id)?.glass);
}

/** What the steps of a bundle hang on besides the bundle itself. */
export interface DescentSetting {
  rules: HouseRules;
  condition: Condition;
  /** How each bond is let go. */
  partings: ReadonlyMap<string, Parting>;
  /** Fasteners that only an extractor draws. */
  stripped?: ReadonlySet<string> | undefined;
  /** Does this bond run along the rim of a panel of the outside? */
  isPanel: (bond: Bond) => boolean;
  /** Does this part stay in its place while the device is opened? */
  staysIn: (part: string) => boolean;
  /**
   * Whether a metal blade may be used: nothing is open yet, or the device is isolated by then, whatever the order
   * (A5). Asked only where a blade would be.
   */
  mayBlade: () => boolean;
}

/** The steps by which one bond is let go on the way in. */
export function releaseBond(model: Model, id: string, phase: Phase, setting: DescentSetting, base: Base): Draft[] {
  const bond = model.bonds.get(id)!;
  const lithium: Caution[] = joinsCell(model, bond.joins) ? ['lithium'] : [];
  const parting = setting.partings.get(id)!;
  const { method } = parting;
  switch (method) {
    case 'peel':
      return [draft(phase, 'release', [id], { ...base, seconds: SECONDS.peelFoil, hint: [{ code: 'peel-slowly' }] })];
    case 'lift-off':
      return [
        draft(phase, 'release', [id], {
          ...base,
          because: [...base.because, rule('R7')],
          seconds: SECONDS.liftOffPad,
          hint: [bond.staysOn === null ? { code: 'kept-whole' } : { code: 'kept-stays-on', part: bond.staysOn }],
        }),
      ];
    case 'pull':
      return [
        draft(phase, 'pull', [id], {
          ...base,
          tool: null,
          seconds: bond.tabs.length * SECONDS.pullPerTab,
          cautions: lithium,
          hint: [...BOND_KINDS.of(bond.kind).pull],
        }),
      ];
    default:
      return new Seam(model, bond, phase, setting, base).steps(method, parting);
  }
}

/** A bond that is softened, soaked or neither, and then cut: outside along its seam, inside by sliding under. */
class Seam {
  private readonly cell: boolean;
  private readonly glass: boolean;
  private readonly panel: boolean;

  constructor(
    private readonly model: Model,
    private readonly bond: Bond,
    private readonly phase: Phase,
    private readonly setting: DescentSetting,
    private readonly base: Base,
  ) {
    this.cell = joinsCell(model, bond.joins);
    this.glass = isGlass(model, bond.joins);
    // R14: only a panel of the outside is raised by a cup and cut along its rim.
    this.panel = !this.cell && setting.isPanel(bond);
  }

  steps(method: Exclude<ReleaseMethod, 'peel' | 'pull' | 'lift-off'>, parting: Parting): Draft[] {
    const { rules, condition } = this.setting;
    const soaks = method === 'solvent-and-cut' || method === 'heat-solvent-and-cut';
    const heating = RELEASES[method].heats
      ? heatingOf(this.bond, rules, method === 'heat-solvent-and-cut', parting)
      : null;
    const cutting = this.panel
      ? cuttingOf(this.model, this.bond, rules, condition.crackedGlass, heating?.setting ?? null)
      : null;
    const gap = this.panel && 'perimeterOf' in this.bond.at ? [this.gap(cutting)] : [];
    const soak = soaks ? [this.soak(heating ? null : parting.instead)] : [];
    // Softened, the seam is parted before solvent goes in; unsoftened, the solvent comes first.
    const between = heating ? [...gap, ...soak] : [...soak, ...gap];
    if (parting.cold !== null) return [...gap, this.cut(cutting)].map(coldly(parting.cold));
    return [...(heating ? [this.heat(heating)] : []), ...between, this.cut(cutting)];
  }

  private heat(heating: ReturnType<typeof heatingOf>): Draft {
    return draft(this.phase, 'heat', [this.bond.id], {
      ...this.base,
      because: [...this.base.because, rule('R6')],
      tool: heating.setting.source,
      seconds: heating.hands,
      waits: heating.wait,
      cautions: ['hot', 'lithium'],
      hint: heating.hint,
      heat: heating.setting,
    });
  }

  private soak(instead: PartingReason | null): Draft {
    return draft(this.phase, 'solvent', [this.bond.id], {
      ...this.base,
      tool: 'solvent-dropper',
      seconds: SECONDS.solvent,
      waits: SECONDS.solventWait,
      cautions: this.cell ? ['solvent', 'lithium'] : ['solvent'],
      hint: [
        { code: 'solvent-drops' },
        ...(instead === null ? [] : [{ code: 'solvent-alone', why: instead } as const]),
      ],
    });
  }

  private gap(cutting: ReturnType<typeof cuttingOf>): Draft {
    const { rules, condition, mayBlade } = this.setting;
    // Where a cup has no room, the way that has takes its place.
    const way = cutting?.gap.way ?? rules.firstGap;
    const common = { ...this.base, seconds: SECONDS.gap, cautions: this.glass ? (['glass'] as Caution[]) : [] };
    const known = cutting?.gap.how;
    if (way === 'thin-blade') {
      // A5: the blade is metal; it may part the rim from outside, but not go into a live device.
      const blade = mayBlade();
      return draft(this.phase, 'gap', [this.bond.id], {
        ...common,
        tool: blade ? 'thin-blade' : 'pick',
        hint: [known ?? { code: 'gap-at-frame' }, ...(blade ? [] : [{ code: 'plastic-pick-here' } as const])],
      });
    }
    return draft(this.phase, 'gap', [this.bond.id], {
      ...common,
      tool: way,
      hint: [
        known ?? { code: 'gap-hairline' },
        { code: 'then-pick' },
        ...(condition.crackedGlass && this.glass ? [{ code: 'cup-on-tape' } as const] : []),
      ],
    });
  }

  private cut(cutting: ReturnType<typeof cuttingOf>): Draft {
    const length = bondLength(this.bond, (part) => this.model.parts.get(part)!.outline);
    const each = this.cell ? SECONDS.pryGluePerCentimetre : CUT_SECONDS.perCentimetre;
    const curved = this.bond.joins.some((id) => this.model.parts.get(id)?.curved);
    const cautions: Caution[] = [];
    if (this.glass) cautions.push('glass');
    if (this.cell) cautions.push('lithium');
    return draft(this.phase, 'cut', [this.bond.id], {
      ...this.base,
      because: this.panel ? this.base.because : [...this.base.because, rule('R14')],
      tool: 'pick',
      seconds: cutting ? Math.round(cutting.seconds) : Math.round((length / 10) * each),
      cautions,
      hint: [
        ...(cutting ? cutting.hint : this.panel ? this.alongRim() : this.slideUnder()),
        ...(curved ? [{ code: 'glass-curves' } as const] : []),
      ],
    });
  }

  private alongRim(): Hint[] {
    const { at } = this.bond;
    return [{ code: 'run-along-seam' }, ...('width' in at ? [{ code: 'bond-wide', width: at.width } as const] : [])];
  }

  private slideUnder(): Hint[] {
    const way = wayUnder(this.model, this.bond, this.setting.staysIn);
    if (!way) return [{ code: 'slide-card-under' }];
    const { part, edge, reach, across } = way;
    return [
      { code: 'slide-from', part, edge, reach: reach >= 1 ? Math.round(reach) : 0, across: Math.round(across) },
      ...(this.cell ? [{ code: 'cell-flat' } as const] : []),
      { code: 'computed-stop' },
    ];
  }
}

/** An unsoftened seam takes so much longer. Origin: own estimate. */
const COLD_SLOWER = 2;

/** Work on a seam that nothing softens: slower, and said. */
const coldly =
  (why: PartingReason) =>
  (step: Draft): Draft => ({
    ...step,
    seconds: COLD_SLOWER * step.seconds,
    hint: [{ code: 'cold-at-risk', why }, { code: 'cold-strokes' }, ...step.hint],
  });
