import { bondLength, outlineLength, type Bond, type Model, type Part } from '../../anatomy/index.ts';
import { BONDS } from '../../kinds/index.ts';
import { draft, type Draft } from '../entry/draft.ts';
import { quoted } from '../../message/index.ts';
import { wayIn } from '../entry/motion.ts';
import type { Hint } from '../hints.ts';
import { keyOf } from '../graph/keys.ts';
import { relation, rule, type Reason } from '../graph/reasons.ts';
import { isGated, isLined, partsByItself, setsAtOnce } from '../house/bondKinds.ts';
import type { Caution } from '../house/cautions.ts';
import { SECONDS } from '../house/times.ts';
import type { Bundle } from '../order/bundles.ts';
import { functionsOn } from '../proof.ts';
import type { Ascent } from './ascent.ts';
import { gateStep, Ledger } from './ledger.ts';
import { press, pressAll } from './pressing.ts';
import { fasten, layBond, layFoil, seat, snapIn } from './steps.ts';
import { cellsAway, tryDry } from './trial.ts';

/** The moves of a part on the way in. */
const MOVES = ['ease', 'swing', 'lift'] as const;

/** What one bundle becomes on the way back: what can be laid ready before the battery is mated, then the rest. */
export interface Return {
  ready: Draft[];
  main: Draft[];
}

export interface Ascended {
  returns: Map<number, Return>;
  /** Functions that are tested before the device is closed. */
  tested: string[];
}

/** The steps of the way back, by bundle index; gates and tests stand where this order makes them due. */
export function ascentSteps(ascent: Ascent): Ascended {
  return new Returns(ascent).all();
}

/** Draws up the way back bundle by bundle, knowing what has been gated and tested by then. */
class Returns {
  private readonly model: Model;
  private tested: string[] | null = null;
  private testedAt = -1;
  private readonly closings: number[];
  private readonly lastClosing: number | undefined;
  private readonly isolationLeft: Set<string>;
  private readonly ledger: Ledger;
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
    for (const id of ascent.matWork) {
      if (this.model.connectors.has(id)) this.opened.push(id);
      if (this.model.fasteners.has(id)) this.loosened.push(id);
    }
    this.ledger = new Ledger(ascent, this.opened, this.loosened);
  }

  all(): Ascended {
    const returns = new Map<number, Return>();
    for (const i of this.ascent.order) {
      const { kind, items } = this.ascent.bundles[i]!;
      returns.set(i, this.returnOf(i));
      this.ledger.returned(i);
      this.isolationLeft.delete(keyOf(kind, items[0]!));
    }
    return { returns, tested: this.stillProved() };
  }

  /**
   * What nobody has placed yet is proved anew when a plug was mated or a part hung up after its test, and so is what rests on a
   * part that was laid down for a turn-over and is opened once more after it.
   */
  private stillProved(): string[] {
    const { bundles, order, taped } = this.ascent;
    const after = order.slice(order.indexOf(this.testedAt) + 1);
    const undone = after.some((i) => bundles[i]!.kind === 'open' || this.hangs(i));
    const unplaced = new Set(this.model.anatomy.functions.flatMap((f) => (f.unplaced ? [f.id] : [])));
    const reopened = new Set(
      this.closings
        .filter((i) => after.includes(i) && taped.has(bundles[i]!.items[0]!))
        .flatMap((i) => [...functionsOn(this.model, bundles[i]!.items[0]!)]),
    );
    return (this.tested ?? []).filter((f) => !reopened.has(f) && (!undone || !unplaced.has(f)));
  }

  private hangs(i: number): boolean {
    const { bundles, order } = this.ascent;
    const { kind } = bundles[i]!;
    return (kind === 'lift' || kind === 'swing' || kind === 'ease') && !isClosing(bundles, order, i);
  }

  private returnOf(i: number): Return {
    const { bundles, phase, rules } = this.ascent;
    const bundle = bundles[i]!;
    const id = bundle.items[0]!;
    const base = { because: [relation('returns', id)] };
    const only = (...main: Draft[]): Return => ({ ready: [], main });
    switch (bundle.kind) {
      case 'loosen':
        return only(fasten(this.model, bundle, phase, rules, base));
      case 'open':
        return only(
          ...(this.isolationLeft.has(keyOf('open', id)) ? this.ledger.beforePower() : []),
          ...seat(this.model, id, phase, base),
        );
      case 'release': {
        const latch = this.model.latches.get(id);
        if (latch) {
          const moved = this.closings.some((j) => splits(this.model.familyOf(bundles[j]!.items[0]!), latch.joins));
          return only(...snapIn(latch, phase, base, moved));
        }
        const bond = this.model.bonds.get(id)!;
        if (BONDS.of(bond.kind).over) return only(layFoil(this.model, bond, phase, rules, base));
        if (this.closesWithItsPart(bond)) return only();
        const fresh = bond.fate !== 'keep' && !this.ascent.from?.renewed.has(bond.id);
        const brought = this.ascent.brought.has(bond.id);
        return only(
          ...(fresh ? [layBond(this.model, bond, phase, rules, brought)] : []),
          press(this.ascent.graph, bond, this.ascent.phase, this.ascent.rules),
        );
      }
      case 'ease':
      case 'swing':
      case 'lift':
        return isClosing(bundles, this.ascent.order, i) ? this.close(i) : only(this.hang(i));
      default:
        return bundle.kind satisfies never;
    }
  }

  /** The part only comes back onto its hinge, or down to its gap; it is closed, and gated, later. */
  private hang(i: number): Draft {
    const part = this.partOf(i);
    const { order, bundles } = this.ascent;
    const has = (kind: 'ease' | 'swing') =>
      order.some((j) => bundles[j]!.kind === kind && bundles[j]!.items[0] === part.id);
    const toGap = has('ease') && (bundles[i]!.kind === 'swing' || !has('swing'));
    const { hinge, gap } = part.swing!;
    const how: Hint = toGap ? { code: 'let-down-to', width: gap?.width ?? 0 } : { code: 'hang-at', edge: hinge };
    return draft(this.ascent.phase, toGap ? 'ease' : 'swing', [part.id], {
      because: [relation('returns', part.id)],
      seconds: toGap ? SECONDS.easeOpen : SECONDS.swing,
      hint: [how, ...wayIn(part)],
      cautions: part.glass ? ['glass'] : [],
    });
  }

  private close(i: number): Return {
    const { phase, rules, from, brought } = this.ascent;
    const part = this.partOf(i);
    const bonds = this.model.anatomy.bonds.filter((b) => this.restored(i, b));
    const connectors = this.beneath(part, this.ledger.plugs());
    const last = i === this.lastClosing;
    const careful = part.kind === 'battery' || last;
    const fresh = bonds.filter((b) => b.fate !== 'keep' && !from?.renewed.has(b.id));
    const lay = (list: readonly Bond[]) => list.map((b) => layBond(this.model, b, phase, rules, brought.has(b.id)));
    const late = (b: Bond) => setsAtOnce(b, rules) && !brought.has(b.id);
    const test = this.openTest(i, bonds, this.beneath(part, [...this.opened, ...this.untried()]), last);
    const trial = tryDry(this.ascent, i, part, fresh, this.tested !== null && this.tested.length > 0);
    const ready = [
      ...trial.steps,
      ...(fresh.length > 0 || part.kind === 'battery' ? [this.clean(part, fresh)] : []),
      ...lay(fresh.filter((b) => !late(b))),
    ];
    const main = [
      ...(this.ascent.taped.has(part.id) ? [this.openAgain(part)] : []),
      ...this.ledger.seated(connectors),
      ...this.ledger.counted(this.beneath(part, this.ledger.screws())),
      ...test,
      ...(part.kind === 'battery' ? [this.lookAtCell(part)] : []),
      ...(last && fresh.length === 0 ? [this.lookInside(part)] : []),
      ...this.lookAtGaskets(bonds, fresh),
      ...(careful ? [gateStep(this.ascent.phase, 'G3', this.foundClean(part, last))] : []),
      ...lay(fresh.filter(late)),
      ...this.takeLiners(bonds),
      ...this.linersGate(bonds),
      this.fit(part, bonds, trial.why),
      // A bond is pressed as soon as its part lies.
      ...pressAll(
        this.ascent.graph,
        bonds.filter((b) => !partsByItself(this.model, b)),
        this.ascent.phase,
        this.ascent.rules,
      ),
    ];
    return { ready, main };
  }

  /** What was taped down for a turn-over is opened once more, to be looked under and closed for good. */
  private openAgain(part: Part): Draft {
    return draft(this.ascent.phase, 'swing', [part.id], {
      because: [rule('A3')],
      seconds: SECONDS.swing,
      cautions: part.glass ? ['glass'] : [],
      hint: [{ code: 'open-again', edge: part.swing!.hinge }],
    });
  }

  private openTest(i: number, bonds: readonly Bond[], connectors: readonly string[], last: boolean): Draft[] {
    const part = this.partOf(i);
    const { openTests, phase, rules } = this.ascent;
    // Where it is not certain which part a bond holds, every part that may be bonded is taken for one.
    const maybe = this.ascent.from?.kept?.mayBeBonded.has(part.id) ?? false;
    const bonded = maybe || bonds.some((b) => isGated(this.model, b));
    // What contacts a part of a device that nobody has drawn buries is not known: whatever is bonded may bury some.
    const blind = this.ascent.from?.kept !== undefined && part.kind !== 'battery' && !cellsAway(this.ascent, i);
    const seals = bonded && (blind || connectors.length > 0 || this.ascent.graph.isOuter(part.id));
    const due = seals || (last && rules.powerOnTest === 'before-sealing');
    if (this.tested || this.isolationLeft.size > 0 || !due) return [];
    const tests = openTests.filter((f) => this.canPass(f, part));
    if (tests.length === 0) return [];
    this.tested = tests;
    this.testedAt = i;
    return [
      draft(phase, 'power-on', [], {
        seconds: SECONDS.powerOn,
        because: [rule('G4')],
        cautions: this.movesEmitters() ? ['emitter'] : [],
        hint: [{ code: 'on-unsealed' }],
      }),
      draft(phase, 'test', tests, {
        seconds: tests.length * SECONDS.perTest,
        because: [rule('G4'), rule('R3')],
      }),
      gateStep(this.ascent.phase, 'G4', tests),
      draft(phase, 'power-off', [], {
        seconds: SECONDS.powerOffAfterTest,
        because: [rule('R2')],
        hint: [{ code: 'off-before-hands' }],
      }),
    ];
  }

  /** R3: everything that carries a function is mated, and every part it needs is in, before `part` is closed. */
  private canPass(f: string, part: Part): boolean {
    const { order, bundles, graph } = this.ascent;
    const at = order.findIndex((j) => isClosing(bundles, order, j) && bundles[j]!.items[0] === part.id);
    const carries = (id: string) => this.model.connectors.get(id)!.carries.includes(f);
    return !order.slice(at).some((j) => {
      const { kind, items } = bundles[j]!;
      const id = items[0]!;
      if (kind === 'open') return carries(id);
      if (kind !== 'lift' && kind !== 'swing' && kind !== 'ease') return false;
      if (graph.contactsBroken(id, kind).some(carries)) return true;
      // One that hangs on its mated tethers works; one that is still off does not.
      return kind === 'lift' && this.model.familyOf(id).some((p) => this.model.parts.get(p)!.functions.includes(f));
    });
  }

  private movesEmitters(): boolean {
    const { order, bundles } = this.ascent;
    return order.some((j) => bundles[j]!.items.some((id) => this.model.parts.get(id)?.kind === 'sensor'));
  }

  private clean(part: Part, fresh: readonly Bond[]): Draft {
    const glued = fresh.filter((b) => this.model.pressedBy(b.id).length === 0);
    const bonded = glued.length > 0;
    // What lies side by side along one rim comes off together: nobody goes round twice.
    const around = (outlineLength(part.outline) / 10) * Math.max(0, ...glued.map((b) => BONDS.of(b.kind).scrape));
    const outline = (id: string) => this.model.parts.get(id)!.outline;
    const every = glued.reduce((sum, b) => sum + (BONDS.of(b.kind).scrape * bondLength(b, outline)) / 10, 0);
    const scraped = Math.min(every, around);
    const dry = part.limits?.solvent === false;
    return draft(this.ascent.phase, 'clean', [part.id], {
      seconds: SECONDS.clean + Math.round(scraped),
      waits: dry ? 0 : SECONDS.cleanDry,
      tool: dry ? 'spudger' : 'wipes',
      because: dry ? [rule('G3'), rule('R23')] : [rule('G3')],
      cautions: dry ? [] : ['solvent'],
      hint: [{ code: dry ? 'clean-dry' : bonded ? 'clean-bonded' : 'clean-contacts' }],
    });
  }

  /** Before the last cover goes on: no solvent beside a mated battery, only eyes. */
  private lookInside(part: Part): Draft {
    return draft(this.ascent.phase, 'inspect', [part.id], {
      seconds: SECONDS.inspect,
      because: [rule('G3')],
      hint: [{ code: 'look-inside' }],
    });
  }

  /** R22: a gasket that goes on again is looked at; a new one was when it was laid. */
  private lookAtGaskets(bonds: readonly Bond[], fresh: readonly Bond[]): Draft[] {
    const kept = bonds.filter((b) => this.model.pressedBy(b.id).length > 0 && !fresh.includes(b)).map((b) => b.id);
    if (kept.length === 0) return [];
    return [
      draft(this.ascent.phase, 'inspect', kept, {
        seconds: SECONDS.inspectGasket * kept.length,
        because: [rule('R22')],
        hint: [{ code: 'look-at-gasket' }],
      }),
    ];
  }

  private lookAtCell(part: Part): Draft {
    return draft(this.ascent.phase, 'inspect', [part.id], {
      seconds: SECONDS.inspect,
      because: [rule('A7')],
      cautions: ['lithium'],
      hint: [{ code: 'look-at-cell' }],
    });
  }

  private takeLiners(bonds: readonly Bond[]): Draft[] {
    const lined = bonds.filter((b) => b.fate === 'renew' && isLined(b, this.ascent.rules));
    if (lined.length === 0) return [];
    return [
      draft(
        this.ascent.phase,
        'remove-liner',
        lined.map((b) => b.id),
        {
          seconds: SECONDS.liners * lined.length,
          because: [rule('G5')],
          hint: [{ code: 'liners-in-order' }],
        },
      ),
    ];
  }

  private linersGate(bonds: readonly Bond[]): Draft[] {
    if (!bonds.some((b) => isGated(this.model, b))) return [];
    return [
      gateStep(
        this.ascent.phase,
        'G5',
        bonds.map((b) => b.id),
      ),
    ];
  }

  private fit(part: Part, bonds: readonly Bond[], untried: readonly Hint[]): Draft {
    const hooks = this.model.anatomy.latches.filter((l) => l.mate === 'first' && l.joins.includes(part.id));
    const way = wayIn(part);
    const hint: Hint[] = [];
    if (hooks.length > 0 && way.length === 0) hint.push({ code: 'hooks-first', edges: hooks.map((l) => l.edge) });
    if (part.glass) hint.push({ code: 'no-force' });
    if (this.ascent.graph.contactsBroken(part.id).length > 0) hint.push({ code: 'springs-stand' });
    hint.push(...way, ...quoted(part.note), ...untried);
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
      hint,
    });
  }

  /**
   * The covers that are found clean when a part is closed. In a device that is not drawn yet the last part may travel in
   * another, so that the last cover is one that was closed before it: all of them are looked at.
   */
  private foundClean(part: Part, last: boolean): string[] {
    if (!last || !this.ascent.from?.kept) return [part.id];
    const covers = this.closings.map((i) => this.partOf(i).id).filter((id) => this.ascent.graph.isOuter(id));
    return [...new Set([...covers, part.id])];
  }

  private partOf(i: number): Part {
    return this.model.parts.get(this.ascent.bundles[i]!.items[0]!)!;
  }

  /** Of these items, each once, what a part hides when it lies in its place. */
  private beneath(part: Part, items: readonly string[]): string[] {
    // What an order puts behind the part is back before it is.
    const behind = new Set(this.model.anatomy.orders.flatMap((o) => (o.first === part.id ? [o.then] : [])));
    const under = (id: string) =>
      this.ascent.graph.hides(part.id, id) || behind.has(id) || this.keptBeneath(part.id, id);
    return [...new Set(items)].filter(under);
  }

  /** What was reached only after the part had been moved, as far as is known. */
  private keptBeneath(part: string, id: string): boolean {
    const kept = this.ascent.from?.kept;
    if (!kept) return false;
    const reached = keyOf(this.model.fasteners.has(id) ? 'loosen' : 'open', id);
    return MOVES.some((move) => kept.keeps(keyOf(move, part), reached));
  }

  /** Connectors that were worked on before this plan began, seated or not, where nothing was tested since. */
  private untried(): string[] {
    const { from } = this.ascent;
    if (!from || from.gated.has('G4')) return [];
    return [...from.touched].filter((id) => this.model.connectors.has(id) && !from.absent.has(id));
  }

  private closesWithItsPart(bond: Bond): boolean {
    return this.closings.some((i) => this.restored(i, bond));
  }

  private hasBundle(id: string): boolean {
    const { bundles, order } = this.ascent;
    return order.some((j) => bundles[j]!.kind === 'release' && bundles[j]!.items[0] === id);
  }

  /** Bonds that come into being again when this part is laid down: those whose release it needed, and thermal ones. */
  private restored(i: number, bond: Bond): boolean {
    if (BONDS.of(bond.kind).over) return false;
    const { bundles, order } = this.ascent;
    const divides = (j: number) => splits(this.model.familyOf(bundles[j]!.items[0]!), bond.joins);
    if (!divides(i)) return false;
    // Where two parts of a bond are both off, it closes with the one that is laid down last.
    const later = order
      .slice(order.indexOf(i) + 1)
      .some((j) => isClosing(bundles, order, j) && bond.joins.includes(bundles[j]!.items[0]!) && divides(j));
    return !later && (partsByItself(this.model, bond) || this.hasBundle(bond.id));
  }
}

/** True when some but not all of `joined` belong to the family. */
function splits(family: readonly string[], joined: readonly string[]): boolean {
  return joined.some((id) => family.includes(id)) && !joined.every((id) => family.includes(id));
}

/** The move that shuts a part: for one that was opened in stages and then lifted, the closing of the first stage. */
export function isClosing(bundles: readonly Bundle[], order: readonly number[], i: number): boolean {
  const { kind, items } = bundles[i]!;
  const has = (stage: 'ease' | 'swing') =>
    order.some((j) => bundles[j]!.kind === stage && bundles[j]!.items[0] === items[0]);
  switch (kind) {
    case 'ease':
      return true;
    case 'swing':
      return !has('ease');
    case 'lift':
      return !has('ease') && !has('swing');
    default:
      return false;
  }
}
