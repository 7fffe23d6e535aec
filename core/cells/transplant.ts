import type { Rating } from './cell.ts';
import { FEWEST_COUPONS, type TransplantRules, type WeldRecord } from './rules.ts';

/** The first page: who may do it, why it is dangerous, and who decides. */
export const TRANSPLANT_FIRST = [
  "Only a person whom the lead has marked as trained does this. Nobody learns it on a customer's cell.",
  'A bare cell has nothing that protects it: two tabs that touch, a drop of solder, a weld through the pouch ' +
    'or a bent corner sets it on fire.',
  'Local rules decide whether it may be done at all, and who may do it. Where they forbid it, ' +
    'or say nothing that you have read, it is not done.',
  'Glasses, gloves, a bucket of dry sand within reach, nobody else at the bench, nothing that burns on it.',
] as const;

/** What has to be typed or seen at a step. */
export type TransplantCheck =
  | { kind: 'seen'; ask: string }
  /** A measure, with what it must be, from the shop's own record or from the cell. */
  | { kind: 'measure'; ask: string; unit: 'V' | 'mΩ' | 'N' | 'mm' | '°C'; least: number | null; most: number | null }
  | { kind: 'weld'; ask: string };

export interface TransplantStep {
  id: string;
  part: 'before' | 'work' | 'start';
  do: string;
  check: TransplantCheck;
}

/** A bare cell against the board that it is to be joined to. */
export interface BareCell extends Rating {
  chargeVolts: number;
  size: { width: number; height: number; thickness: number };
}
export interface OldPack extends BareCell {
  /** Room beside the cell for the board and its fold, mm. */
  boardRoom: number;
}

/** What speaks against joining a bare cell to an old board; none where it fits. */
export function transplantFaults(cell: BareCell, pack: OldPack): string[] {
  const faults: string[] = [];
  if (cell.cells !== 1 || pack.cells !== 1) faults.push('Only a single cell is moved; packs of several are not.');
  if (Math.abs(cell.volts - pack.volts) > 0.05)
    faults.push(`${cell.volts} V nominal against ${pack.volts} V: another chemistry.`);
  if (Math.abs(cell.chargeVolts - pack.chargeVolts) > 0.005)
    faults.push(
      `The old board cuts off for ${pack.chargeVolts} V, and the cell is made for ${cell.chargeVolts} V: they must be the same.`,
    );
  const ratio = cell.milliampHours / pack.milliampHours;
  if (ratio < 0.9 || ratio > 1.1)
    faults.push(`${cell.milliampHours} mAh against ${pack.milliampHours}: the old board would count it wrongly.`);
  for (const side of ['width', 'height', 'thickness'] as const)
    if (cell.size[side] > pack.size[side] + 0.05)
      faults.push(`Its ${side} of ${cell.size[side]} mm is more than the old cell's ${pack.size[side]} mm.`);
  if (pack.boardRoom < 2) faults.push('There is no room for the board and its fold beside the cell.');
  return faults;
}

/** Welds of the shop that its own coupons prove: enough of them, and each bore what a weld must bear. */
export const provedWelds = (rules: TransplantRules): WeldRecord[] =>
  rules.welds.filter((w) => w.coupons.length >= FEWEST_COUPONS && w.coupons.every((n) => n >= rules.pull));

/** Why a shop may not offer it, or this person may not do it; none where both may. */
export function transplantRefusals(rules: TransplantRules | null, person: string | null): string[] {
  if (rules === null) return ['The house rules do not offer it.'];
  const found: string[] = [];
  if (rules.trained.length === 0) found.push('The lead has marked nobody as trained for it.');
  else if (person !== null && !rules.trained.includes(person))
    found.push(
      `${person} is not marked as trained for it; ${rules.trained.join(', ')} ${rules.trained.length === 1 ? 'is' : 'are'}.`,
    );
  if (provedWelds(rules).length === 0)
    found.push(
      `No weld is proved: at least ${FEWEST_COUPONS} coupons of one setting, each pulled at ${rules.pull} N or more.`,
    );
  return found;
}

const seen = (ask: string): TransplantCheck => ({ kind: 'seen', ask });

/** Volts that two readings of one cell may be apart, mΩ that a joint may add. Origin: own estimates. */
const SAME_VOLTS = 0.02;
const JOINT_OHMS = 10;

/**
 * The steps, each with what must be seen before the next. Limits are the shop's own (`pull`), the cell's own (what was read
 * before), or none.
 * @param before what was read of the bare cell at the begin: V and mΩ; `null` before it was
 */
export function transplantSteps(
  rules: TransplantRules,
  before: { volts: number; milliohms: number } | null,
): TransplantStep[] {
  const volts = before === null ? null : { least: before.volts - SAME_VOLTS, most: before.volts + SAME_VOLTS };
  return [
    {
      id: 'page',
      part: 'before',
      do: 'Read the first page, and have it agreed with the customer.',
      check: seen('Read and agreed'),
    },
    {
      id: 'bench',
      part: 'before',
      do: 'Clear the bench. Glasses, gloves, sand bucket, ceramic tools; jewellery off.',
      check: seen('All there'),
    },
    {
      id: 'volts-before',
      part: 'before',
      do: 'Read the bare cell at rest.',
      check: { kind: 'measure', ask: 'Volts', unit: 'V', least: 3.5, most: 4.0 },
    },
    {
      id: 'ohms-before',
      part: 'before',
      do: 'Read its resistance with a meter for cells.',
      check: { kind: 'measure', ask: 'Resistance', unit: 'mΩ', least: 0, most: null },
    },
    {
      id: 'old-isolate',
      part: 'work',
      do: 'Tape over one tab of the old cell, and lay it aside insulated.',
      check: seen('One tab is under tape'),
    },
    {
      id: 'old-cut-negative',
      part: 'work',
      do:
        'Cut the free tab of the old cell, the negative, with ceramic scissors; 3 mm stay on the board, ' +
        'the end even. Tape it over at once.',
      check: seen('Cut, even, under tape'),
    },
    {
      id: 'old-cut-positive',
      part: 'work',
      do: 'Only now uncover the positive, cut it the same way, tape both ends of the old cell. It goes into the sand box.',
      check: seen('Never were both free at once'),
    },
    {
      id: 'old-clean',
      part: 'work',
      do: 'Clean the old welds on the board flat, with the board alone on the bench.',
      check: seen('Flat and bright'),
    },
    {
      id: 'nickel',
      part: 'work',
      do: 'Weld a nickel strip on the board as a pad, with the cell away from the bench.',
      check: { kind: 'weld', ask: 'The proved setting that was used' },
    },
    {
      id: 'new-isolate',
      part: 'work',
      do: 'Tape over the positive tab of the new cell. Measure both tabs and cut them to length, one at a time, the other under tape.',
      check: { kind: 'measure', ask: 'Length of each tab', unit: 'mm', least: 2, most: 6 },
    },
    {
      id: 'weld-negative',
      part: 'work',
      do: 'Weld the negative, the nickel side, first. The pouch lies under a shield and stays cold.',
      check: { kind: 'weld', ask: 'The proved setting that was used' },
    },
    {
      id: 'pull-negative',
      part: 'work',
      do: 'Pull it with the gauge.',
      check: { kind: 'measure', ask: 'Pull', unit: 'N', least: rules.pull, most: null },
    },
    {
      id: 'weld-positive',
      part: 'work',
      do: 'Uncover the positive, weld it.',
      check: { kind: 'weld', ask: 'The proved setting that was used' },
    },
    {
      id: 'pull-positive',
      part: 'work',
      do: 'Pull it with the gauge.',
      check: { kind: 'measure', ask: 'Pull', unit: 'N', least: rules.pull, most: null },
    },
    {
      id: 'warm',
      part: 'work',
      do: 'Touch the pouch beside the welds with a probe.',
      check: { kind: 'measure', ask: 'Pouch', unit: '°C', least: null, most: 45 },
    },
    {
      id: 'insulate',
      part: 'work',
      do: 'Polyimide tape over both welds and between board and cell; fold the board as the old one was, fish paper at the edge.',
      check: seen('Nothing bare, nothing sharp at the pouch'),
    },
    {
      id: 'volts-after',
      part: 'work',
      do: 'Read it at the plug of the board.',
      check: { kind: 'measure', ask: 'Volts', unit: 'V', least: volts?.least ?? null, most: volts?.most ?? null },
    },
    {
      id: 'ohms-after',
      part: 'work',
      do: 'Read the resistance at the plug.',
      check: {
        kind: 'measure',
        ask: 'Resistance',
        unit: 'mΩ',
        least: 0,
        most: before === null ? null : before.milliohms + JOINT_OHMS * 2 + BOARD_OHMS,
      },
    },
    {
      id: 'cable-first',
      part: 'start',
      do: 'With the battery unplugged: power by cable.',
      check: seen('The device asks for its battery, or shows the notice that was expected'),
    },
    { id: 'off', part: 'start', do: 'Switch it off and unplug the cable.', check: seen('Dark, nothing warm') },
    {
      id: 'mate',
      part: 'start',
      do: 'Mate the battery again.',
      check: seen('Seated with a snap, nothing warm after a minute'),
    },
    { id: 'start', part: 'start', do: 'Start it by plugging the cable.', check: seen('It starts, and charges') },
    {
      id: 'report',
      part: 'start',
      do: 'Look at the report of the battery.',
      check: seen("The report is whole; what it says is the old board's"),
    },
    {
      id: 'rest',
      part: 'start',
      do: 'Leave it charging for 10 min where you see it.',
      check: { kind: 'measure', ask: 'Cell', unit: '°C', least: null, most: 40 },
    },
  ];
}

/** mΩ that a protection board and its flex add. Origin: own estimate. */
const BOARD_OHMS = 40;

/** What was done of it. */
export interface TransplantDone {
  step: string;
  /** The measure, where one was asked. */
  value: number | null;
  /** As it must be; anything else ends it. */
  good: boolean;
  note: string;
  by: string;
  at: string;
}

export type TransplantState =
  | { state: 'open'; next: TransplantStep; done: number; all: number }
  | { state: 'done' }
  /** Something was off: the cell goes into the sand box, and the work is over. */
  | { state: 'ended'; at: TransplantStep; because: string };

/** Where it stands. The volts and ohms read before set the limits of those read after. */
export function transplantState(rules: TransplantRules, done: readonly TransplantDone[]): TransplantState {
  const value = (id: string) => done.find((d) => d.step === id)?.value ?? null;
  const [volts, milliohms] = [value('volts-before'), value('ohms-before')];
  const steps = transplantSteps(rules, volts !== null && milliohms !== null ? { volts, milliohms } : null);
  for (const [i, step] of steps.entries()) {
    const d = done[i];
    if (!d) return { state: 'open', next: step, done: i, all: steps.length };
    if (!d.good) return { state: 'ended', at: step, because: d.note || `${step.do} was not as it must be` };
  }
  return { state: 'done' };
}

/** Is what was read at a step as it must be? @returns why not; `null` where it is */
export function transplantFault(
  step: TransplantStep,
  value: number | null,
  rules: TransplantRules,
  note: string,
): string | null {
  const { check } = step;
  switch (check.kind) {
    case 'seen':
      return null;
    case 'weld':
      return provedWelds(rules).some((w) => `${w.machine}: ${w.setting}` === note)
        ? null
        : 'Only a setting that your own coupons prove may be used; choose one of them.';
    case 'measure': {
      if (value === null || !Number.isFinite(value)) return `${check.ask} is asked for, in ${check.unit}.`;
      if (check.least !== null && value < check.least)
        return `${value} ${check.unit} is less than ${round(check.least)} ${check.unit}.`;
      if (check.most !== null && value > check.most)
        return `${value} ${check.unit} is more than ${round(check.most)} ${check.unit}.`;
      return null;
    }
    default:
      return check satisfies never;
  }
}

const round = (v: number): number => Math.round(v * 100) / 100;
