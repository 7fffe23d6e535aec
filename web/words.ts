import type { MishapKind } from '../core/counter/index.ts';
import type { HouseRules, Step, Verb } from '../core/dive/index.ts';
import type { ActKind } from '../core/explore/index.ts';
import type { RelationKind } from '../core/learn/index.ts';
import type { CellReading, DeviationKind, ParkedWhy, WaitKind } from '../core/run/index.ts';

/** The verbs of a plan as they stand on screen, one short imperative each. */
export const VERB_WORDS: Record<Verb, string> = {
  'power-off': 'Power off',
  discharge: 'Discharge',
  eject: 'Eject',
  film: 'Cover with film',
  'tape-glass': 'Tape the glass',
  photo: 'Photograph',
  heat: 'Heat',
  gap: 'Raise a gap',
  cut: 'Cut',
  solvent: 'Apply solvent',
  unscrew: 'Unscrew',
  disconnect: 'Disconnect',
  release: 'Release',
  ease: 'Ease open',
  swing: 'Swing open',
  lift: 'Lift off',
  pull: 'Pull',
  desolder: 'Unsolder',
  'bend-aside': 'Bend aside',
  'turn-over': 'Turn over',
  inspect: 'Inspect',
  clean: 'Clean',
  transfer: 'Move across',
  fit: 'Fit',
  connect: 'Seat',
  fasten: 'Fasten',
  bond: 'Lay new',
  'remove-liner': 'Take off liners',
  press: 'Press',
  cure: 'Let cure',
  solder: 'Solder',
  gate: 'Gate',
  test: 'Test',
  try: 'Try dry',
  'confirm-loss': 'See what is lost',
  'power-on': 'Power on',
  renew: 'Renew',
  flux: 'Flux',
  tin: 'Tin',
  'leak-test': 'Test for leaks',
  'tape-down': 'Tape down',
};

export const PHASE_WORDS: Record<Step['phase'], string> = {
  prepare: 'Prepare',
  descent: 'Descend',
  turn: 'Turn',
  ascent: 'Ascend',
  prove: 'Prove',
};

export const DEVIATION_WORDS: Record<DeviationKind, string> = {
  stripped: 'Screw stripped',
  'cross-threaded': 'Cross-threaded',
  corroded: 'Corroded',
  missing: 'Missing',
  'other-length': 'Other length',
  'other-screw': 'Another screw than drawn',
  snapped: 'Snapped',
  torn: 'Flex torn',
  broken: 'Broken',
  'not-as-drawn': 'Not as drawn',
  'already-replaced': 'Replaced before',
  extra: 'Something extra',
  overheated: 'Too hot',
};

export const ACT_WORDS: Record<ActKind, string> = {
  'screw-out': 'Screw out',
  'screw-in': 'Screw in',
  'connector-opened': 'Connector opened',
  'connector-seated': 'Connector seated',
  'bond-cut': 'Bond cut',
  'bond-closed': 'Bond closed',
  heated: 'Heated',
  pulled: 'Pulled',
  'latch-released': 'Catch let go',
  'part-off': 'Part off',
  'part-swung': 'Part swung open',
  'part-on': 'Part back in',
  'turned-over': 'Turned over',
  'bent-aside': 'Flex bent aside',
  cleaned: 'Cleaned',
  told: 'Said of it',
  'powered-off': 'Switched off',
  'charge-checked': 'Charge looked at',
  filmed: 'Covered with film',
  taped: 'Glass taped',
  photographed: 'Photographed',
  'gap-raised': 'First gap raised',
  wetted: 'Solvent run in',
  peeled: 'Peeled off',
  'bond-parted': 'Parted by itself',
  'contact-parted': 'Springs parted',
  'part-eased': 'Part eased open',
};

/** What was learnt of two items, between their names. */
export const RELATION_WORDS: Record<RelationKind, string> = {
  covers: 'lies over',
  holds: 'holds',
  into: 'is driven into',
  joins: 'joins',
  from: 'is the plug of',
  to: 'is plugged in on',
  within: 'travels in',
  tether: 'hangs on',
  gap: 'lets a tool in to',
  tilts: 'is reached beneath',
  before: 'was undone before',
  isolates: 'cuts the battery off',
};

/** What a step is about, for its colour and its shape. */
export type Trade = 'screw' | 'connector' | 'bond' | 'part' | 'heat' | 'gate' | 'test' | 'hand';

export function tradeOf(step: Pick<Step, 'do'>): Trade {
  switch (step.do) {
    case 'unscrew':
    case 'fasten':
      return 'screw';
    case 'disconnect':
    case 'desolder':
    case 'connect':
    case 'solder':
    case 'bend-aside':
      return 'connector';
    case 'gap':
    case 'cut':
    case 'pull':
    case 'release':
    case 'bond':
    case 'remove-liner':
    case 'press':
    case 'cure':
    case 'solvent':
      return 'bond';
    case 'ease':
    case 'swing':
    case 'lift':
    case 'fit':
    case 'transfer':
    case 'eject':
    case 'renew':
      return 'part';
    case 'heat':
      return 'heat';
    case 'gate':
      return 'gate';
    case 'test':
    case 'try':
    case 'confirm-loss':
    case 'power-on':
      return 'test';
    default:
      return 'hand';
  }
}

export const TRADE_COLOUR: Record<Trade, string> = {
  screw: 'var(--brass)',
  connector: 'var(--teal)',
  bond: 'var(--mauve)',
  part: 'var(--petrol)',
  heat: 'var(--ember)',
  gate: 'var(--ink)',
  test: 'var(--moss)',
  hand: 'var(--quiet)',
};

/** Where practitioners disagree: the question, and the schools to choose from. */
export const SCHOOLS: { key: keyof HouseRules; question: string; choices: [value: string, word: string][] }[] = [
  {
    key: 'firstGap',
    question: 'First gap',
    choices: [
      ['suction-cup', 'Suction cup'],
      ['cup-clamp', 'Clamp with cups'],
      ['thin-blade', 'Thin blade at the frame'],
    ],
  },
  {
    key: 'heat',
    question: 'Heat',
    choices: [
      ['mat', 'Mat'],
      ['pad', 'Pad'],
      ['gun', 'Hot-air gun'],
      ['gel-pack', 'Gel pack'],
      ['dryer', 'Dryer'],
    ],
  },
  {
    key: 'openedDisplay',
    question: 'Opened display',
    choices: [
      ['prop', 'Propped on its tether'],
      ['take-off', 'Taken off before going on'],
    ],
  },
  {
    key: 'gluedBattery',
    question: 'Glued battery',
    choices: [
      ['tabs-then-solvent', 'Tabs first, then solvent'],
      ['solvent', 'Solvent at once'],
      ['heat-and-pry', 'Heat and pry'],
    ],
  },
  {
    key: 'removedBattery',
    question: 'Removed battery',
    choices: [
      ['never-refit', 'Never refitted'],
      ['refit-if-flawless', 'Refitted if flawless'],
    ],
  },
  {
    key: 'screws',
    question: 'Screws',
    choices: [
      ['wells', 'Wells by layer'],
      ['map', 'Map by place'],
      ['magnetic-mat', 'Magnetic mat'],
    ],
  },
  {
    key: 'seal',
    question: 'New seal',
    choices: [
      ['die-cut', 'Die-cut seal'],
      ['strips', 'Cut strips'],
      ['liquid-glue', 'Liquid glue and clamps'],
    ],
  },
  {
    key: 'pressing',
    question: 'Pressing',
    choices: [
      ['clips', 'Clips or bands'],
      ['weight', 'Weight for a set time'],
      ['by-hand', 'By hand along the edge'],
    ],
  },
  {
    key: 'powerOnTest',
    question: 'Power-on test',
    choices: [
      ['before-sealing', 'Before sealing'],
      ['after-closing', 'After closing, where nothing is bonded'],
    ],
  },
  {
    key: 'trySpare',
    question: 'A new part',
    choices: [
      ['dry', 'Tried dry before it is bonded'],
      ['at-once', 'Bonded at once'],
    ],
  },
  {
    key: 'cellWhilePried',
    question: 'Cell, while a panel is pried',
    choices: [
      ['left-in', 'Left in'],
      ['taken-out', 'Taken out where it can be'],
    ],
  },
  {
    key: 'isolation',
    question: 'Isolating the battery',
    choices: [
      ['at-once', 'As soon as it can be reached'],
      ['as-it-comes', 'When the work comes to it'],
    ],
  },
];

/** The seconds that the order of a dive is weighed by. */
export const WEIGHTS: { key: 'toolChange' | 'turnOver' | 'workable' | 'reheat'; label: string; hint: string }[] = [
  { key: 'toolChange', label: 'Changing the tool', hint: 'putting one down and finding the next' },
  { key: 'turnOver', label: 'Turning the device over', hint: 'without spilling anything' },
  { key: 'workable', label: 'A softened seam stays workable', hint: 'where it is not computed' },
  { key: 'reheat', label: 'Heating it again', hint: 'where it is not computed' },
];

export const PARKED_WORDS: Record<ParkedWhy, string> = {
  'part-ordered': 'a part is on its way',
  customer: 'the customer has to decide',
  'other-work': 'other work comes first',
  dries: 'it dries or cures',
};

export const MISHAP_WORDS: Record<MishapKind, string> = {
  'glass-breaks': 'The glass back breaks',
  'panel-cracks': 'The display cracks while it is pried',
  'tab-snaps': 'A strip snaps',
  'screw-strips': 'A screw strips',
  'flex-tears': 'A flex tears',
  'spare-bad': 'The new part is bad',
};

/** What is read of a cell, and in what unit. */
export const READING_WORDS: Record<CellReading, { name: string; unit: string }> = {
  charge: { name: 'charge', unit: '%' },
  capacity: { name: 'capacity', unit: 'mAh' },
  cycles: { name: 'cycles', unit: '' },
  ohms: { name: 'resistance', unit: 'Ω' },
  rest: { name: 'at rest', unit: 'V' },
  later: { name: 'at rest, later', unit: 'V' },
};

export const WAIT_WORDS: Record<WaitKind, string> = {
  drying: 'dries',
  skinning: 'skins over',
  pressing: 'is pressed',
  curing: 'cures',
  threadlocker: 'sets',
  'drawing-down': 'is drawn down',
};
