import { CELL_RULES, cellRulesFormat } from '../../cells/index.ts';
import { CLOSING_BENCH, closingBenchFormat } from '../../closing/index.ts';
import {
  choice,
  completed,
  filled,
  joiOf,
  list,
  maybe,
  number,
  optional,
  readAs,
  record,
  type Of,
  type Optional,
  type Reading,
} from '../../format/index.ts';
import { ROOM, settingsFormat, SOURCE_KINDS, type SourceKind } from '../../heat/index.ts';
import { FIRST_GAPS, MARGIN, MOST_MARKS } from '../../opening/index.ts';
import type { Change } from '../changes.ts';
import { ALL_TOOLS } from './tools.ts';

const seconds = (most: number) => number({ least: 0, most, unit: 's' });
const degrees = (least: number, most: number) => number({ least, most, unit: '°C' });

/** The same field for every heat source, each of which may be left out. */
const bySource = <T>(field: Optional<T>) =>
  record(Object.fromEntries(SOURCE_KINDS.map((kind) => [kind, field])) as Record<SourceKind, Optional<T>>);

/**
 * The shop's own choices where practitioners disagree, each with what stands where a shop says nothing; the plan records the ones
 * it was made under. Origin of the defaults: the choices are the ones most often seen at the bench (common practice).
 */
export const rulesFormat = record({
  firstGap: filled(choice(FIRST_GAPS), 'suction-cup'),
  heat: filled(choice(SOURCE_KINDS), 'mat'),
  /** prop: work beside the opened display on its tether; take-off: disconnect and lift it before going on. */
  openedDisplay: filled(choice(['prop', 'take-off']), 'prop'),
  gluedBattery: filled(choice(['tabs-then-solvent', 'solvent', 'heat-and-pry']), 'tabs-then-solvent'),
  removedBattery: filled(choice(['never-refit', 'refit-if-flawless']), 'refit-if-flawless'),
  screws: filled(choice(['map', 'wells', 'magnetic-mat']), 'wells'),
  seal: filled(choice(['die-cut', 'strips', 'liquid-glue']), 'die-cut'),
  pressing: filled(choice(['by-hand', 'clips', 'weight']), 'clips'),
  powerOnTest: filled(choice(['before-sealing', 'after-closing']), 'before-sealing'),
  /** dry: a spare is tried before its bond is made, wherever its plug can be reached; at-once: bonded without. */
  trySpare: filled(choice(['dry', 'at-once']), 'dry'),
  /** Where a panel is pried and the cell can be had without opening it. */
  cellWhilePried: filled(choice(['left-in', 'taken-out']), 'left-in'),
  /** at-once: nothing is parted or taken out that is not in the way of isolation until it is done; as-it-comes: no matter. */
  isolation: filled(choice(['at-once', 'as-it-comes']), 'at-once'),
  /** What the shop draws a cell down with; `null` goes by what a device draws itself, bright and busy. */
  dischargeWatts: maybe(number({ above: 0, most: 200, unit: 'W' })),
  /** Charge that a cell is taken to have where nobody knows it: full is the unfavourable end (common practice). */
  assumedCharge: filled(number({ least: 0, most: 100, unit: '%' }), 100),
  /**
   * The hottest setting that a heat source is used at, though a hotter one would be quicker: the highest commonly seen at the bench
   * (common practice).
   */
  hottest: filled(bySource(optional(degrees(20, 300))), { mat: 80, pad: 70, gun: 100 }),
  /** What putting one tool down and finding the next costs, and turning an open device over without spilling. Own estimates. */
  toolChange: filled(seconds(600), 8),
  turnOver: filled(seconds(600), 15),
  /**
   * How long a softened seam stays workable once the heat is taken away, and heating a seam again that has cooled past that; asked
   * only where no recipe was found. Own estimates.
   */
  workable: filled(seconds(3600), 180),
  reheat: filled(seconds(3600), 120),
  /** Room temperature. */
  room: filled(degrees(-20, 45), ROOM),
  /** What the shop has measured of its own heat sources; the rest goes by the defaults. */
  sources: filled(bySource(optional(settingsFormat)), {}),
  /** Most depth marks on a pick, and what it keeps off whatever lies behind a seam. */
  pickMarks: filled(number({ whole: true, least: 1, most: 6 }), MOST_MARKS),
  pickMargin: filled(number({ least: 0, most: 10, unit: 'mm' }), MARGIN),
  /** Tools that the shop does not own. */
  lacks: filled(list(choice(ALL_TOOLS.map((tool) => tool.id)), { once: true, most: 100 }), []),
  /** The shop's screw tray: wells in rows and columns, and how many such trays there are. 4 × 6 is a common small compartment box. */
  trayRows: filled(number({ whole: true, least: 1, most: 26 }), 4),
  trayColumns: filled(number({ whole: true, least: 1, most: 30 }), 6),
  trays: filled(number({ whole: true, least: 1, most: 9 }), 1),
  /** What the shop bonds and presses with. */
  closing: filled(closingBenchFormat, CLOSING_BENCH),
  /** What the shop has settled about cells. */
  cells: filled(cellRulesFormat, CELL_RULES),
});
export interface HouseRules extends Of<typeof rulesFormat> {}

export const DEFAULT_RULES: HouseRules = completed(rulesFormat, {});

/** Reads house rules; what is left out takes its default. */
export const readRules = (document: unknown): Reading<HouseRules> => readAs<HouseRules>(rulesFormat, document);

/**
 * House rules that another version stored: a rule that it did not have, or that this one does not understand, takes
 * its default, and all the others stay as the shop set them.
 */
export function readOldRules(document: unknown): HouseRules {
  const known = { ...(typeof document === 'object' && document !== null ? document : {}) } as Record<string, unknown>;
  for (;;) {
    const { error, value } = joiOf(rulesFormat).validate(known, { abortEarly: false, convert: false });
    if (!error) return value as HouseRules;
    const wrong = error.details.map((d) => String(d.path[0])).filter((key) => key in known);
    if (wrong.length === 0) return DEFAULT_RULES;
    for (const key of wrong) delete known[key];
  }
}

/** What takes the place of a tool the shop lacks, best first (common practice). */
const INSTEAD = {
  heat: SOURCE_KINDS,
  firstGap: FIRST_GAPS,
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
