import type { Language } from '../language.ts';

/** What the run, the shop and the counter call things. */
export const bench: Pick<
  Language,
  | 'phases'
  | 'causes'
  | 'sorts'
  | 'acts'
  | 'learnt'
  | 'parked'
  | 'mishaps'
  | 'cellReadings'
  | 'removals'
  | 'marks'
  | 'measures'
  | 'waits'
  | 'schools'
  | 'weights'
> = {
  causes: {
    'not-seated': 'not fully seated',
    dirty: 'contacts dirty',
    torn: 'flex torn',
    pinched: 'flex pinched',
    'wrong-screw': 'wrong screw in the hole',
    loose: 'not tight',
    'left-out': 'left out or not in its place',
    broken: 'broken',
    'spare-bad': 'the new part is bad',
    'was-bad-before': 'was bad before',
  },
  sorts: {
    charger: 'Charger or cable',
    'port-dirt': 'Dirt in the port or a mesh',
    software: 'Software',
    cell: 'Worn or empty cell',
    plug: 'Plug loose or dirty',
    part: 'Part broken',
    board: 'Board',
    water: 'Liquid inside',
  },
  phases: {
    prepare: 'Prepare',
    descent: 'Descend',
    turn: 'Turn',
    ascent: 'Ascend',
    prove: 'Prove',
  },
  acts: {
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
  },
  learnt: {
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
  },
  parked: {
    'part-ordered': 'a part is on its way',
    customer: 'the customer has to decide',
    'other-work': 'other work comes first',
    dries: 'it dries or cures',
  },
  mishaps: {
    'glass-breaks': 'The glass back breaks',
    'panel-cracks': 'The display cracks while it is pried',
    'tab-snaps': 'A strip snaps',
    'screw-strips': 'A screw strips',
    'flex-tears': 'A flex tears',
    'spare-bad': 'The new part is bad',
  },
  removals: {
    loose: 'it lay loose, held by its edges',
    tabs: 'its tabs were pulled, and none snapped',
    solvent: 'lifted by hand after solvent',
    'pried-plastic': 'levered with plastic',
    'pried-metal': 'levered with metal',
    heat: 'heated, then levered',
  },
  marks: {
    swollen: 'swollen',
    punctured: 'punctured',
    leaking: 'leaking, or smelling sweet',
    bent: 'bent or creased',
    dented: 'dented',
    hot: 'hot',
    'wrap-torn': 'its wrap is torn',
    'tab-torn': 'a connection is torn',
  },
  measures: {
    capacity: 'capacity',
    cycles: 'cycles',
    resistance: 'resistance',
    rest: 'rest',
    'self-discharge': 'self-discharge',
    volts: 'volts',
    'charge-limit': 'charge limit',
    size: 'size',
    growth: 'growth',
    age: 'age',
    charge: 'charge',
    plug: 'plug',
    flex: 'flex',
    pairing: 'pairing',
  },
  cellReadings: {
    charge: { name: 'charge', unit: '%' },
    capacity: { name: 'capacity', unit: 'mAh' },
    cycles: { name: 'cycles', unit: '' },
    ohms: { name: 'resistance', unit: 'Ω' },
    rest: { name: 'at rest', unit: 'V' },
    later: { name: 'at rest, later', unit: 'V' },
  },
  waits: {
    drying: 'dries',
    skinning: 'skins over',
    pressing: 'is pressed',
    curing: 'cures',
    threadlocker: 'sets',
    'drawing-down': 'is drawn down',
  },
  schools: [
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
  ],
  weights: [
    { key: 'toolChange', label: 'Changing the tool', hint: 'putting one down and finding the next' },
    { key: 'turnOver', label: 'Turning the device over', hint: 'without spilling anything' },
    { key: 'workable', label: 'A softened seam stays workable', hint: 'where it is not computed' },
    { key: 'reheat', label: 'Heating it again', hint: 'where it is not computed' },
  ],
};
