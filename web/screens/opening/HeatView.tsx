import { Slider } from 'radix-ui';
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from 'react';
import type { Edge, Model } from '../../../core/anatomy/index.ts';
import type { HeatSetting, HouseRules } from '../../../core/dive/index.ts';
import {
  coldAgain,
  isLocal,
  LIMITS,
  recipeWords,
  SOURCE_KINDS,
  SOURCES,
  sourceOf,
  whereWord,
  ZONES,
  type NoRecipe,
  type Recipe,
  type SourceKind,
  type SourceSettings,
} from '../../../core/heat/index.ts';
import { clock, minutes } from '../../../core/units/index.ts';
import { Button, CautionLine, ProblemNote } from '../../controls/index.tsx';
import { HeatMap, STATE_LINE, warmth, type EdgeState } from '../../drawing/HeatMap.tsx';
import { messageOf } from '../../state/api.ts';
import { NumberField } from '../../controls/NumberField.tsx';
import { heatingInWorker, recipeInWorker } from '../../workers/heat.ts';
import type { Heating, HeatRequest } from '../../workers/heat.worker.ts';

const HeatCurves = lazy(() => import('./HeatCurves.tsx'));

/** What is asked of the solver, as it stands on the screen. */
interface Asked {
  source: SourceKind;
  set: number;
  /** Minutes of each turn. */
  turnMinutes: number;
  room: number;
  start: number;
  solvent: boolean;
  /** `null` is the face that the bond lies on. */
  face: 'front' | 'back' | null;
  /** What is set of the source besides its temperature. */
  own: SourceSettings;
  /** A recipe taken over as it is. */
  recipe: Recipe | null;
}

function usual(
  source: SourceKind,
  rules: HouseRules,
): Pick<Asked, 'source' | 'set' | 'turnMinutes' | 'recipe' | 'own'> {
  return {
    source,
    own: rules.sources[source] ?? {},
    set: sourceOf(source, rules.sources[source]).set,
    turnMinutes: isLocal({ kind: source }) ? (source === 'dryer' ? 4 : 2) : source === 'pad' ? 6 : 5,
    recipe: null,
  };
}

/** What is asked besides the setting itself, with what is believed of it. */
const RANGES = [
  { key: 'turnMinutes', word: 'minutes', min: 0.5, max: 30 },
  { key: 'room', word: 'room, °C', min: -20, max: 45 },
  { key: 'start', word: 'device at start, °C', min: -20, max: 60 },
] as const;

/** What is asked of a source that blows. Origin of the limits: own choice. */
const NOZZLE = [
  { key: 'nozzle', label: 'Nozzle, mm', min: 2, max: 200 },
  { key: 'distance', label: 'Distance, mm', min: 5, max: 300 },
  { key: 'speed', label: 'Sweep, mm/s', min: 1, max: 300 },
] as const;

/** Whether every number about the source itself is one. */
const reckonable = (asked: Asked): boolean =>
  Object.values(asked.own).every((v) => typeof v !== 'number' || Number.isFinite(v));

/** The setting that the plan uses, as far as it is one turn on the whole seam. */
function planned(setting: HeatSetting | null): Partial<Asked> {
  const [turn, ...others] = setting?.turns ?? [];
  if (!setting || !turn || others.length > 0) return setting ? { source: setting.source, set: setting.set } : {};
  return { source: setting.source, set: setting.set, turnMinutes: Math.round(turn.seconds / 6) / 10 };
}

export function HeatView({
  model,
  bond,
  rules,
  solvent,
  setting,
}: {
  model: Model;
  bond: string;
  rules: HouseRules;
  solvent: boolean;
  /** What the plan of the job heats this bond with. */
  setting: HeatSetting | null;
}) {
  const [asked, setAsked] = useState<Asked>(() => ({
    ...usual(setting?.source ?? rules.heat, rules),
    ...planned(setting),
    room: rules.room,
    start: rules.room,
    solvent,
    face: null,
  }));
  const [heating, setHeating] = useState<Heating | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const cancel = useRef<() => void>(() => {});
  const [time, setTime] = useState(0);

  // Each change asks the solver anew, once the hand rests for a moment.
  useEffect(() => {
    const { least, most, name } = SOURCES[asked.source];
    if (!(asked.set >= least && asked.set <= most)) {
      setProblem(`set: the ${name} goes from ${least} to ${most} °C`);
      // What stood there was computed of something else.
      setHeating(null);
      return;
    }
    if (!reckonable(asked)) {
      setProblem('how well it gives its heat: a number there does not fit');
      setHeating(null);
      return;
    }
    const odd = RANGES.find(({ key, min, max }) => !(asked[key] >= min && asked[key] <= max));
    if (odd) {
      setProblem(`${odd.word}: from ${odd.min} to ${odd.max}`);
      setHeating(null);
      return;
    }
    setProblem(null);
    setShare(0);
    const request: HeatRequest = {
      bond,
      source: asked.source,
      own: { ...asked.own, set: asked.set },
      room: asked.room,
      start: asked.start,
      solvent: asked.solvent,
      ...(asked.face ? { face: asked.face } : {}),
      seconds: asked.recipe ? asked.recipe.turns.map((t) => t.seconds) : asked.turnMinutes * 60,
      ...(asked.recipe
        ? { turns: asked.recipe.turns.map((t) => t.where), rests: asked.recipe.turns.map((t) => t.rest) }
        : {}),
    };
    const wait = setTimeout(() => {
      const job = heatingInWorker(model.anatomy, request, setShare);
      cancel.current = job.cancel;
      job.result
        .then(
          (told) => {
            if ('refused' in told) {
              setHeating(null);
              setProblem(told.refused);
            } else {
              setHeating(told.ok);
              setTime(told.ok.heatEnds);
            }
          },
          (error) => setProblem(messageOf(error)),
        )
        .finally(() => setShare(null));
    }, 250);
    return () => {
      clearTimeout(wait);
      cancel.current();
    };
  }, [asked, bond, model]);
  const source = { ...SOURCES[asked.source], ...asked.own };
  const change = (part: Partial<Asked>) => setAsked((now) => ({ ...now, recipe: null, ...part }));

  return (
    <div className="grid gap-4 lg:grid-cols-[minmax(0,27rem)_minmax(0,1fr)]">
      <section aria-label="Temperature map" className="panel grid content-start gap-2 self-start p-4">
        {heating ? (
          <MapAt heating={heating} model={model} time={time} setTime={setTime} />
        ) : (
          <div className="grid h-[33rem] place-items-center text-quiet">{problem ? 'No map' : 'Computing…'}</div>
        )}
      </section>
      <div className="grid content-start gap-4">
        <section aria-label="Heat source" className="panel grid gap-3 p-4">
          <fieldset className="flex flex-wrap gap-1.5">
            <legend className="sr-only">Source</legend>
            {SOURCE_KINDS.map((kind) => (
              <label
                key={kind}
                className={`grid min-h-12 cursor-pointer place-items-center rounded-lg border-2 px-4 has-focus-visible:outline-3 has-focus-visible:outline-petrol ${asked.source === kind ? 'border-petrol bg-petrol font-semibold text-on-petrol' : 'border-line'}`}
              >
                <input
                  type="radio"
                  className="sr-only"
                  name="source"
                  checked={asked.source === kind}
                  onChange={() => change(usual(kind, rules))}
                />
                {SOURCES[kind].name}
              </label>
            ))}
          </fieldset>
          <div className="flex flex-wrap items-end gap-3">
            <NumberField
              label="Set, °C"
              value={asked.set}
              min={SOURCES[asked.source].least}
              max={SOURCES[asked.source].most}
              onChange={(set) => change({ set })}
            />
            <NumberField
              label={isLocal({ kind: asked.source }) ? 'Minutes a turn' : 'Minutes'}
              value={asked.turnMinutes}
              min={0.5}
              max={30}
              onChange={(turnMinutes) => change({ turnMinutes })}
            />
            <NumberField
              label="Room, °C"
              value={asked.room}
              min={-20}
              max={45}
              onChange={(room) => change({ room, start: room })}
            />
            <NumberField
              label="Device at start, °C"
              value={asked.start}
              min={-20}
              max={60}
              onChange={(start) => change({ start })}
            />
            {!isLocal({ kind: asked.source }) && (
              <label className="w-40">
                <span className="label">Laid on</span>
                <select
                  className="field"
                  value={asked.face ?? ''}
                  onChange={(e) =>
                    change({ face: e.target.value === '' ? null : (e.target.value as 'front' | 'back') })
                  }
                >
                  <option value="">the bond's face</option>
                  <option value="front">the front</option>
                  <option value="back">the back</option>
                </select>
              </label>
            )}
            {model.bonds.get(bond)!.solvent && (
              <label className="flex min-h-12 cursor-pointer items-center gap-3">
                <input
                  type="checkbox"
                  className="size-6 accent-petrol"
                  checked={asked.solvent}
                  onChange={(e) => change({ solvent: e.target.checked })}
                />
                solvent after it
              </label>
            )}
          </div>
          <details>
            <summary className="flex min-h-12 cursor-pointer items-center text-quiet">
              How well it gives its heat
            </summary>
            <div className="flex flex-wrap items-end gap-3">
              <NumberField
                label={isLocal({ kind: asked.source }) && asked.source !== 'gel-pack' ? 'Air, W/m²K' : 'Contact, W/m²K'}
                value={source.conductance}
                min={1}
                max={2000}
                onChange={(conductance) => change({ own: { ...asked.own, conductance } })}
              />
              {source.nozzle !== undefined &&
                NOZZLE.map(({ key, label, min, max }) => (
                  <NumberField
                    key={key}
                    label={label}
                    value={source[key]!}
                    min={min}
                    max={max}
                    onChange={(v) => change({ own: { ...asked.own, [key]: v } })}
                  />
                ))}
              <p className="pb-3 text-sm text-quiet">{SOURCES[asked.source].origin}</p>
            </div>
          </details>
          {asked.recipe && <p className="font-semibold text-moss">✓ The recipe: {recipeWords(asked.recipe)}</p>}
          {share !== null && (
            <div role="status" className="flex items-center gap-4">
              <progress value={share} max={1} className="h-3 flex-1 accent-petrol" aria-label="Heating computed" />
              <Button
                onClick={() => {
                  cancel.current();
                  setShare(null);
                }}
              >
                Stop
              </Button>
            </div>
          )}
          {problem && <ProblemNote>{problem}</ProblemNote>}
        </section>
        {heating && <Answers heating={heating} />}
        <RecipeCard
          model={model}
          bond={bond}
          asked={asked}
          rules={rules}
          take={(recipe) =>
            setAsked((now) => ({ ...now, source: recipe.source, set: recipe.set, solvent: recipe.solvent, recipe }))
          }
        />
        {heating && (
          <section aria-label="Curves" className="panel p-4">
            <Suspense fallback={<div className="h-72" />}>
              <HeatCurves heating={heating} time={time} />
            </Suspense>
          </section>
        )}
        <section className="panel grid gap-1 p-4">
          <CautionLine caution="hot" />
          <CautionLine caution="lithium" />
          <p className="text-sm text-quiet">
            Computed from the anatomy and defaults with a stated origin; no temperature here is a promise. The
            thermometer decides.
          </p>
        </section>
      </div>
    </div>
  );
}

/** What a stretch is at a moment: soft, not yet, or cooling after it was. `softFrom` is its first soft entry, -1 for never. */
function stateAt(temperature: number, i: number, softFrom: number, softensAt: number): EdgeState {
  const was = softFrom >= 0 && softFrom <= i;
  if (temperature >= softensAt || (was && temperature >= coldAgain(softensAt))) return 'soft';
  return was ? 'cooling' : 'not yet';
}

function MapAt({
  heating,
  model,
  time,
  setTime,
}: {
  heating: Heating;
  model: Model;
  time: number;
  setTime: (t: number) => void;
}) {
  const { run, softensAt } = heating;
  const last = run.times.at(-1)!;
  const i = Math.min(
    run.times.length - 1,
    Math.max(
      0,
      run.times.findIndex((t) => t >= time - 1e-6),
    ),
  );
  const frame = run.frames.reduce((best, f) => (Math.abs(f.time - time) < Math.abs(best.time - time) ? f : best));
  // The scale ends at the warmest spot there ever is, so that the picture keeps its shades to the end.
  const range = useMemo<[number, number]>(
    () => [
      Math.min(20, run.coldest[0]!),
      Math.max(softensAt, ...run.frames.map((f) => f.seam.reduce((a, b) => Math.max(a, b)))),
    ],
    [run, softensAt],
  );
  const softFrom = useMemo(
    () => heating.seam.map((_, k) => run.seam.findIndex((t) => t[k]! >= softensAt)),
    [heating, run, softensAt],
  );
  const { edges, seam } = useMemo(
    () => ({
      edges: Object.fromEntries(
        (Object.entries(run.edges) as [Edge, number[]][]).map(([edge, values]) => [
          edge,
          {
            temperature: values[i]!,
            state: stateAt(
              values[i]!,
              i,
              values.findIndex((v) => v >= softensAt),
              softensAt,
            ),
          },
        ]),
      ) as Partial<Record<Edge, { temperature: number; state: EdgeState }>>,
      seam: heating.seam.map((s, k) => ({
        ...s,
        temperature: run.seam[i]![k]!,
        state: stateAt(run.seam[i]![k]!, i, softFrom[k]!, softensAt),
      })),
    }),
    [heating, run, softensAt, softFrom, i],
  );
  const turn = heating.turns[run.turns[i]!]!;
  return (
    <>
      <HeatMap
        model={model}
        face={heating.face}
        grid={heating.grid}
        body={heating.body}
        values={frame.seam}
        range={range}
        softensAt={softensAt}
        seam={seam}
        edges={edges}
        label={`${model.anatomy.name}: the seam's layer after ${clock(time)}`}
        className="max-h-[29rem] w-full"
      />
      <p className="text-center">
        <b className="num text-2xl">{clock(time)}</b>{' '}
        <span className="text-quiet">
          {i === 0
            ? 'before the heat'
            : time > heating.heatEnds
              ? 'cooling'
              : `${turn.on ? 'heat' : 'rest'}: ${whereWord(turn.where)}`}
        </span>
        {run.zones.cell && (
          <>
            {' '}
            · cell <b className="num">{run.zones.cell[i]!.toFixed(0)} °C</b>
          </>
        )}
      </p>
      <Slider.Root
        className="relative flex h-12 touch-none items-center"
        min={0}
        max={last}
        step={5}
        value={[time]}
        onValueChange={([v]) => setTime(v ?? 0)}
      >
        <Slider.Track className="relative h-2 grow rounded-full bg-line">
          <Slider.Range className="absolute h-full rounded-full bg-ember" />
        </Slider.Track>
        <Slider.Thumb aria-label="Moment" className="block size-8 rounded-full border-2 border-ink bg-panel" />
      </Slider.Root>
      <div className="flex items-center gap-3 text-sm" aria-hidden="true">
        <span className="num">{Math.round(range[0])} °C</span>
        <span
          className="h-4 flex-1 rounded"
          style={{
            background: `linear-gradient(90deg, ${[0, 0.2, 0.4, 0.6, 0.8, 1].map((v) => `rgb(${warmth(v).join(' ')})`).join(', ')})`,
          }}
        />
        <span className="num">{Math.round(range[1])} °C</span>
      </div>
      <p className="text-sm text-quiet">
        {Object.entries(STATE_LINE)
          .map(([word, { sign }]) => `${sign} ${word}`)
          .join(', ')}{' '}
        · heavy line {softensAt} °C, thin ones every 10 °C
      </p>
    </>
  );
}

function Answers({ heating: { answers, softensAt } }: { heating: Heating }) {
  const { softAt, staysSoft, stillSoft, exceeded, edgeSoftAt, peaks } = answers;
  return (
    <section aria-label="What it comes to" className="panel grid gap-3 p-4">
      <div className="flex flex-wrap gap-x-8 gap-y-2">
        <div>
          <div className="num text-3xl font-semibold" data-testid="soft-at">
            {softAt === null ? 'not soft' : clock(softAt)}
          </div>
          <div className="text-sm text-quiet">
            {softAt === null ? `the coldest stretch never has ${softensAt} °C` : `the whole seam has ${softensAt} °C`}
          </div>
        </div>
        {staysSoft !== null && (
          <div>
            <div className="num text-3xl font-semibold">
              {stillSoft ? '≥ ' : ''}
              {clock(staysSoft)}
            </div>
            <div className="text-sm text-quiet">stays workable</div>
          </div>
        )}
        {ZONES.filter((z) => peaks[z] !== undefined).map((z) => (
          <div key={z}>
            <div
              className={`num text-3xl font-semibold ${peaks[z]! >= LIMITS[z].stop ? 'text-crimson' : peaks[z]! >= LIMITS[z].caution ? 'text-ember' : ''}`}
            >
              {peaks[z]!.toFixed(0)} °C{peaks[z]! >= LIMITS[z].stop ? ' ✕' : peaks[z]! >= LIMITS[z].caution ? ' ▲' : ''}
            </div>
            <div className="text-sm text-quiet">{LIMITS[z].name}, at most</div>
          </div>
        ))}
      </div>
      <p className="text-quiet">
        {Object.entries(edgeSoftAt)
          .map(([edge, at]) => `${edge} ${at === null ? 'not soft' : clock(at)}`)
          .join(' · ')}
      </p>
      {exceeded.length > 0 && (
        <ul className="grid gap-1">
          {exceeded.map((e) => (
            <li
              key={`${e.zone}${e.level}`}
              className={`font-semibold ${e.level === 'stop' ? 'text-crimson' : 'text-ember'}`}
            >
              {e.level === 'stop' ? '✕ Stop' : '▲ Caution'}: the {LIMITS[e.zone].name} passes {LIMITS[e.zone][e.level]}{' '}
              °C after {clock(e.at)}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function RecipeCard({
  model,
  bond,
  asked,
  rules,
  take,
}: {
  model: Model;
  bond: string;
  asked: Asked;
  rules: HouseRules;
  take: (r: Recipe) => void;
}) {
  const [found, setFound] = useState<{ recipe: Recipe | NoRecipe; others: Recipe[] } | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const cancel = useRef<() => void>(() => {});
  const { source, room, solvent } = asked;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another source, room or bond asks anew
  useEffect(() => {
    if (asked.recipe) return;
    setFound(null);
    setShare(null);
    return () => cancel.current();
  }, [bond, source, room, solvent, asked.face, asked.own]);
  const search = () => {
    setShare(0);
    setProblem(null);
    const job = recipeInWorker(
      model.anatomy,
      bond,
      {
        source,
        own: { ...rules.sources, [source]: asked.own },
        room,
        solvent,
        ...(asked.face ? { face: asked.face } : {}),
      },
      setShare,
    );
    cancel.current = job.cancel;
    job.result
      .then(
        (told) => ('refused' in told ? setProblem(told.refused) : setFound(told.ok)),
        (error) => setProblem(messageOf(error)),
      )
      .finally(() => setShare(null));
  };
  const line = (r: Recipe) => (
    <li
      key={`${r.source}${r.solvent}${r.passes}`}
      className="flex flex-wrap items-center justify-between gap-3 border-t border-line py-1"
    >
      <span>
        <b>{recipeWords(r)}</b>{' '}
        <span className="text-quiet">
          {minutes(r.seconds)} in all, stays {clock(r.staysSoft)}, reheat {clock(r.reheat)}
          {r.peaks.cell !== undefined && `, cell up to ${r.peaks.cell.toFixed(0)} °C`}
        </span>
      </span>
      <Button onClick={() => take(r)}>Use it</Button>
    </li>
  );
  return (
    <section aria-label="Recipe" className="panel p-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="text-xl font-semibold">Quickest that keeps every limit</h2>
        {share === null ? (
          <Button weight="main" disabled={!Number.isFinite(room) || !reckonable(asked)} onClick={search}>
            {found ? 'Search again' : 'Find it'}
          </Button>
        ) : (
          <Button
            onClick={() => {
              cancel.current();
              setShare(null);
            }}
          >
            Stop
          </Button>
        )}
      </div>
      {share !== null && (
        <div role="status">
          <progress value={share} max={1} className="mt-2 h-3 w-full accent-petrol" aria-label="Recipes tried" />
        </div>
      )}
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {found?.recipe.ok && (
        <ul className="mt-2" data-testid="recipe">
          {line(found.recipe)}
        </ul>
      )}
      {found && !found.recipe.ok && (
        <div className="mt-2" data-testid="recipe">
          <p className="font-semibold text-crimson">
            ✕ None with the {SOURCES[found.recipe.source].name}: {found.recipe.reason}.
          </p>
          <p className="mt-1 text-quiet">
            {found.others.length > 0
              ? 'Instead:'
              : 'Nothing else keeps the limits either: work cold, with solvent and patience.'}
          </p>
          <ul>{found.others.slice(0, 6).map(line)}</ul>
        </div>
      )}
    </section>
  );
}
