import type { Bond, Model, Part } from '../../anatomy/index.ts';
import { draft, type Draft } from '../entry/descent.ts';
import { keyOf } from '../graph/keys.ts';
import { relation, rule, type Reason } from '../graph/reasons.ts';
import type { StepGraph } from '../graph/stepGraph.ts';
import { BOND_KINDS } from '../house/bondKinds.ts';
import type { Caution } from '../house/cautions.ts';
import type { HouseRules } from '../house/rules.ts';
import { SECONDS } from '../house/times.ts';
import type { Bundle } from '../order/bundles.ts';
import type { GateId, Phase, Standing } from '../types.ts';
import { fasten, layBond, seat, settle } from './steps.ts';

/** What the way back, or the part of it on the mat, is drawn up from. */
export interface Ascent {
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
  return new Returns(ascent).all();
}

/** Draws up the way back bundle by bundle, knowing what has been gated and tested by then. */
class Returns {
  private readonly model: Model;
  private readonly gatedConnectors = new Set<string>();
  private readonly gatedScrews = new Set<string>();
  private tested = false;
  private readonly closings: number[];
  private readonly lastClosing: number | undefined;
  private readonly isolationLeft: Set<string>;
  private readonly opened: string[];
  private readonly loosened: string[];

  constructor(private readonly ascent: Ascent) {
    const { graph, bundles, order } = ascent;
    this.model = graph.model;
    this.closings = order.filter((i) => isClosing(bundles, order, i));
    this.lastClosing = this.closings
      .filter((i) => this.model.contextOf(bundles[i]!.items[0]!) === null && bundles[i]!.face !== 'edge')
      .at(-1);
    const keys = new Set(order.map((i) => keyOf(bundles[i]!.kind, bundles[i]!.items[0]!)));
    this.isolationLeft = new Set(graph.isolation.filter((key) => keys.has(key)));
    this.opened = order.flatMap((j) =>
      bundles[j]!.kind === 'open'
        ? bundles[j]!.items
        : bundles[j]!.kind === 'lift'
          ? graph.contactsBroken(bundles[j]!.items[0]!)
          : [],
    );
    this.loosened = order.flatMap((j) => (bundles[j]!.kind === 'loosen' ? bundles[j]!.items : []));
  }

  all(): Map<number, Return> {
    const returns = new Map<number, Return>();
    for (const i of this.ascent.order) {
      const { kind, items } = this.ascent.bundles[i]!;
      returns.set(i, this.returnOf(i));
      this.isolationLeft.delete(keyOf(kind, items[0]!));
    }
    return returns;
  }

  private returnOf(i: number): Return {
    const { bundles, phase, rules } = this.ascent;
    const bundle = bundles[i]!;
    const id = bundle.items[0]!;
    const base = { because: [relation('returns', id)] };
    switch (bundle.kind) {
      case 'loosen':
        return { clean: null, main: [fasten(this.model, bundle, phase, base)] };
      case 'open':
        return { clean: null, main: [seat(this.model, id, phase, base)] };
      case 'release':
        return { clean: null, main: this.closesWithItsPart(id) ? [] : settle(this.model, id, phase, rules, base) };
      case 'swing':
      case 'lift':
        return isClosing(bundles, this.ascent.order, i) ? this.close(i) : { clean: null, main: [this.hang(i)] };
      default:
        return bundle.kind satisfies never;
    }
  }

  /** The part only comes back onto its hinge; it is closed, and gated, later. */
  private hang(i: number): Draft {
    const part = this.partOf(i);
    return draft(this.ascent.phase, 'swing', [part.id], {
      because: [relation('returns', part.id)],
      seconds: SECONDS.swing,
      hint: `Hang it at the ${part.swing!.hinge} edge, propped; no flex may carry the weight.`,
      cautions: part.glass ? ['glass'] : [],
    });
  }

  private close(i: number): Return {
    const part = this.partOf(i);
    const bonds = this.model.anatomy.bonds.filter((b) => this.restored(i, b));
    const connectors = this.beneath(part, [...this.opened, ...this.ungated('G1', this.model.connectors)]);
    const last = i === this.lastClosing;
    const careful = part.kind === 'battery' || last;
    const main = [
      ...this.seatedGate(connectors),
      ...this.countedGate(part),
      ...this.openTest(part, bonds, connectors, last),
      ...(part.kind === 'battery' ? [this.lookAtCell(part)] : []),
      ...(careful ? [this.gate('G3', [part.id], 'Nothing loose, contacts and bonding surfaces clean and dry.')] : []),
      ...bonds
        .filter((b) => b.fate !== 'keep' && !this.ascent.from?.renewed.has(b.id))
        .map((b) => layBond(this.model, b, this.ascent.phase, this.ascent.rules)),
      ...this.takeLiners(bonds),
      ...this.linersGate(bonds),
      this.fit(part, bonds),
      // A bond is pressed as soon as its part lies.
      ...bonds
        .filter((b) => !BOND_KINDS[b.kind].partsByItself)
        .flatMap((b) =>
          settle(this.model, b.id, this.ascent.phase, this.ascent.rules, { because: [relation('returns', b.id)] }),
        ),
    ];
    return { clean: bonds.length > 0 || careful ? this.clean(part, bonds.length > 0) : null, main };
  }

  private gate(gate: GateId, items: string[], hint: string): Draft {
    return draft(this.ascent.phase, 'gate', items, { gate, because: [rule(gate)], seconds: SECONDS.gate, hint });
  }

  private seatedGate(connectors: readonly string[]): Draft[] {
    const fresh = connectors.filter(
      (id) => !this.gatedConnectors.has(id) && this.model.connectors.get(id)!.kind !== 'contact',
    );
    for (const id of fresh) this.gatedConnectors.add(id);
    return fresh.length > 0
      ? [this.gate('G1', fresh, 'Every connector below is seated: run a fingertip over each.')]
      : [];
  }

  private countedGate(part: Part): Draft[] {
    const screws = this.beneath(part, [...this.loosened, ...this.ungated('G2', this.model.fasteners)]).filter(
      (id) => !this.gatedScrews.has(id),
    );
    for (const id of screws) this.gatedScrews.add(id);
    return screws.length > 0 ? [this.gate('G2', screws, 'All wells of the layers below are empty.')] : [];
  }

  private openTest(part: Part, bonds: readonly Bond[], connectors: readonly string[], last: boolean): Draft[] {
    const { openTests, phase, rules } = this.ascent;
    const seals =
      bonds.some((b) => BOND_KINDS[b.kind].gated) &&
      (connectors.length > 0 || (part.within === null && part.layer === 0));
    const due = seals || (last && rules.powerOnTest === 'before-sealing');
    if (this.tested || this.isolationLeft.size > 0 || openTests.length === 0 || !due) return [];
    this.tested = true;
    const tests = [...openTests];
    return [
      draft(phase, 'power-on', [], {
        seconds: SECONDS.powerOn,
        because: [rule('G4')],
        cautions: this.movesEmitters() ? ['emitter'] : [],
        hint: 'Everything connected, nothing sealed.',
      }),
      draft(phase, 'test', tests, { seconds: tests.length * SECONDS.perTest, because: [rule('G4')] }),
      this.gate('G4', tests, 'Every function touched so far has passed, or is waived with a reason.'),
    ];
  }

  private movesEmitters(): boolean {
    const { order, bundles } = this.ascent;
    return order.some((j) => bundles[j]!.items.some((id) => this.model.parts.get(id)?.kind === 'sensor'));
  }

  private clean(part: Part, bonded: boolean): Draft {
    return draft(this.ascent.phase, 'clean', [part.id], {
      seconds: SECONDS.clean,
      waits: SECONDS.cleanDry,
      tool: 'wipes',
      because: [rule('G3')],
      cautions: ['solvent'],
      hint: bonded
        ? 'Take off the old adhesive; wipe surfaces and contacts; let dry at least 30 s.'
        : 'Wipe the contacts; look for anything loose; let dry.',
    });
  }

  private lookAtCell(part: Part): Draft {
    return draft(this.ascent.phase, 'inspect', [part.id], {
      seconds: SECONDS.inspect,
      because: [rule('A7')],
      cautions: ['lithium'],
      hint: 'No puncture, swelling or dent; if in doubt, do not fit it.',
    });
  }

  private takeLiners(bonds: readonly Bond[]): Draft[] {
    const lined = bonds.filter((b) => b.fate === 'renew' && BOND_KINDS[b.kind].lined(this.ascent.rules));
    if (lined.length === 0) return [];
    return [
      draft(
        this.ascent.phase,
        'remove-liner',
        lined.map((b) => b.id),
        {
          seconds: SECONDS.liners * lined.length,
          because: [rule('G5')],
          hint: 'Liners come off in order; those on the strips last.',
        },
      ),
    ];
  }

  private linersGate(bonds: readonly Bond[]): Draft[] {
    if (!bonds.some((b) => BOND_KINDS[b.kind].gated)) return [];
    return [
      this.gate(
        'G5',
        bonds.map((b) => b.id),
        'All liners off, transfers and lens films done.',
      ),
    ];
  }

  private fit(part: Part, bonds: readonly Bond[]): Draft {
    const hooks = this.model.anatomy.latches.filter((l) => l.mate === 'first' && l.joins.includes(part.id));
    const hints = [
      hooks.length > 0
        ? `Hook the ${hooks.map((l) => l.edge).join(' and ')} edge in first, at about 20°, then lay it down along the sides.`
        : '',
      part.glass ? 'No force; flush all round.' : '',
      this.ascent.graph.contactsBroken(part.id).length > 0
        ? 'Check that the spring contacts stand up and meet their pads.'
        : '',
    ].filter(Boolean);
    const cautions: Caution[] = [];
    if (part.kind === 'battery') cautions.push('lithium');
    if (part.glass) cautions.push('glass');
    const because: Reason = this.ascent.replaced.has(part.id)
      ? relation('fresh', part.id)
      : relation('returns', part.id);
    return draft(this.ascent.phase, this.ascent.transferred.has(part.id) ? 'transfer' : 'fit', [part.id], {
      because: [because],
      seconds: bonds.length > 0 ? SECONDS.fitBonded : SECONDS.fit,
      cautions,
      hint: hints.join(' '),
    });
  }

  private partOf(i: number): Part {
    return this.model.parts.get(this.ascent.bundles[i]!.items[0]!)!;
  }

  /** Of these items, each once, what a part hides when it lies in its place. */
  private beneath(part: Part, items: readonly string[]): string[] {
    return [...new Set(items)].filter(
      (id) =>
        this.ascent.graph.covers.get(id)!.includes(part.id) ||
        this.model.connectors.get(id)?.reachedBy?.swing === part.id,
    );
  }

  /** What was undone and made good before this plan began still has to pass its gate. */
  private ungated(gate: 'G1' | 'G2', items: ReadonlyMap<string, unknown>): string[] {
    const { from } = this.ascent;
    if (!from) return [];
    return [...from.touched].filter((id) => items.has(id) && !from.absent.has(id) && !from.gated.get(gate)?.has(id));
  }

  private closesWithItsPart(id: string): boolean {
    return this.closings.some((i) => this.restored(i, this.model.bonds.get(id) ?? null));
  }

  private hasBundle(id: string): boolean {
    const { bundles, order } = this.ascent;
    return order.some((j) => bundles[j]!.kind === 'release' && bundles[j]!.items[0] === id);
  }

  /** Bonds that come into being again when this part is laid down: those whose release it needed, and thermal ones. */
  private restored(i: number, bond: Bond | null): boolean {
    if (!bond || !BOND_KINDS[bond.kind].joinsByItself) return false;
    const { bundles, order } = this.ascent;
    const divides = (j: number) => splits(this.model.familyOf(bundles[j]!.items[0]!), bond.joins);
    if (!divides(i)) return false;
    // Where two parts of a bond are both off, it closes with the one that is laid down last.
    const later = order
      .slice(order.indexOf(i) + 1)
      .some(
        (j) =>
          (bundles[j]!.kind === 'lift' || bundles[j]!.kind === 'swing') &&
          isClosing(bundles, order, j) &&
          bond.joins.includes(bundles[j]!.items[0]!) &&
          divides(j),
      );
    return !later && (BOND_KINDS[bond.kind].partsByItself || this.hasBundle(bond.id));
  }
}

/** True when some but not all of `joined` belong to the family. */
function splits(family: readonly string[], joined: readonly string[]): boolean {
  return joined.some((id) => family.includes(id)) && !joined.every((id) => family.includes(id));
}

/** The move that shuts a part: for one that was swung and then lifted, the closing of the swing. */
export function isClosing(bundles: readonly Bundle[], order: readonly number[], i: number): boolean {
  const bundle = bundles[i]!;
  if (bundle.kind === 'swing') return true;
  if (bundle.kind !== 'lift') return false;
  return !order.some((j) => bundles[j]!.kind === 'swing' && bundles[j]!.items[0] === bundle.items[0]);
}
