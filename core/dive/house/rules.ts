import Joi from 'joi';
import { CELL_RULES, cellRulesSchema, type CellRules } from '../../cells/index.ts';
import { CLOSING_BENCH, closingBenchSchema, type ClosingBench } from '../../closing/index.ts';
import { ROOM, SOURCE_KINDS, type SourceKind, type SourceSettings } from '../../heat/index.ts';
import { MARGIN, MOST_MARKS, type FirstGap } from '../../opening/index.ts';
import { faultsOfJoi, type Reading } from '../../anatomy/index.ts';
import type { Change } from '../changes.ts';
import { ALL_TOOLS } from './tools.ts';

/** The shop's own choices where practitioners disagree; the plan records the ones it was made under. */
export interface HouseRules {
  firstGap: FirstGap;
  heat: SourceKind;
  /** prop: work beside the opened display on its tether; take-off: disconnect and lift it before going on. */
  openedDisplay: 'prop' | 'take-off';
  gluedBattery: 'tabs-then-solvent' | 'solvent' | 'heat-and-pry';
  removedBattery: 'never-refit' | 'refit-if-flawless';
  screws: 'map' | 'wells' | 'magnetic-mat';
  seal: 'die-cut' | 'strips' | 'liquid-glue';
  pressing: 'by-hand' | 'clips' | 'weight';
  powerOnTest: 'before-sealing' | 'after-closing';
  /** dry: a spare is tried before its bond is made, wherever its plug can be reached; at-once: bonded without. */
  trySpare: 'dry' | 'at-once';
  /** Where a panel is pried and the cell can be had without opening it. */
  cellWhilePried: 'left-in' | 'taken-out';
  /** at-once: nothing is parted or taken out that is not in the way of isolation until it is done; as-it-comes: no matter. */
  isolation: 'at-once' | 'as-it-comes';
  /** W that the shop draws a cell down with; `null` goes by what a device draws itself, bright and busy. */
  dischargeWatts: number | null;
  /** Charge, %, that a cell is taken to have where nobody knows it. */
  assumedCharge: number;
  /** The hottest setting that a heat source is used at, °C, though a hotter one would be quicker. */
  hottest: Partial<Record<SourceKind, number>>;
  /** Seconds that a change of tool costs. */
  toolChange: number;
  /** Seconds that turning the device over costs. */
  turnOver: number;
  /** Seconds that a softened seam stays workable once the heat is taken away. */
  workable: number;
  /** Seconds of heating a seam again that has cooled past that. Both are asked only where no recipe was found. */
  reheat: number;
  /** Room temperature, °C. */
  room: number;
  /** What the shop has measured of its own heat sources; the rest goes by the defaults. */
  sources: Partial<Record<SourceKind, SourceSettings>>;
  /** Most depth marks on a pick, and mm it keeps off whatever lies behind a seam. */
  pickMarks: number;
  pickMargin: number;
  /** Tools that the shop does not own. */
  lacks: string[];
  /** The shop's screw tray: wells in rows and columns, and how many such trays there are. */
  trayRows: number;
  trayColumns: number;
  trays: number;
  /** What the shop bonds and presses with. */
  closing: ClosingBench;
  /** What the shop has settled about cells. */
  cells: CellRules;
}

/**
 * Defaults. Origin: the choices are the ones most often seen at the bench (common practice); the
 * two costs are our own bench estimates for putting one tool down and finding the next, and for
 * turning an open device over without spilling anything. A seam that stays soft for about three
 * minutes, and a reheat of about two, are own estimates too.
 * A charge that nobody knows counts as full: the unfavourable end (common practice).
 * A tray of 4 × 6 wells is a common small compartment box. The hottest settings are the highest commonly seen at the
 * bench: a mat at 80 °C, a pad at 70 °C, a gun at 100 °C (common practice).
 */
export const DEFAULT_RULES: HouseRules = {
  firstGap: 'suction-cup',
  heat: 'mat',
  openedDisplay: 'prop',
  gluedBattery: 'tabs-then-solvent',
  removedBattery: 'refit-if-flawless',
  screws: 'wells',
  seal: 'die-cut',
  pressing: 'clips',
  powerOnTest: 'before-sealing',
  trySpare: 'dry',
  cellWhilePried: 'left-in',
  isolation: 'at-once',
  dischargeWatts: null,
  assumedCharge: 100,
  hottest: { mat: 80, pad: 70, gun: 100 },
  toolChange: 8,
  turnOver: 15,
  workable: 180,
  reheat: 120,
  room: ROOM,
  sources: {},
  pickMarks: MOST_MARKS,
  pickMargin: MARGIN,
  lacks: [],
  trayRows: 4,
  trayColumns: 6,
  trays: 1,
  closing: CLOSING_BENCH,
  cells: CELL_RULES,
};

const settings = Joi.object({
  set: Joi.number().min(20).max(300),
  conductance: Joi.number().min(0.5).max(2000),
  nozzle: Joi.number().min(2).max(200),
  distance: Joi.number().min(5).max(1000),
  speed: Joi.number().min(1).max(500),
});

export const rulesSchema = Joi.object({
  firstGap: Joi.string().valid('suction-cup', 'cup-clamp', 'thin-blade').default(DEFAULT_RULES.firstGap),
  heat: Joi.string().valid('mat', 'pad', 'gun', 'gel-pack', 'dryer').default(DEFAULT_RULES.heat),
  openedDisplay: Joi.string().valid('prop', 'take-off').default(DEFAULT_RULES.openedDisplay),
  gluedBattery: Joi.string().valid('tabs-then-solvent', 'solvent', 'heat-and-pry').default(DEFAULT_RULES.gluedBattery),
  removedBattery: Joi.string().valid('never-refit', 'refit-if-flawless').default(DEFAULT_RULES.removedBattery),
  screws: Joi.string().valid('map', 'wells', 'magnetic-mat').default(DEFAULT_RULES.screws),
  seal: Joi.string().valid('die-cut', 'strips', 'liquid-glue').default(DEFAULT_RULES.seal),
  pressing: Joi.string().valid('by-hand', 'clips', 'weight').default(DEFAULT_RULES.pressing),
  powerOnTest: Joi.string().valid('before-sealing', 'after-closing').default(DEFAULT_RULES.powerOnTest),
  trySpare: Joi.string().valid('dry', 'at-once').default(DEFAULT_RULES.trySpare),
  cellWhilePried: Joi.string().valid('left-in', 'taken-out').default(DEFAULT_RULES.cellWhilePried),
  isolation: Joi.string().valid('at-once', 'as-it-comes').default(DEFAULT_RULES.isolation),
  dischargeWatts: Joi.number().positive().max(200).allow(null).default(DEFAULT_RULES.dischargeWatts),
  assumedCharge: Joi.number().min(0).max(100).default(DEFAULT_RULES.assumedCharge),
  hottest: Joi.object(Object.fromEntries(SOURCE_KINDS.map((kind) => [kind, Joi.number().min(20).max(300)]))).default(
    DEFAULT_RULES.hottest,
  ),
  toolChange: Joi.number().min(0).max(600).default(DEFAULT_RULES.toolChange),
  turnOver: Joi.number().min(0).max(600).default(DEFAULT_RULES.turnOver),
  workable: Joi.number().min(0).max(3600).default(DEFAULT_RULES.workable),
  reheat: Joi.number().min(0).max(3600).default(DEFAULT_RULES.reheat),
  room: Joi.number().min(-20).max(45).default(DEFAULT_RULES.room),
  sources: Joi.object(Object.fromEntries(SOURCE_KINDS.map((kind) => [kind, settings]))).default({}),
  pickMarks: Joi.number().integer().min(1).max(6).default(DEFAULT_RULES.pickMarks),
  pickMargin: Joi.number().min(0).max(10).default(DEFAULT_RULES.pickMargin),
  lacks: Joi.array()
    .items(Joi.string().valid(...ALL_TOOLS.map((t) => t.id)))
    .unique()
    .max(100)
    .default([]),
  trayRows: Joi.number().integer().min(1).max(26).default(DEFAULT_RULES.trayRows),
  trayColumns: Joi.number().integer().min(1).max(30).default(DEFAULT_RULES.trayColumns),
  trays: Joi.number().integer().min(1).max(9).default(DEFAULT_RULES.trays),
  closing: closingBenchSchema.default(CLOSING_BENCH),
  cells: cellRulesSchema.default(CELL_RULES),
}).label('rules');

/** Reads house rules; what is left out takes its default. */
export function readRules(document: unknown): Reading<HouseRules> {
  const { error, value } = rulesSchema.validate(document, { abortEarly: false, convert: false });
  return error ? { ok: false, faults: faultsOfJoi(error) } : { ok: true, value: value as HouseRules };
}

/**
 * House rules that another version stored: a rule that it did not have, or that this one does not understand, takes
 * its default, and all the others stay as the shop set them.
 */
export function readOldRules(document: unknown): HouseRules {
  const known = { ...(typeof document === 'object' && document !== null ? document : {}) } as Record<string, unknown>;
  for (;;) {
    const { error, value } = rulesSchema.validate(known, { abortEarly: false, convert: false });
    if (!error) return value as HouseRules;
    const wrong = error.details.map((d) => String(d.path[0])).filter((key) => key in known);
    if (wrong.length === 0) return DEFAULT_RULES;
    for (const key of wrong) delete known[key];
  }
}

/** What takes the place of a tool the shop lacks, best first (common practice). */
const INSTEAD = {
  heat: ['mat', 'pad', 'gun', 'gel-pack', 'dryer'],
  firstGap: ['suction-cup', 'cup-clamp', 'thin-blade'],
  pressing: ['clips', 'weight', 'by-hand'],
} as const;

/** The rules as they can be followed with the tools at hand, and what that changes. */
export function withToolsAtHand(rules: HouseRules): { rules: HouseRules; changes: Change[] } {
  const changes: Change[] = [];
  const next = { ...rules };
  const choose = <K extends keyof typeof INSTEAD>(key: K) => {
    const wanted = rules[key] as string;
    if (!rules.lacks.includes(wanted)) return;
    const other = (INSTEAD[key] as readonly string[]).find((tool) => !rules.lacks.includes(tool));
    if (!other) return;
    (next as unknown as Record<string, unknown>)[key] = other;
    changes.push({
      code: other === 'by-hand' ? 'other-by-hand' : 'other-tool',
      tool: wanted,
      what: key,
      instead: other,
    });
  };
  choose('heat');
  choose('firstGap');
  choose('pressing');
  if (rules.gluedBattery === 'heat-and-pry' && INSTEAD.heat.every((tool) => rules.lacks.includes(tool))) {
    next.gluedBattery = 'solvent';
    changes.push({ code: 'no-heat-source' });
  } else if (rules.gluedBattery === 'solvent' && rules.lacks.includes('solvent-dropper')) {
    next.gluedBattery = 'heat-and-pry';
    changes.push({ code: 'no-solvent-dropper' });
  }
  return { rules: next, changes };
}

export function pressTool(rules: HouseRules): string | null {
  return rules.pressing === 'by-hand' ? null : rules.pressing;
}
