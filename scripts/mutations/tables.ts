import type { Bond } from '../../core/anatomy/index.ts';
import { FASTENER_KINDS } from '../../core/dive/house/fastenerKinds.ts';
import {
  ALL_TOOLS,
  DEFAULT_RULES,
  HEAT,
  readOldRules,
  readRules,
  SECONDS,
  toolOf,
  type HouseRules,
} from '../../core/dive/index.ts';
import {
  plain,
  PLAIN_REASONS,
  relation,
  RELATIONS,
  rule,
  uniqueReasons,
  type Reason,
} from '../../core/dive/graph/reasons.ts';
import { RULES } from '../../core/dive/ruleNames.ts';
import { BOND_KINDS, isLined, RELEASES, setsAtOnce } from '../../core/dive/house/bondKinds.ts';
import { CONNECTOR_KINDS } from '../../core/dive/house/connectorKinds.ts';
import { withToolsAtHand } from '../../core/dive/house/rules.ts';
import { newEntry } from '../../core/draft/index.ts';
import { BONDS, CONNECTORS } from '../../core/kinds/index.ts';

/* What anybody at a bench knows of tools, kinds and times: in spans and in yes and no, never as the tables have it. Common practice. */

type Said = string | null;

/** s, least and most, of one move of the hand. */
const SPANS: readonly [least: number, most: number, ...keys: (keyof typeof SECONDS)[]][] = [
  [
    1,
    12,
    'openLatchEach',
    'bendAside',
    'perCaptive',
    'snapLatchEach',
    'setClip',
    'photo',
    'lift',
    'pryGluePerCentimetre',
  ],
  [
    4,
    35,
    'perScrew',
    'perStandoff',
    'perClip',
    'swing',
    'ejectTray',
    'movePack',
    'peelFoil',
    'screwExtraWithThreadlock',
  ],
  [
    4,
    60,
    'powerOff',
    'checkCharge',
    'film',
    'setUpHeat',
    'gap',
    'solvent',
    'pullPerTab',
    'inspect',
    'cleanDry',
    'liners',
  ],
  [
    4,
    60,
    'newPaste',
    'newFoil',
    'fit',
    'fitBonded',
    'renewPart',
    'transferLayOut',
    'gate',
    'perTest',
    'pressByHand',
    'pressPad',
  ],
  [
    4,
    60,
    'liftOffPad',
    'inspectGasket',
    'tapeDown',
    'easeOpen',
    'powerOffAfterTest',
    'confirmLoss',
    'checkBrought',
    'clamp',
  ],
  [10, 120, 'layStrips', 'perStrip', 'clean', 'powerOn', 'newTabs', 'tapeGlass', 'newTape', 'liquidGlue', 'leakTest'],
  [60, 400, 'extractScrew', 'solventWait', 'newTapeStrips'],
  // What turning over takes is a rule of the house.
  [0, 0, 'turnOver'],
];

function timesAmiss(): Said {
  const told = new Set(SPANS.flatMap(([, , ...keys]) => keys));
  const untold = (Object.keys(SECONDS) as (keyof typeof SECONDS)[]).find((key) => !told.has(key));
  if (untold) return `nobody says how long ${untold} may take`;
  for (const [least, most, ...keys] of SPANS) {
    const wrong = keys.find((key) => SECONDS[key] < least || SECONDS[key] > most);
    if (wrong) return `${wrong}: ${SECONDS[wrong]} s`;
  }
  for (const [kind, { seconds: s }] of FASTENER_KINDS.entries) if (s < 3 || s > 30) return `${kind}: ${s} s`;
  for (const kind of BONDS.kinds) {
    const s = BONDS.of(kind).scrape;
    if (s < 0.2 || s > 5) return `scraping ${kind}: ${s} s a centimetre`;
  }
  for (const [source, h] of Object.entries(HEAT)) {
    const minutes = (h.hands + h.wait) / 60;
    if (minutes < 2 || minutes > 10 || h.wait < 0 || h.hands < 10) return `${source}: ${minutes} min`;
    if (h.set < 50 || h.set > 90) return `${source}: ${h.set} °C`;
    if (h.wait === 0 && h.hands < 120) return `${source}: neither held nor waited for`;
  }
  return null;
}

const METAL = new Set(['eject-pin', 'thin-blade', 'soldering-iron', 'screw-extractor']);

function toolsAmiss(): Said {
  if (new Set(ALL_TOOLS.map((t) => t.id)).size !== ALL_TOOLS.length) return 'two tools of one id';
  for (const t of ALL_TOOLS) {
    if (toolOf(t.id) !== t) return `${t.id} is another tool by its id`;
    const turns = t.id.startsWith('driver-') || t.id === 'screw-extractor';
    if (t.driver !== turns) return `${t.id}: driver ${t.driver}`;
    if (t.conductive !== (turns || METAL.has(t.id))) return `${t.id}: conductive ${t.conductive}`;
  }
  try {
    toolOf('hammer');
    return 'a hammer is a tool';
  } catch {
    return null;
  }
}

function kindsAmiss(): Said {
  for (const [kind, k] of CONNECTOR_KINDS.entries) {
    const { byItself } = CONNECTORS.of(kind);
    if (byItself !== (kind === 'contact')) return `${kind}: parts by itself ${byItself}`;
    if (k.isolatedOnly !== (kind === 'solder')) return `${kind}: isolated only ${k.isolatedOnly}`;
    const [least, most] = kind === 'contact' ? [0, 0] : kind === 'solder' ? [30, 200] : [3, 25];
    for (const { seconds } of [k.open, k.seat]) if (seconds < least || seconds > most) return `${kind}: ${seconds} s`;
    if (k.seat.seconds < k.open.seconds) return `${kind}: opened more slowly than seated`;
    if ((k.iron !== null) !== (kind === 'solder')) return `${kind}: iron`;
    for (const s of Object.values(k.iron ?? {})) if (s < 10 || s > 120) return `${kind}: ${s} s`;
  }
  for (const [method, { heats, first }] of Object.entries(RELEASES)) {
    if (heats !== method.startsWith('heat')) return `${method}: heats ${heats}`;
    if (heats && first !== null) return `${method}: takes up ${first} before the heat`;
  }
  return null;
}

const bond = (kind: Bond['kind'], rest: Partial<Bond>): Bond =>
  newEntry.bond('b', { kind, joins: ['a', 'frame'], at: { area: { rect: [0, 0, 5, 5] } }, ...rest });

/** How bonds are let go, laid and pressed: what the trade says of each kind, house by house. */
function bondsAmiss(): Said {
  const glued: Bond['kind'][] = ['tape', 'glue', 'gasket', 'thermal'];
  for (const [kind, _k] of BOND_KINDS.entries) {
    const facts = BONDS.of(kind);
    if (facts.byItself !== (kind === 'thermal')) return `${kind}: parts by itself`;
    if (facts.over !== (kind === 'foil')) return `${kind}: joins by itself`;
    for (const seal of ['die-cut', 'strips', 'liquid-glue'] as const) {
      const rules = { ...DEFAULT_RULES, seal };
      const lined = kind === 'tape' ? seal !== 'liquid-glue' : kind === 'stretch-tab' || kind === 'pull-pouch';
      if (isLined({ kind }, rules) !== lined) return `${kind}, ${seal}: liners`;
      const wet = kind === 'glue' || kind === 'thermal' || (kind === 'tape' && seal === 'liquid-glue');
      if (setsAtOnce({ kind }, rules) !== wet) return `${kind}, ${seal}: sets at once`;
    }
  }
  for (const gluedBattery of ['tabs-then-solvent', 'solvent', 'heat-and-pry'] as const)
    for (const softensAt of [null, 60, 80, 81, 110])
      for (const solvent of [false, true])
        for (const cell of [false, true])
          for (const kind of [...glued, 'stretch-tab', 'pull-pouch', 'foil'] as const) {
            const rules: HouseRules = { ...DEFAULT_RULES, gluedBattery };
            const how = BOND_KINDS.of(kind).release(bond(kind, { softensAt, solvent }), rules, cell);
            const at = `${kind}, ${gluedBattery}, ${softensAt} °C, solvent ${solvent}, cell ${cell}: ${how}`;
            const heats = how.startsWith('heat');
            if (heats && softensAt === null) return `${at}: heat softens nothing`;
            if (how.includes('solvent') && !solvent) return `${at}: solvent loosens nothing`;
            if (kind === 'foil' && how !== 'peel') return at;
            const tabs = kind === 'stretch-tab' || kind === 'pull-pouch';
            if (tabs && (gluedBattery === 'tabs-then-solvent' || !cell) && how !== 'pull') return `${at}: it has tabs`;
            if (how === 'pull' && !tabs) return `${at}: it has no tabs`;
            if (cell && gluedBattery === 'solvent' && solvent && kind !== 'foil' && how !== 'solvent-and-cut')
              return at;
            if (cell && gluedBattery === 'heat-and-pry' && softensAt !== null && kind !== 'foil' && !heats) return at;
            if (glued.includes(kind) && how === 'cut' && (softensAt !== null || solvent)) return `${at}: cut cold`;
            if (glued.includes(kind) && !cell && softensAt !== null) {
              if (!heats) return `${at}: not warmed`;
              if ((how === 'heat-solvent-and-cut') !== (solvent && softensAt > 80)) return `${at}: hard or not`;
            }
            if (!tabs && kind !== 'foil') {
              const kept = BOND_KINDS.of(kind).release(bond(kind, { softensAt, solvent, fate: 'keep' }), rules, cell);
              if (kept !== 'lift-off') return `${at}: what is kept is ${kept}`;
            }
          }
  return null;
}

/** Settings that a shop may well make, and such as are a slip of the finger. */
const SETTINGS: readonly [path: string, sane: readonly number[], slips: readonly number[]][] = [
  ['dischargeWatts', [0.5, 5, 150], [0, -5, 900]],
  ['assumedCharge', [0, 0.5, 50, 100], [-1, 101, 500]],
  ['toolChange', [0, 0.5, 30, 300], [-1, 3000]],
  ['turnOver', [0, 0.5, 30, 300], [-1, 3000]],
  ['workable', [0, 0.5, 60, 1800], [-1, 20_000]],
  ['reheat', [0, 0.5, 60, 1800], [-1, 20_000]],
  ['room', [-5, 0, 18, 40], [-60, 70, 200]],
  ['pickMarks', [1, 2, 5], [0, 40, 1.5]],
  ['pickMargin', [0, 0.2, 5], [-0.1, 60]],
  ['trayRows', [1, 5, 20], [0, 200, 2.5]],
  ['trayColumns', [1, 5, 20], [0, 200, 2.5]],
  ['trays', [1, 5], [0, 60, 1.5]],
  ['hottest.mat', [40, 90, 250], [5, 2000]],
  ['sources.gun.set', [40, 100, 250], [5, 2000]],
  ['sources.mat.conductance', [1, 120, 1500], [0, 15_000]],
  ['sources.gun.nozzle', [3, 20, 150], [0.5, 1500]],
  ['sources.gun.distance', [8, 50, 600], [2, 8000]],
  ['sources.gun.speed', [2, 30, 300], [0.2, 4000]],
];

const at = (path: string, value: unknown): object =>
  path.split('.').reduceRight<unknown>((inner, key) => ({ [key]: inner }), value) as object;

function settingsAmiss(): Said {
  const usual = readRules({});
  if (!usual.ok || JSON.stringify(usual.value) !== JSON.stringify(DEFAULT_RULES))
    return 'nothing said is not the usual';
  for (const [path, sane, slips] of SETTINGS) {
    for (const v of sane) if (!readRules(at(path, v)).ok) return `${path}: ${v} is refused`;
    for (const v of slips) if (readRules(at(path, v)).ok) return `${path}: ${v} is taken`;
  }
  if (!readRules({ dischargeWatts: null }).ok) return 'no load is refused';
  if (readRules({ lacks: ['mat', 'mat'] }).ok || !readRules({ lacks: ALL_TOOLS.map((t) => t.id) }).ok) return 'lacks';
  // Several faults are told at once, and a number in quotes is none.
  const faults = readRules({ trays: '2', toolChange: -1, heat: 'fire' });
  if (faults.ok || faults.faults.length !== 3) return 'not every fault is told';
  const old = readOldRules({ toolChange: 21, heat: 'fire', turnOver: -4, wings: 2 });
  if (old.toolChange !== 21 || old.heat !== DEFAULT_RULES.heat || old.turnOver !== DEFAULT_RULES.turnOver)
    return 'an old rule is lost';
  if (JSON.stringify(readOldRules(null)) !== JSON.stringify(DEFAULT_RULES)) return 'no old rules are not the usual';
  const d = DEFAULT_RULES;
  if (d.toolChange < 2 || d.toolChange > 30 || d.turnOver < 5 || d.turnOver > 60) return 'costs of change';
  if (d.workable < 60 || d.workable > 600 || d.reheat < 30 || d.reheat > 600) return 'workable';
  if (d.assumedCharge !== 100 || d.trays < 1 || d.trayRows * d.trayColumns < 12 || d.trayRows * d.trayColumns > 100)
    return 'what is assumed';
  for (const hot of Object.values(d.hottest)) if (hot < 60 || hot > 120) return `as hot as ${hot}`;
  return null;
}

/** What takes the place of what a shop lacks is at hand, and is told; what it has stays. */
function insteadAmiss(): Said {
  const kinds = {
    heat: ['mat', 'pad', 'gun', 'gel-pack', 'dryer'],
    firstGap: ['suction-cup', 'cup-clamp', 'thin-blade'],
  };
  for (const [key, tools] of Object.entries({ ...kinds, pressing: ['clips', 'weight'] }) as ['heat', string[]][])
    for (const wanted of tools)
      for (const left of [...tools, 'none']) {
        const lacks = tools.filter((t) => t !== left);
        const rules = { ...DEFAULT_RULES, [key]: wanted, lacks } as HouseRules;
        const { rules: next, changes } = withToolsAtHand(rules);
        const found = next[key] as string;
        const byHand = (key as string) === 'pressing' && left === 'none';
        if (byHand ? found !== 'by-hand' : found !== (left === 'none' ? wanted : left))
          return `${key} ${wanted}: ${found}`;
        if (changes.length !== (found === wanted ? 0 : 1))
          return `${key} ${wanted}: ${changes.length} changes are told`;
      }
  const all = kinds.heat;
  const cell = (gluedBattery: HouseRules['gluedBattery'], lacks: string[]) =>
    withToolsAtHand({ ...DEFAULT_RULES, gluedBattery, lacks }).rules.gluedBattery;
  if (cell('heat-and-pry', all) !== 'solvent' || cell('heat-and-pry', all.slice(1)) !== 'heat-and-pry')
    return 'no heat';
  if (cell('solvent', ['solvent-dropper']) !== 'heat-and-pry' || cell('solvent', []) !== 'solvent') return 'no dropper';
  if (cell('tabs-then-solvent', all) !== 'tabs-then-solvent') return 'tabs are pulled all the same';
  return null;
}

/** No two reasons are taken for one. */
function reasonsAmiss(): Said {
  const reasons: Reason[] = [
    ...RULES.map(rule),
    ...PLAIN_REASONS.map(plain),
    ...RELATIONS.map((name) => relation(name, 'cover-2')),
    { why: 'order', first: 'tray', then: 'board', words: 'covers what a tray locks' },
    { why: 'quoted', words: 'covers what a tray locks' },
  ];
  const once = uniqueReasons([...reasons, ...reasons]);
  return once.length === reasons.length ? null : `${reasons.length} reasons are ${once.length}`;
}

/** What is wrong with the tables of the house, or `null`. */
export const tablesAmiss = (): Said =>
  timesAmiss() ?? toolsAmiss() ?? kindsAmiss() ?? bondsAmiss() ?? settingsAmiss() ?? insteadAmiss() ?? reasonsAmiss();
