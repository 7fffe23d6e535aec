import type { Model } from '../anatomy/index.ts';
import type { Plan } from '../dive/index.ts';
import { FASTENERS } from '../kinds/index.ts';
import { classesOf } from './classes.ts';
import { alike, lookAlikes } from './fit.ts';

/** One or more equal trays of wells in rows and columns. */
export interface TraySize {
  rows: number;
  columns: number;
  trays: number;
}

/** Screws of one class that come out in one step; captive ones stay in their part and are in none. */
export interface Lot {
  step: number;
  letter: string;
  fasteners: string[];
}

/**
 * What a tray plan is measured by; the sum is minimised. Origin: own choice. Whatever can do harm outweighs
 * everything else; then a well for each class of a step while wells are free; then order and togetherness.
 */
export const TRAY_COST = {
  /** Harmful look-alikes in one well, a pair. */
  mixedHarm: 1000,
  /** Look-alikes that do no harm in one well, a pair: they could not be told apart again. */
  mixedAlike: 60,
  /** Harmful look-alikes in neighbouring wells, corners included, a pair. */
  neighbourHarm: 100,
  /** Other classes of the same step in one well, a pair: more than a well, so that a free one is taken instead. */
  mixedClasses: 15,
  /** Lots of different steps in one well, a pair. */
  mixedSteps: 30,
  well: 10,
  /** A lot that lies before one that came out earlier: on the way back the wells are then not emptied in order. */
  outOfOrder: 1,
  /** Wells between those of one step. */
  apart: 1,
} as const;

export interface TrayPlan {
  lots: Lot[];
  /** Well of each lot, by reading order over all trays. */
  wells: number[];
  labels: string[];
  cost: number;
  lowerBound: number;
  proved: boolean;
  /** Harmful look-alikes that had to be mixed or put side by side, in words. */
  conflicts: string[];
}

/** Placements tried before the best so far is taken. Origin: measured, some 10 ms. */
const PLACEMENTS = 20_000;

export function lotsOf(model: Model, plan: Plan): Lot[] {
  const letters = new Map(classesOf(model).flatMap((c) => c.fasteners.map((id) => [id, c.letter] as const)));
  const seen = new Set<string>();
  const lots: Lot[] = [];
  for (const step of plan.steps) {
    if (step.phase === 'ascent' || (step.do !== 'unscrew' && step.do !== 'release')) continue;
    for (const id of step.items) {
      const f = model.fasteners.get(id);
      if (!f || FASTENERS.of(f.kind).stays || seen.has(id)) continue;
      seen.add(id);
      const letter = letters.get(id)!;
      const lot = lots.find((l) => l.step === step.n && l.letter === letter);
      if (lot) lot.fasteners.push(id);
      else lots.push({ step: step.n, letter, fasteners: [id] });
    }
  }
  return lots;
}

/** Pairs of class letters, both ways round (`"A B"`), that cannot be told apart by eye: do they do harm when swapped? */
export type Pairs = ReadonlyMap<string, 'harm' | 'alike'>;

function pairsOf(model: Model): Pairs {
  const classes = classesOf(model);
  const pairs = new Map<string, 'harm' | 'alike'>();
  for (const a of classes)
    for (const b of classes) if (a !== b && alike(a.shape, b.shape)) pairs.set(`${a.letter} ${b.letter}`, 'alike');
  for (const { a, b } of lookAlikes(model, classes))
    for (const key of [`${a} ${b}`, `${b} ${a}`]) pairs.set(key, 'harm');
  return pairs;
}

export function wellLabel(well: number, size: TraySize): string {
  const each = size.rows * size.columns;
  const at = well % each;
  const tray = well < each ? '' : Math.floor(well / each) + 1;
  const row = String.fromCharCode(65 + Math.floor(at / size.columns));
  return `${tray}${row}${(at % size.columns) + 1}`;
}

function neighbours(a: number, b: number, { rows, columns }: TraySize): boolean {
  const each = rows * columns;
  if (a === b || Math.floor(a / each) !== Math.floor(b / each)) return false;
  const [p, q] = [a % each, b % each];
  return (
    Math.abs(Math.floor(p / columns) - Math.floor(q / columns)) <= 1 && Math.abs((p % columns) - (q % columns)) <= 1
  );
}

/** What the placement of the last of `wells` adds to those before it, without the wells themselves and the gaps. */
function added(lots: readonly Lot[], wells: readonly number[], pairs: Pairs, size: TraySize): number {
  const j = wells.length - 1;
  let cost = 0;
  for (let i = 0; i < j; i++) {
    const pair = pairs.get(`${lots[i]!.letter} ${lots[j]!.letter}`);
    if (wells[i] === wells[j]) {
      if (pair) cost += pair === 'harm' ? TRAY_COST.mixedHarm : TRAY_COST.mixedAlike;
      if (lots[i]!.step !== lots[j]!.step) cost += TRAY_COST.mixedSteps;
      else if (!pair) cost += TRAY_COST.mixedClasses;
    } else {
      if (pair === 'harm' && neighbours(wells[i]!, wells[j]!, size)) cost += TRAY_COST.neighbourHarm;
      if (wells[i]! > wells[j]!) cost += TRAY_COST.outOfOrder;
    }
  }
  return cost;
}

/** The whole objective of a placement. */
export function trayCost(lots: readonly Lot[], wells: readonly number[], pairs: Pairs, size: TraySize): number {
  let cost = new Set(wells).size * TRAY_COST.well;
  for (let j = 0; j < wells.length; j++) cost += added(lots, wells.slice(0, j + 1), pairs, size);
  for (const step of new Set(lots.map((l) => l.step))) {
    const own = [...new Set(wells.filter((_, i) => lots[i]!.step === step))];
    cost += TRAY_COST.apart * (Math.max(...own) - Math.min(...own) - (own.length - 1));
  }
  return cost;
}

/**
 * Which well takes which screws on a dive. Branch and bound over the lots in the order they come out; exact
 * where it ends within its budget or reaches the lower bound, else the best found, and the plan says so.
 * @throws Error when there is not a single well
 */
export function trayPlan(model: Model, plan: Plan, size: TraySize, budget = PLACEMENTS): TrayPlan {
  return planLots(lotsOf(model, plan), pairsOf(model), size, (letter) => letter, budget);
}

/** As `trayPlan`, from lots and pairs. */
export function planLots(
  lots: readonly Lot[],
  pairs: Pairs,
  size: TraySize,
  name: (letter: string) => string = (l) => l,
  budget = PLACEMENTS,
): TrayPlan {
  const count = size.rows * size.columns * size.trays;
  if (!(count >= 1)) throw new Error(`a tray needs at least one well; ${size.rows} × ${size.columns} has none`);
  // A lot takes a well of its own, or shares one, which costs at least what other classes in one well cost.
  const sharing = Math.max(0, lots.length - count);
  const lowerBound = TRAY_COST.well * Math.min(count, lots.length) + TRAY_COST.mixedClasses * sharing;
  // After lot i: what those still to come cost at least.
  const toCome = lots.map((_, i) => TRAY_COST.well * (lots.length - 1 - i));
  let best: number[] | null = null;
  let bestCost = Number.POSITIVE_INFINITY;
  let tried = 0;
  let spent = false;
  const wells: number[] = [];
  const visit = (cost: number, highest: number): void => {
    if (spent || bestCost <= lowerBound) return;
    const i = wells.length;
    if (i === lots.length) {
      const whole = trayCost(lots, wells, pairs, size);
      if (whole < bestCost) {
        bestCost = whole;
        best = [...wells];
      }
      return;
    }
    const options: { well: number; cost: number }[] = [];
    for (let well = 0; well < count; well++) {
      wells.push(well);
      const more = added(lots, wells, pairs, size) + (wells.indexOf(well) === i ? TRAY_COST.well : 0);
      wells.pop();
      options.push({ well, cost: cost + more });
    }
    const forward = (well: number) => (well >= highest ? well - highest : count + highest - well);
    options.sort((a, b) => a.cost - b.cost || forward(a.well) - forward(b.well));
    for (const option of options) {
      if (++tried > budget) spent = true;
      if (spent) return;
      if (option.cost + (count >= lowerBound / TRAY_COST.well ? toCome[i]! : 0) >= bestCost) continue;
      wells.push(option.well);
      visit(option.cost, Math.max(highest, option.well));
      wells.pop();
    }
  };
  visit(0, 0);
  const placed = best ?? lots.map((_, i) => Math.min(i, count - 1));
  if (!best) bestCost = trayCost(lots, placed, pairs, size);
  const conflicts = lots.flatMap((a, i) =>
    lots.slice(i + 1).flatMap((b, k): string[] => {
      if (pairs.get(`${a.letter} ${b.letter}`) !== 'harm') return [];
      const [p, q] = [placed[i]!, placed[i + 1 + k]!];
      if (p === q)
        return [`${name(a.letter)} and ${name(b.letter)} share well ${wellLabel(p, size)}: the tray has too few wells`];
      return neighbours(p, q, size)
        ? [
            `${name(a.letter)} and ${name(b.letter)} lie side by side in ${wellLabel(p, size)} and ${wellLabel(q, size)}`,
          ]
        : [];
    }),
  );
  return {
    lots: [...lots],
    wells: placed,
    labels: placed.map((w) => wellLabel(w, size)),
    cost: bestCost,
    lowerBound,
    proved: !spent || bestCost <= lowerBound,
    conflicts,
  };
}
