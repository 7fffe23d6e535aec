import type { Edge, Model } from '../core/anatomy/index.ts';
import { DEFAULT_RULES, recipeHint } from '../core/dive/index.ts';
import {
  alternativesTo,
  answersOf,
  bandAnswers,
  bandOf,
  coldAgain,
  recipeFor,
  ROOM,
  simulate,
  softening,
  sourceOf,
  SOURCE_KINDS,
  stackOf,
  turnsFor,
  ZONES,
  LIMITS,
  type SourceKind,
  type Turn,
} from '../core/heat/index.ts';
import { cutAlong, entrySaid, MARGIN, MOST_MARKS, seamOf } from '../core/opening/index.ts';
import { minutes } from '../core/units/index.ts';
import { numberOf, Stop, USAGE, type Values } from './usage.ts';
import { tell as told, whereWord, spoken } from '../words/index.ts';

const degrees = (v: number | undefined): string => (v === undefined ? '    -' : v.toFixed(1).padStart(5));

/** `nibrel heat`: curves, or with --recipe the quickest safe one. @throws Stop, NoHeat */
export function heat(model: Model, bond: string, values: Values): string {
  const asked = values.source ?? 'mat';
  const kind = (asked === 'gel' ? 'gel-pack' : asked) as SourceKind;
  if (!SOURCE_KINDS.includes(kind))
    throw new Stop(2, `--source must be mat, pad, gun, gel or dryer, not ${asked}\n${USAGE}`);
  const room = numberOf('room', values.room, ROOM, -20, 45);
  const solvent = values.solvent ?? false;
  const face = values.face as 'front' | 'back' | undefined;
  if (face !== undefined && face !== 'front' && face !== 'back')
    throw new Stop(2, `--face must be front or back, not ${face}\n${USAGE}`);
  const own = values.set === undefined ? {} : { set: numberOf('set', values.set, 70, 20, 300) };
  if (values.recipe) {
    const request = { source: kind, hottest: DEFAULT_RULES.hottest, room, solvent, ...(face ? { face } : {}) };
    const recipe = recipeFor(model, bond, request);
    if (recipe.ok) {
      const peaks = ZONES.flatMap((z) =>
        recipe.band.peaks[z] === undefined
          ? []
          : [
              `${spoken.zones[z]} up to ${recipe.peaks[z]!.toFixed(0)} °C (${recipe.band.peaks[z].map((t) => t.toFixed(0)).join(' to ')})`,
            ],
      );
      return values.json
        ? JSON.stringify(recipe, null, 2)
        : `${told(model, recipeHint(recipe))}\nsoft at ${recipe.softensAt} °C; stays so ${minutes(recipe.staysSoft)}, heated ` +
            `again ${minutes(recipe.reheat)}; ${peaks.join(', ')}\ncomputed, no promise: follow the thermometer`;
    }
    const others = alternativesTo(model, bond, request);
    return values.json
      ? JSON.stringify({ ...recipe, alternatives: others }, null, 2)
      : [
          `none: ${told(model, recipe.reason)}`,
          ...others.map((r) => `instead: ${told(model, recipeHint(r))}`),
          ...(others.length === 0 ? ['nothing else does either: work cold, with solvent and time'] : []),
        ].join('\n');
  }
  const source = sourceOf(kind, own);
  const seconds = numberOf('minutes', values.minutes, 5, 0.1, 120) * 60;
  const stack = stackOf(model, bond, { face });
  const wheres = turnsFor(stack, source);
  const turns: Turn[] = [
    ...wheres.map((where) => ({ source, where, seconds: seconds / wheres.length })),
    { source: null, where: 'whole', seconds: 300 },
  ];
  const run = simulate(stack, turns, { room });
  const softensAt = softening(stack, solvent);
  const answers = answersOf(run, softensAt, coldAgain(softensAt), seconds);
  const band = bandAnswers(bandOf(stack, turns, { room }), softensAt);
  const rows = run.times.map((time, i) => ({
    time,
    coldest: run.coldest[i]!,
    warmest: run.warmest[i]!,
    cell: run.zones.cell?.[i],
    panel: run.zones.panel?.[i],
  }));
  // When each stretch of the seam is soft, and how warm it gets.
  const seam = stack.seam.map(({ at, edge }, k) => {
    const soft = run.seam.findIndex((t) => t[k]! >= softensAt);
    return { at, edge, softAt: soft < 0 ? null : run.times[soft]!, peak: Math.max(...run.seam.map((t) => t[k]!)) };
  });
  if (values.json)
    return JSON.stringify(
      {
        source,
        room,
        turns: turns.map(({ where, seconds: s, source: on }) => ({ where, seconds: s, on: on !== null })),
        softensAt,
        ...answers,
        band,
        seam,
        curves: rows,
      },
      null,
      2,
    );
  const every = Math.max(1, Math.round(30 / (rows[1]!.time - rows[0]!.time)));
  return [
    `${spoken.sources[source.kind]} at ${source.set} °C, ${wheres.map((where) => whereWord(where)).join(', then ')}, ${minutes(seconds)} in all, room ${room} °C`,
    ' time  coldest  warmest  cell  panel  °C',
    ...rows
      .filter((_, i) => i % every === 0)
      .map(
        (r) =>
          `${String(Math.round(r.time)).padStart(5)}    ${degrees(r.coldest)} ` +
          `   ${degrees(r.warmest)} ${degrees(r.cell)}  ${degrees(r.panel)}`,
      ),
    answers.softAt === null
      ? `the whole seam never has ${softensAt} °C`
      : `soft (${softensAt} °C) after ${Math.round(answers.softAt)} s; stays so ` +
        `${answers.stillSoft ? 'at least ' : ''}${Math.round(answers.staysSoft!)} s once the heat is gone`,
    `by what is assumed of contact and air: soft after ${band.softAt.map((t) => (t === null ? 'never' : Math.round(t))).join(' to ')} s` +
      `${band.peaks.cell ? `, cell up to ${band.peaks.cell.map((t) => t.toFixed(1)).join(' to ')} °C` : ''}`,
    ...Object.entries(answers.edgeSoftAt).map(
      ([edge, at]) => `  ${edge}: ${at === null ? 'not soft' : `soft after ${Math.round(at)} s`}`,
    ),
    ...answers.exceeded.map(
      (e) =>
        `${e.level}: the ${spoken.zones[e.zone]} passes ${LIMITS[e.zone][e.level]} ` +
        `°C after ${Math.round(e.at)} s, up to ${e.peak.toFixed(1)} °C`,
    ),
    'computed, no promise: follow the thermometer',
  ].join('\n');
}

/** `nibrel cut`: clearance, marks, stretches. @throws Stop, NoCut */
export function cut(model: Model, bond: string, values: Values): string {
  const margin = numberOf('margin', values.margin, MARGIN, 0, 20);
  const seam = seamOf(model, bond, { margin });
  const plan = cutAlong(model, seam, { marks: numberOf('marks', values.marks, MOST_MARKS, 1, 10) });
  const { samples } = seam;
  if (values.json)
    return JSON.stringify(
      {
        ...plan,
        clearance: samples.map(({ s, at, edge, need, clear, allowed, behind }) => ({
          s,
          at,
          edge,
          need,
          clear,
          allowed,
          behind,
        })),
      },
      null,
      2,
    );
  const name = (id: string) => model.nameOf(id);
  const edges = [...new Set(samples.map((s) => s.edge))];
  const uncut = (edge: Edge) => (plan.hooked.includes(edge) ? 'not cut: slid out of its hooks' : 'left: heat and lift');
  return [
    ...edges.map((edge) => {
      const here = samples.filter((s) => s.edge === edge && s.need > s.from);
      if (here.length === 0) return `${edge}: no bond`;
      const tight = here.reduce((a, b) => (b.clear < a.clear ? b : a));
      return (
        `${edge}: clear from ${tight.clear.toFixed(1)} mm${tight.behind ? ` (${name(tight.behind)})` : ''}, ` +
        `needed ${Math.max(...here.map((s) => s.need)).toFixed(1)} mm`
      );
    }),
    plan.marks.length > 0
      ? `marks on the pick: ${plan.marks.join(' and ')} mm; ` +
        `${(plan.share * 100).toFixed(0)} % of the bond is cut in ${minutes(plan.seconds)}`
      : 'no mark helps: nothing of it can be cut',
    `enter on the ${plan.entry.edge} edge at ${plan.entry.at.map((v) => v.toFixed(1)).join(', ')}: ${told(model, entrySaid(plan.entry))}`,
    ...plan.runs.map(
      (r) =>
        `${r.n === null ? '  -' : String(r.n).padStart(3)}  ${r.edge.padEnd(6)} ${r.length.toFixed(1).padStart(6)} ` +
        `mm  ` +
        `${r.n === null ? uncut(r.edge) : `mark ${r.mark}, ${r.depth} mm`}` +
        (r.behind.length > 0 ? `; ${r.left.toFixed(1)} mm left, behind it ${r.behind.map(name).join(', ')}` : '') +
        (r.pick ? '; leave a second pick' : ''),
    ),
    `first gap: ${told(model, plan.gaps[0]!.how)}`,
  ].join('\n');
}
