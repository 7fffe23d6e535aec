import { readFile } from 'node:fs/promises';
import {
  modelOf,
  parseJson,
  readAnatomyText,
  warningsOf,
  worthFilling,
  type Fault,
  type Model,
} from '../core/anatomy/index.ts';
import {
  DEFAULT_RULES,
  depthTable,
  NoDive,
  planDive,
  reachOf,
  readRules,
  stepItemName,
  timesOf,
  type HouseRules,
  type Plan,
  type Step,
} from '../core/dive/index.ts';
import { NoHeat } from '../core/heat/index.ts';
import { FASTENERS } from '../core/kinds/index.ts';
import { NoCut } from '../core/opening/index.ts';
import { classesOf, dangerTable, lookAlikes, readPieces, sortSpill, trayPlan } from '../core/screws/index.ts';
import { minutes } from '../core/units/index.ts';
import { cell, press, strips } from './closing.ts';
import { diagnoseDive, identity, pastOf, quoteDive, testsOf } from './counter.ts';
import { backup, catalogue, restore, verify } from './data.ts';
import { act, learnFrom } from './explore.ts';
import { cut, heat } from './opening.ts';
import { draft, svg, svgIn } from './draft.ts';
import { propose, straighten } from './survey.ts';
import { numberOf, parse, Stop, USAGE } from './usage.ts';
import {
  BY_ID,
  cautionText,
  explainAll,
  tell as said,
  tellUnreached,
  tellAll,
  toolName,
  whyNoCut,
} from '../words/index.ts';

const tell = (faults: readonly Fault[]): string => faults.map((f) => `${f.path}: ${f.message}`).join('\n');

async function textOf(path: string): Promise<string> {
  try {
    return await readFile(path, 'utf8');
  } catch (cause) {
    throw new Stop(2, `cannot read ${path}: ${cause instanceof Error ? cause.message : String(cause)}`);
  }
}

async function anatomyAt(path: string): Promise<Model> {
  const reading = readAnatomyText(await textOf(path));
  if (!reading.ok) throw new Stop(1, tell(reading.faults));
  return modelOf(reading.value);
}

async function rulesAt(path: string | undefined): Promise<HouseRules> {
  if (path === undefined) return DEFAULT_RULES;
  const parsed = parseJson(await textOf(path));
  const reading = parsed.ok ? readRules(parsed.value) : parsed;
  if (!reading.ok) throw new Stop(1, tell(reading.faults.map((f) => ({ ...f, path: `${path}: ${f.path}` }))));
  return reading.value;
}

/** One step as the screen shows it: live or not, its cautions, its heat setting and how it is done. */
function stepText(model: Model, s: Step): string[] {
  const items = s.items.map((id) => stepItemName(model, s, id)).join(', ');
  const waits = s.waits > 0 ? `, waits ${minutes(s.waits)}` : '';
  const head = [
    String(s.n).padStart(3),
    s.phase.padEnd(8),
    (s.gate ?? s.do).padEnd(13),
    s.live ? 'LIVE' : '    ',
    `${items || '-'}  [${toolName(s.tool)}${waits}]`,
    explainAll(model, s.because).join('; '),
  ];
  const indent = ' '.repeat(5);
  return [
    head.join('  '),
    ...(s.heat
      ? [`${indent}set ${s.heat.set} °C on the ${s.heat.source}${s.heat.computed ? '' : ', the usual setting'}`]
      : []),
    ...(s.hint.length > 0 ? [`${indent}${tellAll(model, s.hint)}`] : []),
    ...s.cautions.map((c) => `${indent}! ${cautionText(c)}`),
  ];
}

/** What the plan is least of, and how much of that is proved. */
function optimalityText({ optimality: { cost, lowerBound, proved } }: Plan): string {
  const over = 'over every order of these steps and every way in that was found';
  if (proved) return `proved: no quicker than ${minutes(cost)} ${over}`;
  return `not proved: ${minutes(cost)}, and no quicker than ${minutes(lowerBound)} ${over}`;
}

function planText(model: Model, plan: Plan): string {
  const t = plan.totals;
  const { elapsed, work, idle } = timesOf(plan);
  return [
    ...plan.steps.flatMap((s) => stepText(model, s)),
    `${minutes(elapsed)} in all, ${minutes(work)} of work, ${minutes(idle)} of waiting, ${t.screws} screws, ` +
      `${t.connectors} connectors, ${t.toolChanges} tool changes, ${t.turnOvers} turn-overs`,
    optimalityText(plan),
    `renew: ${plan.renew.join(', ')}`,
    ...plan.changes.map((change) => `note: ${said(model, change)}`),
    ...plan.losses.map((l) => `lost: ${l.function}, ${said(model, l.because)}. ${said(model, l.remedy)}`),
  ].join('\n');
}

async function run(argv: string[]): Promise<string> {
  let args: ReturnType<typeof parse>;
  try {
    args = parse(argv);
  } catch (cause) {
    throw new Stop(2, `${cause instanceof Error ? cause.message : String(cause)}\n${USAGE}`);
  }
  const { values, positionals } = args;
  const [command, path, ...rest] = positionals;
  const at = { anatomy: anatomyAt, rules: rulesAt, text: textOf };
  if (command === 'act' && positionals.length === 1) return act(values, at);
  if (command === 'verify' && positionals.length <= 2) {
    const { report, text } = await verify(path, values.data);
    const said = values.json ? JSON.stringify(report, null, 2) : text;
    if (report.faults.length > 0) throw new Stop(1, `${report.faults.length} damaged`, `${said}\n`);
    return said;
  }
  const more: Record<string, number> = { sort: 1, 'svg-in': 1, draft: 2, learn: 99 };
  if (!command || !path || rest.length > (more[command] ?? 0)) throw new Stop(2, USAGE);
  const show = (value: unknown, text: string) => (values.json ? JSON.stringify(value, null, 2) : text);

  if (command === 'backup') {
    const told = await backup(path, values.data);
    return show(told.report, told.text);
  }
  if (command === 'restore') {
    const told = await restore(path, values.data);
    return show(told.report, told.text);
  }
  if (command === 'catalogue') {
    const told = await catalogue(path);
    if (told.faults.length > 0)
      throw new Stop(1, tell(told.faults), values.json ? `${show(told.report, '')}\n` : `${told.text}\n`);
    return show(told.report, told.text);
  }
  if (command === 'learn') return learnFrom([path, ...rest], values, at, planText);
  if (command === 'draft') return draft(path, rest, values);
  if (command === 'svg') return svg(path, values);
  if (command === 'svg-in') return svgIn(path, rest[0], values);
  if (command === 'straighten') return straighten(path, values);
  if (command === 'propose') return propose(path, values);
  if (command === 'check') {
    const reading = readAnatomyText(await textOf(path));
    const model = reading.ok ? modelOf(reading.value) : null;
    const reach = model ? reachOf(model) : { faults: [], warnings: [] };
    const faults = reading.ok ? reach.faults.map((u) => tellUnreached(u, false)) : reading.faults;
    const unplanned = reach.warnings.map((u) => tellUnreached(u, true));
    if (faults.length > 0)
      throw new Stop(1, tell(faults), values.json ? `${JSON.stringify({ faults }, null, 2)}\n` : '');
    const { parts, fasteners, connectors, bonds } = model!.anatomy;
    const warnings = [...warningsOf(model!), ...unplanned];
    const hints = worthFilling(model!);
    const counts = `${parts.length} parts, ${fasteners.length} fasteners, ${connectors.length} connectors, ${bonds.length} bonds`;
    return show(
      { faults: [], warnings, worthFilling: hints },
      [
        ...warnings.map((w) => `warning: ${w.path}: ${w.message}`),
        ...hints.map((h) => `worth filling: ${h.path}: ${h.message}`),
        `${path}: no faults; ${counts}; ${
          unplanned.length === 0
            ? 'every part can be reached and refitted'
            : `${unplanned.length} of its parts cannot be planned yet, for the reasons above`
        }`,
      ].join('\n'),
    );
  }
  if (command === 'identity') return identity(path, values.json ?? false);
  if (command === 'plan' || command === 'diagnose' || command === 'quote') {
    if (!values.replace) throw new Stop(2, `${command} needs --replace\n${USAGE}`);
    if (command === 'diagnose' && !values.tests) throw new Stop(2, `diagnose needs --tests\n${USAGE}`);
    const model = await anatomyAt(path);
    const plan = planDive(
      model,
      {
        replace: values.replace.split(','),
        ...(values.spare ? { spares: values.spare.split(',') } : {}),
        condition: {
          crackedGlass: values.cracked ?? false,
          charge: values.charge === undefined ? null : numberOf('charge', values.charge, 100, 0, 100),
          dark: values.dark ?? false,
        },
      },
      await rulesAt(values.rules),
    );
    if (command === 'plan') return show(plan, planText(model, plan));
    if (command === 'quote') {
      const past = values.history === undefined ? [] : pastOf(await textOf(values.history));
      return quoteDive(model, plan, past, values.json ?? false);
    }
    const tests = testsOf(model, await textOf(values.tests!), values.closed ? 'closed' : 'open');
    return diagnoseDive(model, plan, tests, values.json ?? false);
  }
  if (command === 'depth') {
    const model = await anatomyAt(path);
    const table = depthTable(model, await rulesAt(values.rules));
    const width = Math.max(...table.map((row) => row.part.length));
    return show(
      table,
      [
        `${'part'.padEnd(width)}  steps  screws  connectors  bonds  seconds`,
        ...table.map((r) =>
          'cannot' in r
            ? `${r.part.padEnd(width)}  cannot be planned yet: ${r.cannot}`
            : `${r.part.padEnd(width)}  ${String(r.steps).padStart(5)}  ${String(r.screws).padStart(6)}  ` +
              `${String(r.connectors).padStart(10)}  ${String(r.bonds).padStart(5)}  ${String(r.seconds).padStart(7)}`,
        ),
      ].join('\n'),
    );
  }
  if (command === 'screws') {
    const model = await anatomyAt(path);
    const classes = classesOf(model);
    const [danger, worst] = [dangerTable(model, classes), lookAlikes(model, classes)];
    return show(
      { classes, danger, lookAlikes: worst },
      [
        ...classes.map(
          (c) =>
            `${c.letter.padEnd(3)} ${String(c.fasteners.length).padStart(2)} ×  ${c.shape.kind} ${c.shape.drive} ` +
            `M${c.shape.thread}×${c.shape.length ?? '?'} head ` +
            `${c.shape.head}${c.shape.magnetic ? '' : ', not magnetic'}` +
            `${c.shape.colour === 'bright' ? '' : `, ${c.shape.colour}`}  ${c.fasteners.join(' ')}`,
        ),
        '',
        'look alike and do harm when swapped:',
        ...worst.flatMap(({ a, b, dangers }) =>
          dangers.map((d) => `${a}/${b}  ${d.screw} in ${d.at}: ${d.worst.text}`),
        ),
      ].join('\n'),
    );
  }
  if (command === 'tray') {
    if (!values.replace) throw new Stop(2, `tray needs --replace\n${USAGE}`);
    const size = /^(\d+)x(\d+)$/.exec(values.wells ?? '4x6');
    const trays = Number(values.trays ?? 1);
    if (!size || Number(size[1]) * Number(size[2]) < 1 || !Number.isInteger(trays) || trays < 1)
      throw new Stop(2, `--wells is rows x columns, such as 4x6, and --trays a whole number\n${USAGE}`);
    const model = await anatomyAt(path);
    const plan = planDive(model, { replace: values.replace.split(',') }, await rulesAt(values.rules));
    const tray = trayPlan(model, plan, { rows: Number(size[1]), columns: Number(size[2]), trays }, 400_000);
    return show(
      tray,
      [
        ...tray.lots.map(
          (lot, i) =>
            `${tray.labels[i]!.padEnd(4)} step ${String(lot.step).padStart(3)}  ${lot.letter}  ${lot.fasteners.join(' ')}`,
        ),
        `objective ${tray.cost}, lower bound ${tray.lowerBound}, ${tray.proved ? 'proved best' : 'not proved best'}`,
        ...tray.conflicts,
      ].join('\n'),
    );
  }
  if (command === 'sort') {
    const [measured] = rest;
    if (!measured) throw new Stop(2, `sort needs the measured pieces as CSV\n${USAGE}`);
    const model = await anatomyAt(path);
    const pieces = readPieces(await textOf(measured));
    if (!pieces.ok) throw new Stop(1, tell(pieces.faults.map((f) => ({ ...f, path: `${measured}: ${f.path}` }))));
    const sorting = sortSpill(
      model,
      pieces.value,
      model.anatomy.fasteners.filter((f) => !FASTENERS.of(f.kind).stays).map((f) => f.id),
    );
    return show(
      sorting,
      [
        ...sorting.pieces.map(
          (p) =>
            `${p.piece.padEnd(8)} → ${(p.fastener ?? 'stranger').padEnd(8)} ${p.letter ?? '-'}  margin ` +
            `${p.margin.toFixed(1)}  ` +
            `${p.chances.map((c) => `${c.letter ?? 'stranger'} ${(c.p * 100).toFixed(1)} %`).join(', ')}` +
            `${p.heldBack ? `  HELD BACK: measure its ${p.measureNext}; ${p.danger?.text}` : ''}`,
        ),
        `not found: ${sorting.lost.length === 0 ? 'none' : sorting.lost.join(' ')}`,
      ].join('\n'),
    );
  }
  if (command === 'heat') {
    if (!values.bond) throw new Stop(2, `heat needs --bond\n${USAGE}`);
    const model = await anatomyAt(path);
    return heat(model, values.bond, values);
  }
  if (command === 'cut') {
    if (!values.bond) throw new Stop(2, `cut needs --bond\n${USAGE}`);
    const model = await anatomyAt(path);
    return cut(model, values.bond, values);
  }
  if (command === 'strips' || command === 'press' || command === 'cell') {
    const model = await anatomyAt(path);
    return { strips, press, cell }[command](model, values, await rulesAt(values.rules));
  }
  throw new Stop(2, `there is no command "${command}"\n${USAGE}`);
}

/**
 * One command.
 * @param argv what follows the name of the program; paths are relative to the working folder
 * @returns the exit code (0, 1 for faults of the input, 2 for wrong usage), standard output and standard error
 */
export async function nibrel(argv: string[]): Promise<{ code: 0 | 1 | 2; out: string; err: string }> {
  try {
    return { code: 0, out: `${await run(argv)}\n`, err: '' };
  } catch (error) {
    if (error instanceof Stop) return { code: error.code, out: error.out, err: `${error.message}\n` };
    if (error instanceof NoDive) return { code: 1, out: '', err: `${error.path}: ${said(BY_ID, error.said)}\n` };
    if (error instanceof NoHeat) return { code: 1, out: '', err: `${error.path}: ${error.message}\n` };
    if (error instanceof NoCut) return { code: 1, out: '', err: `${error.path}: ${whyNoCut(error)}\n` };
    throw error;
  }
}
