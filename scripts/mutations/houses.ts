import type { Model } from '../../core/anatomy/index.ts';
import {
  DEFAULT_RULES,
  planDive,
  type Condition,
  type HouseRules,
  type Plan,
  type Step,
} from '../../core/dive/index.ts';
import { demoModel } from '../../demo/models.ts';
import { wrongWith } from '../../demo/planOracle.ts';

/* What a choice of the house, or the state of a device, has to change in a dive: told in kinds of steps and in more or less, never in figures. */

interface Answer {
  device: string;
  replace: string[];
  rules?: Partial<HouseRules>;
  condition?: Partial<Condition>;
  spares?: string[];
  look?: string[];
  /** What is wrong with the plan beside the usual one, in words; `false` is nothing. */
  amiss: (plan: Plan, usual: Plan) => string | false;
}

const hinted = ({ hint }: Step, code: string): boolean => hint.some((h) => h.code === code);
const steps = (plan: Plan, does: Step['do'], item?: string) =>
  plan.steps.filter((s) => s.do === does && (item === undefined || s.items.includes(item)));
const hands = (plan: Plan, does: Step['do']) => steps(plan, does).reduce((sum, s) => sum + s.seconds, 0);
const waits = (plan: Plan, does: Step['do']) => steps(plan, does).reduce((sum, s) => sum + s.waits, 0);
const unless = (holds: boolean, words: string): string | false => !holds && words;
const QUILL = 'velmora-quill-5';
const NACRE = 'pellworth-nacre-2';
const BROADLEAF = 'osterleigh-broadleaf-12';
const MULE = 'karnhold-mule-4';
const CAIRN = 'brannoch-cairn-2';
const TERRACE = 'wexholm-terrace-11';

const battery = { device: QUILL, replace: ['battery'] };
const display = { device: QUILL, replace: ['display'] };
const tablet = { device: TERRACE, replace: ['battery'] };

const ANSWERS: Answer[] = [
  {
    ...battery,
    rules: { toolChange: 40 },
    amiss: (p, u) =>
      unless(
        p.totals.toolChanges <= u.totals.toolChanges && p.totals.elapsed > u.totals.elapsed,
        'dearer changes of tool',
      ),
  },
  {
    device: NACRE,
    replace: ['display'],
    rules: { turnOver: 300 },
    amiss: (p, u) =>
      unless(p.totals.turnOvers <= u.totals.turnOvers && p.totals.elapsed >= u.totals.elapsed, 'dearer turning over'),
  },
  {
    ...battery,
    rules: { pressing: 'by-hand' },
    amiss: (p) =>
      unless(
        steps(p, 'press').every((s) => s.waits === 0),
        'pressed by hand',
      ),
  },
  {
    ...battery,
    rules: { pressing: 'weight' },
    amiss: (p) =>
      unless(
        steps(p, 'press').some((s) => s.tool === 'weight' && s.waits >= 60),
        'pressed by weight',
      ),
  },
  {
    ...battery,
    rules: { pressing: 'clips' },
    amiss: (p) =>
      unless(
        steps(p, 'press').some((s) => s.tool === 'clips' && s.waits >= 60 && s.waits <= 900),
        'pressed by clips',
      ),
  },
  {
    ...battery,
    rules: { seal: 'liquid-glue' },
    amiss: (p, u) =>
      unless(
        waits(p, 'cure') > 900 && steps(p, 'cure').length >= 1 && p.totals.waits > u.totals.waits,
        'liquid glue cures',
      ),
  },
  {
    ...battery,
    rules: { seal: 'strips' },
    amiss: (p, u) =>
      unless(
        hands(p, 'bond') > hands(u, 'bond') &&
          hands(p, 'bond') < 20 * 60 &&
          steps(p, 'bond').some((s) => hinted(s, 'lay-strips')),
        'strips take longer than a die-cut seal',
      ),
  },
  {
    ...tablet,
    rules: { seal: 'strips' },
    amiss: (p, u) => unless(hands(p, 'bond') > hands(u, 'bond') + 30, 'strips take longer than a die-cut seal'),
  },
  {
    ...tablet,
    rules: { gluedBattery: 'solvent' },
    amiss: (p) => unless(steps(p, 'solvent', 'cell-glue-left').length > 0, 'glue of a cell soaked'),
  },
  {
    ...tablet,
    rules: { gluedBattery: 'heat-and-pry' },
    amiss: (p) =>
      unless(
        steps(p, 'heat', 'cell-glue-left').length > 0 && steps(p, 'solvent', 'cell-glue-left').length === 0,
        'glue of a cell warmed',
      ),
  },
  {
    ...battery,
    rules: { gluedBattery: 'tabs-then-solvent' },
    amiss: (p) => unless(steps(p, 'pull').length > 0, 'tabs pulled'),
  },
  {
    ...battery,
    rules: { gluedBattery: 'solvent' },
    amiss: (p) => unless(steps(p, 'solvent').length > 0 || steps(p, 'pull').length > 0, 'a cell is let go'),
  },
  {
    ...battery,
    rules: { openedDisplay: 'take-off' },
    amiss: (p) => unless(steps(p, 'lift', 'display').length > 0, 'an opened display is taken off'),
  },
  {
    ...battery,
    rules: { powerOnTest: 'after-closing' },
    amiss: (p, u) =>
      unless(
        u.steps.some((s) => s.do === 'test' && s.phase === 'ascent'),
        'tried before it is sealed',
      ) || unless(wrongWith(demoModel(QUILL), p) === null, 'after closing'),
  },
  { ...display, rules: { trySpare: 'at-once' }, amiss: (p) => unless(steps(p, 'try').length === 0, 'no trial') },
  {
    ...battery,
    rules: { isolation: 'as-it-comes' },
    amiss: (p, u) => unless(p.totals.elapsed <= u.totals.elapsed + 1e-6, 'free to isolate when it comes'),
  },
  {
    ...battery,
    rules: { dischargeWatts: 20 },
    amiss: (p, u) =>
      unless(waits(p, 'discharge') < waits(u, 'discharge') && waits(p, 'discharge') > 60, 'drawn down faster'),
  },
  {
    ...battery,
    rules: { assumedCharge: 40 },
    amiss: (p, u) => unless(waits(p, 'discharge') < waits(u, 'discharge'), 'a charge that is taken to be low'),
  },
  {
    ...battery,
    condition: { charge: 10 },
    amiss: (p) => unless(waits(p, 'discharge') === 0, 'an empty cell is not drawn down'),
  },
  {
    ...battery,
    condition: { charge: 60 },
    amiss: (p, u) =>
      unless(waits(p, 'discharge') > 60 && waits(p, 'discharge') < waits(u, 'discharge'), 'a half full cell'),
  },
  {
    ...battery,
    condition: { dark: true },
    amiss: (p) =>
      unless(
        steps(p, 'discharge').every((s) => s.waits === 0 || hinted(s, 'draw-down')),
        'a dark device',
      ),
  },
  {
    ...display,
    condition: { crackedGlass: true },
    amiss: (p) => unless(steps(p, 'tape-glass').length === 1, 'cracked glass is taped'),
  },
  {
    ...battery,
    condition: { worked: ['touch'] },
    amiss: (p) => unless(p.touched.includes('touch'), 'what worked is proved again'),
  },
  {
    ...battery,
    rules: { lacks: ['spudger'] },
    amiss: (p) => unless(p.missingTools.includes('spudger'), 'a tool that is missing is told'),
  },
  {
    ...battery,
    rules: { lacks: ['mat'] },
    amiss: (p) =>
      unless(
        p.steps.every((s) => s.tool !== 'mat') &&
          (p.changes.length > 0 || steps(p, 'heat').every((s) => s.tool !== 'mat')),
        'without a mat',
      ),
  },
  {
    ...battery,
    rules: { lacks: ['clips', 'weight'] },
    amiss: (p) =>
      unless(
        p.steps.every((s) => s.tool !== 'clips' && s.tool !== 'weight'),
        'nothing that loads',
      ),
  },
  {
    ...battery,
    rules: { lacks: ['suction-cup'] },
    amiss: (p) =>
      unless(
        p.steps.every((s) => s.tool !== 'suction-cup'),
        'without a cup',
      ),
  },
  {
    ...battery,
    rules: { firstGap: 'cup-clamp' },
    amiss: (p) =>
      unless(
        steps(p, 'gap').some((s) => s.tool === 'cup-clamp'),
        'a clamp of cups',
      ),
  },
  {
    ...battery,
    rules: { firstGap: 'thin-blade' },
    amiss: (p) =>
      unless(
        steps(p, 'gap').some((s) => s.tool === 'thin-blade'),
        'a thin blade',
      ),
  },
  {
    ...battery,
    rules: { heat: 'gun' },
    amiss: (p) => unless(steps(p, 'heat').length > 0 && steps(p, 'heat').every((s) => s.tool === 'gun'), 'a gun'),
  },
  {
    ...battery,
    rules: { heat: 'pad' },
    amiss: (p) =>
      unless(
        steps(p, 'heat').every((s) => s.tool === 'pad'),
        'a pad',
      ),
  },
  {
    device: MULE,
    replace: ['display'],
    rules: { workable: 60, reheat: 150 },
    amiss: (p, u) => unless(p.totals.elapsed >= u.totals.elapsed, 'soft for less long'),
  },
  {
    device: MULE,
    replace: ['speaker'],
    amiss: (p) =>
      unless(
        steps(p, 'desolder').length > 0 &&
          steps(p, 'solder').length > 0 &&
          steps(p, 'tin').length > 0 &&
          steps(p, 'flux').length > 0,
        'iron',
      ),
  },
  {
    device: CAIRN,
    replace: ['battery'],
    amiss: (p) =>
      unless(
        steps(p, 'leak-test').length === 1 && steps(p, 'heat').length === 0,
        'a gasket is tested for leaks, and not heated',
      ),
  },
  {
    device: CAIRN,
    replace: ['battery'],
    rules: { lacks: ['leak-tester'] },
    amiss: (p) => unless(steps(p, 'leak-test').length === 0, 'no tester'),
  },
  {
    device: BROADLEAF,
    replace: ['battery'],
    rules: { cellWhilePried: 'taken-out' },
    amiss: (p) => unless(steps(p, 'lift', 'battery').length > 0, 'the cell out'),
  },
  {
    device: NACRE,
    replace: ['battery'],
    rules: { removedBattery: 'never-refit' },
    amiss: (p) => unless(p.renew.includes('battery'), 'a cell that is never refitted'),
  },
  {
    device: NACRE,
    replace: ['main-board'],
    amiss: (p) => unless(p.renew.includes('paste') && steps(p, 'bond', 'paste').length > 0, 'paste is renewed'),
  },
];

const full = (plan: Plan) => plan.transfers.map((t) => t.part).sort();

/** What is asked for beside a part: another spare, a look at something. */
const ASKED: Answer[] = [
  {
    ...display,
    spares: ['display-bare'],
    amiss: (p) =>
      unless(
        full(p).length >= 2 && full(p).every((id) => steps(p, 'transfer', id).length === 1),
        'what a bare spare lacks is moved over',
      ),
  },
  {
    ...display,
    spares: ['display-full'],
    amiss: (p) => unless(full(p).length === 0 && steps(p, 'transfer').length === 0, 'nothing is moved to a full spare'),
  },
  {
    ...battery,
    spares: ['battery-new'],
    amiss: (p) =>
      unless(
        steps(p, 'bond', 'cell-tabs').every((s) => s.seconds <= 20 && hinted(s, 'spare-brings')) &&
          steps(p, 'bond', 'display-seal').every((s) => s.seconds > 20 && !hinted(s, 'spare-brings')),
        'strips that the spare brings are only looked at',
      ),
  },
  {
    ...battery,
    look: ['battery-flex', 'display'],
    amiss: (p, u) =>
      unless(
        steps(p, 'inspect', 'display').some((s) => s.phase === 'turn' && s.items.includes('battery-flex')) &&
          hands(p, 'inspect') > hands(u, 'inspect'),
        'what is suspected is looked at, at the turn',
      ),
  },
];

/** The first choice that is not answered as it should be, or `null`. */
export function housesAmiss(): string | null {
  const usual = new Map<string, Plan>();
  const options = { budget: 300, heat: 'usual' } as const;
  for (const { device, replace, rules, condition, spares, look, amiss } of [...ANSWERS, ...ASKED]) {
    const model: Model = demoModel(device);
    const key = `${device} ${replace}`;
    const plain = usual.get(key) ?? planDive(model, { replace }, DEFAULT_RULES, options);
    usual.set(key, plain);
    const plan = planDive(
      model,
      { replace, condition: condition ?? {}, ...(spares ? { spares } : {}), ...(look ? { look } : {}) },
      { ...DEFAULT_RULES, ...rules },
      options,
    );
    const said = amiss(plan, plain);
    if (said) return `${key}, ${JSON.stringify({ ...rules, ...condition, spares, look })}: ${said}`;
    const wrong = wrongWith(model, plan);
    if (wrong) return `${key}, ${JSON.stringify({ ...rules, ...condition, spares, look })}: ${wrong}`;
  }
  return null;
}
