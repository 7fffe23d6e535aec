import { readFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { modelOf, parseJson, readAnatomyText, type Fault, type Model } from '../core/anatomy/index.ts';
import { DEFAULT_RULES, depthTable, NoDive, planDive, reachFaults, readRules, stepItemName, toolName, type HouseRules, type Plan } from '../core/dive/index.ts';
import { classesOf, dangerTable, lookAlikes, readPieces, sortSpill, trayPlan } from '../core/screws/index.ts';
import { alternativesTo, answersOf, coldAgain, NoHeat, recipeFor, recipeWords, ROOM, simulate, softening, sourceOf, SOURCE_KINDS, stackOf, turnsFor, whereWord, ZONES, LIMITS, type SourceKind, type Turn } from '../core/heat/index.ts';
import { cutPlan, MARGIN, MOST_MARKS, NoCut, seamOf } from '../core/opening/index.ts';
import { minutes } from '../core/units/index.ts';

const USAGE = `usage: npm run nibrel -- <command>
  check <anatomy.json> [--json]
  plan <anatomy.json> --replace <part>[,<part>] [--spare <id>[,<id>]] [--cracked] [--rules <rules.json>] [--json]
  depth <anatomy.json> [--rules <rules.json>] [--json]
  screws <anatomy.json> [--json]
  tray <anatomy.json> --replace <part>[,<part>] [--wells 4x6] [--trays 1] [--json]
  sort <anatomy.json> <measured.csv> [--json]
  heat <anatomy.json> --bond <id> [--source mat|pad|gun|gel|dryer] [--set 70] [--minutes 5] [--room 22] [--face front|back] [--solvent] [--recipe] [--json]
  cut <anatomy.json> --bond <id> [--marks 2] [--margin 0.5] [--json]`;

/** Ends the command with a message for standard error: 1 for faults of the input, 2 for wrong usage. */
class Stop extends Error {
  constructor(readonly code: 1 | 2, message: string) {
    super(message);
  }
}

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

function planText(model: Model, plan: Plan): string {
  const lines = plan.steps.map((s) => {
    const items = s.items.map((id) => stepItemName(model, s, id)).join(', ');
    return `${String(s.n).padStart(3)}  ${s.phase.padEnd(8)} ${(s.gate ?? s.do).padEnd(13)} ${items || '-'}  [${toolName(s.tool)}${s.waits ? `, waits ${minutes(s.waits)}` : ''}]  ${s.because.join('; ')}`;
  });
  const t = plan.totals;
  return [
    ...lines,
    `hands ${minutes(t.hands)}, waits ${minutes(t.waits)}, ${t.screws} screws, ${t.connectors} connectors, ${t.toolChanges} tool changes, ${t.turnOvers} turn-overs`,
    `renew: ${plan.renew.join(', ')}`,
    ...plan.losses.map((l) => `lost: ${l.function}, ${l.because}. ${l.remedy}`),
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
  if (!command || !path || rest.length > (command === 'sort' ? 1 : 0)) throw new Stop(2, USAGE);
  const show = (value: unknown, text: string) => (values.json ? JSON.stringify(value, null, 2) : text);

  if (command === 'check') {
    const reading = readAnatomyText(await textOf(path));
    const faults = reading.ok ? reachFaults(modelOf(reading.value)) : reading.faults;
    if (faults.length > 0) {
      if (values.json) process.stdout.write(`${JSON.stringify({ faults }, null, 2)}\n`);
      throw new Stop(1, tell(faults));
    }
    const a = reading.ok ? reading.value : null;
    return show({ faults: [] }, `${path}: no faults; ${a!.parts.length} parts, ${a!.fasteners.length} fasteners, ${a!.connectors.length} connectors, ${a!.bonds.length} bonds; every part can be reached and refitted`);
  }
  if (command === 'plan') {
    if (!values.replace) throw new Stop(2, `plan needs --replace\n${USAGE}`);
    const model = await anatomyAt(path);
    const plan = planDive(model, {
      replace: values.replace.split(','),
      ...(values.spare ? { spares: values.spare.split(',') } : {}),
      condition: { crackedGlass: values.cracked ?? false },
    }, await rulesAt(values.rules));
    return show(plan, planText(model, plan));
  }
  if (command === 'depth') {
    const model = await anatomyAt(path);
    const table = depthTable(model, await rulesAt(values.rules));
    const width = Math.max(...table.map((row) => row.part.length));
    return show(table, [
      `${'part'.padEnd(width)}  steps  screws  connectors  bonds  seconds`,
      ...table.map((r) => `${r.part.padEnd(width)}  ${String(r.steps).padStart(5)}  ${String(r.screws).padStart(6)}  ${String(r.connectors).padStart(10)}  ${String(r.bonds).padStart(5)}  ${String(r.seconds).padStart(7)}`),
    ].join('\n'));
  }
  if (command === 'screws') {
    const model = await anatomyAt(path);
    const classes = classesOf(model);
    const [danger, worst] = [dangerTable(model, classes), lookAlikes(model, classes)];
    return show({ classes, danger, lookAlikes: worst }, [
      ...classes.map((c) => `${c.letter.padEnd(3)} ${String(c.fasteners.length).padStart(2)} ×  ${c.shape.kind} ${c.shape.drive} M${c.shape.thread}×${c.shape.length} head ${c.shape.head}${c.shape.magnetic ? '' : ', not magnetic'}${c.shape.colour === 'bright' ? '' : `, ${c.shape.colour}`}  ${c.fasteners.join(' ')}`),
      '', 'look alike and do harm when swapped:',
      ...worst.flatMap(({ a, b, dangers }) => dangers.map((d) => `${a}/${b}  ${d.screw} in ${d.at}: ${d.worst.text}`)),
    ].join('\n'));
  }
  if (command === 'tray') {
    if (!values.replace) throw new Stop(2, `tray needs --replace\n${USAGE}`);
    const size = /^(\d+)x(\d+)$/.exec(values.wells ?? '4x6');
    const trays = Number(values.trays ?? 1);
    if (!size || Number(size[1]) * Number(size[2]) < 1 || !Number.isInteger(trays) || trays < 1) throw new Stop(2, `--wells is rows x columns, such as 4x6, and --trays a whole number\n${USAGE}`);
    const model = await anatomyAt(path);
    const plan = planDive(model, { replace: values.replace.split(',') }, await rulesAt(values.rules));
    const tray = trayPlan(model, plan, { rows: Number(size[1]), columns: Number(size[2]), trays }, 400_000);
    return show(tray, [
      ...tray.lots.map((lot, i) => `${tray.labels[i]!.padEnd(4)} step ${String(lot.step).padStart(3)}  ${lot.letter}  ${lot.fasteners.join(' ')}`),
      `objective ${tray.cost}, lower bound ${tray.lowerBound}, ${tray.proved ? 'proved best' : 'not proved best'}`, ...tray.conflicts,
    ].join('\n'));
  }
  if (command === 'sort') {
    const [measured] = rest;
    if (!measured) throw new Stop(2, `sort needs the measured pieces as CSV\n${USAGE}`);
    const model = await anatomyAt(path);
    const pieces = readPieces(await textOf(measured));
    if (!pieces.ok) throw new Stop(1, tell(pieces.faults.map((f) => ({ ...f, path: `${measured}: ${f.path}` }))));
    const sorting = sortSpill(model, pieces.value, model.anatomy.fasteners.filter((f) => f.kind !== 'captive').map((f) => f.id));
    return show(sorting, [
      ...sorting.pieces.map((p) => `${p.piece.padEnd(8)} → ${(p.fastener ?? 'stranger').padEnd(8)} ${p.letter ?? '-'}  margin ${p.margin.toFixed(1)}  ${p.chances.map((c) => `${c.letter ?? 'stranger'} ${(c.p * 100).toFixed(1)} %`).join(', ')}${p.heldBack ? `  HELD BACK: measure its ${p.measureNext}; ${p.danger?.text}` : ''}`),
      `not found: ${sorting.lost.length === 0 ? 'none' : sorting.lost.join(' ')}`,
    ].join('\n'));
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
  throw new Stop(2, `there is no command "${command}"\n${USAGE}`);
}

/** A number of the command line. @throws Stop 2 */
function numberOf(name: string, text: string | undefined, fallback: number, low: number, high: number): number {
  if (text === undefined) return fallback;
  const value = Number(text);
  if (!Number.isFinite(value) || value < low || value > high) throw new Stop(2, `--${name} must be a number from ${low} to ${high}, not ${text}\n${USAGE}`);
  return value;
}

const degrees = (v: number | undefined): string => (v === undefined ? '    -' : v.toFixed(1).padStart(5));

function heat(model: Model, bond: string, values: ReturnType<typeof parse>['values']): string {
  const asked = values.source ?? 'mat';
  const kind = (asked === 'gel' ? 'gel-pack' : asked) as SourceKind;
  if (!SOURCE_KINDS.includes(kind)) throw new Stop(2, `--source must be mat, pad, gun, gel or dryer, not ${asked}\n${USAGE}`);
  const room = numberOf('room', values.room, ROOM, -20, 45);
  const solvent = values.solvent ?? false;
  const face = values.face as 'front' | 'back' | undefined;
  if (face !== undefined && face !== 'front' && face !== 'back') throw new Stop(2, `--face must be front or back, not ${face}\n${USAGE}`);
  const own = values.set === undefined ? {} : { set: numberOf('set', values.set, 70, 20, 300) };
  if (values.recipe) {
    const request = { source: kind, room, solvent, ...(face ? { face } : {}) };
    const recipe = recipeFor(model, bond, request);
    if (recipe.ok) {
      const peaks = ZONES.flatMap((z) => (recipe.peaks[z] === undefined ? [] : [`${LIMITS[z].name} up to ${recipe.peaks[z].toFixed(0)} °C`]));
      return values.json ? JSON.stringify(recipe, null, 2) : `${recipeWords(recipe)}\nsoft at ${recipe.softensAt} °C; stays so ${minutes(recipe.staysSoft)}, heated again ${minutes(recipe.reheat)}; ${peaks.join(', ')}\ncomputed, no promise: follow the thermometer`;
    }
    const others = alternativesTo(model, bond, request);
    return values.json ? JSON.stringify({ ...recipe, alternatives: others }, null, 2) : [`none: ${recipe.reason}`, ...others.map((r) => `instead: ${recipeWords(r)}`), ...(others.length === 0 ? ['nothing else does either: work cold, with solvent and time'] : [])].join('\n');
  }
  const source = sourceOf(kind, own);
  const seconds = numberOf('minutes', values.minutes, 5, 0.1, 120) * 60;
  const stack = stackOf(model, bond, { face });
  const wheres = turnsFor(stack, source);
  const turns: Turn[] = [...wheres.map((where) => ({ source, where, seconds: seconds / wheres.length })), { source: null, where: 'whole', seconds: 300 }];
  const run = simulate(stack, turns, { room });
  const softensAt = softening(stack, solvent);
  const answers = answersOf(run, softensAt, coldAgain(softensAt), seconds);
  const rows = run.times.map((time, i) => ({ time, coldest: run.coldest[i]!, warmest: run.warmest[i]!, cell: run.zones.cell?.[i], panel: run.zones.panel?.[i] }));
  // When each stretch of the seam is soft, and how warm it gets.
  const seam = stack.seam.map(({ at, edge }, k) => {
    const soft = run.seam.findIndex((t) => t[k]! >= softensAt);
    return { at, edge, softAt: soft < 0 ? null : run.times[soft]!, peak: Math.max(...run.seam.map((t) => t[k]!)) };
  });
  if (values.json) return JSON.stringify({ source, room, turns: turns.map(({ where, seconds: s, source: on }) => ({ where, seconds: s, on: on !== null })), softensAt, ...answers, seam, curves: rows }, null, 2);
  const every = Math.max(1, Math.round(30 / (rows[1]!.time - rows[0]!.time)));
  return [
    `${source.name} at ${source.set} °C, ${wheres.map(whereWord).join(', then ')}, ${minutes(seconds)} in all, room ${room} °C`,
    ' time  coldest  warmest  cell  panel  °C',
    ...rows.filter((_, i) => i % every === 0).map((r) => `${String(Math.round(r.time)).padStart(5)}    ${degrees(r.coldest)}    ${degrees(r.warmest)} ${degrees(r.cell)}  ${degrees(r.panel)}`),
    answers.softAt === null ? `the whole seam never has ${softensAt} °C` : `soft (${softensAt} °C) after ${Math.round(answers.softAt)} s; stays so ${answers.stillSoft ? 'at least ' : ''}${Math.round(answers.staysSoft!)} s once the heat is gone`,
    ...Object.entries(answers.edgeSoftAt).map(([edge, at]) => `  ${edge}: ${at === null ? 'not soft' : `soft after ${Math.round(at)} s`}`),
    ...answers.exceeded.map((e) => `${e.level}: the ${LIMITS[e.zone].name} passes ${LIMITS[e.zone][e.level]} °C after ${Math.round(e.at)} s, up to ${e.peak.toFixed(1)} °C`),
    'computed, no promise: follow the thermometer',
  ].join('\n');
}

function cut(model: Model, bond: string, values: ReturnType<typeof parse>['values']): string {
  const margin = numberOf('margin', values.margin, MARGIN, 0, 20);
  const plan = cutPlan(model, bond, { marks: numberOf('marks', values.marks, MOST_MARKS, 1, 10), margin });
  const { samples } = seamOf(model, bond, { margin });
  if (values.json) return JSON.stringify({ ...plan, clearance: samples.map(({ s, at, edge, need, clear, allowed, behind }) => ({ s, at, edge, need, clear, allowed, behind })) }, null, 2);
  const name = (id: string) => model.nameOf(id);
  const edges = [...new Set(samples.map((s) => s.edge))];
  return [
    ...edges.map((edge) => {
      const here = samples.filter((s) => s.edge === edge && s.need > s.from);
      if (here.length === 0) return `${edge}: no bond`;
      const tight = here.reduce((a, b) => (b.clear < a.clear ? b : a));
      return `${edge}: clear from ${tight.clear.toFixed(1)} mm${tight.behind ? ` (${name(tight.behind)})` : ''}, needed ${Math.max(...here.map((s) => s.need)).toFixed(1)} mm`;
    }),
    plan.marks.length > 0 ? `marks on the pick: ${plan.marks.join(' and ')} mm; ${(plan.share * 100).toFixed(0)} % of the bond is cut in ${minutes(plan.seconds)}` : 'no mark helps: nothing of it can be cut',
    `enter on the ${plan.entry.edge} edge at ${plan.entry.at.map((v) => v.toFixed(1)).join(', ')}: ${plan.entry.because}`,
    ...plan.runs.map((r) => `${r.n === null ? '  -' : String(r.n).padStart(3)}  ${r.edge.padEnd(6)} ${r.length.toFixed(1).padStart(6)} mm  ${r.n === null ? (plan.hooked.includes(r.edge) ? 'not cut: slid out of its hooks' : 'left: heat and lift') : `mark ${r.mark}, ${r.depth} mm`}${r.behind.length > 0 ? `; ${r.left.toFixed(1)} mm left, behind it ${r.behind.map(name).join(', ')}` : ''}${r.pick ? '; leave a second pick' : ''}`),
    `first gap: ${plan.gaps[0]!.how}`,
  ].join('\n');
}

function parse(argv: string[]) {
  return parseArgs({
    args: argv, allowPositionals: true,
    options: {
      json: { type: 'boolean' }, replace: { type: 'string' }, spare: { type: 'string' }, rules: { type: 'string' }, cracked: { type: 'boolean' }, wells: { type: 'string' }, trays: { type: 'string' },
      bond: { type: 'string' }, source: { type: 'string' }, set: { type: 'string' }, minutes: { type: 'string' }, room: { type: 'string' }, face: { type: 'string' }, solvent: { type: 'boolean' }, recipe: { type: 'boolean' }, marks: { type: 'string' }, margin: { type: 'string' },
    },
  });
}

try {
  process.stdout.write(`${await run(process.argv.slice(2))}\n`);
} catch (error) {
  if (error instanceof Stop) {
    process.stderr.write(`${error.message}\n`);
    process.exitCode = error.code;
  } else if (error instanceof NoDive || error instanceof NoHeat || error instanceof NoCut) {
    process.stderr.write(`${error.path}: ${error.message}\n`);
    process.exitCode = 1;
  } else throw error;
}
