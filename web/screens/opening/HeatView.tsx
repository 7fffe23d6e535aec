import { useEffect, useRef, useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { recipeHint, type HeatSetting, type HouseRules } from '../../../core/dive/index.ts';
import { isLocal, SOURCE_KINDS, SOURCES } from '../../../core/heat/index.ts';
import { Check, ProblemNote, Progress } from '../../controls/index.tsx';
import { CautionLine } from '../../controls/CautionLine.tsx';
import { ruleLimits } from '../../controls/bounds.ts';
import { NumberField } from '../../controls/NumberField.tsx';
import { messageOf } from '../../state/api.ts';
import { heatingInWorker } from '../../workers/heat.ts';
import type { Heating, HeatRequest } from '../../workers/heat.worker.ts';
import { planned, reckonable, usual, type Asked } from './asked.ts';
import { Answers, MapAt } from './HeatMoments.tsx';
import { RecipeCard } from './RecipeCard.tsx';
import { late } from '../../controls/late.tsx';
import { tell, spoken } from '../../../words/index.ts';

const HeatCurves = late(
  () => import('./HeatCurves.tsx'),
  () => <div className="h-72" />,
);

/** What is asked besides the setting itself, with what is believed of it. */
const RANGES = [
  { key: 'turnMinutes', word: 'minutes', min: 0.5, max: 30 },
  { key: 'room', word: 'room, °C', min: -20, max: 45 },
  { key: 'start', word: 'device at start, °C', min: -20, max: 60 },
] as const;

/** What is asked of a source that blows. Origin of the limits: own choice. */
/** Minutes of a turn, and °C that a device begins at. Origin: own choice, beyond any practice. */
const TURN_MINUTES = { least: 0.5, most: 30 } as const;
const AT_START = { least: -20, most: 60 } as const;
const NOZZLE = [
  { key: 'nozzle', label: 'Nozzle, mm' },
  { key: 'distance', label: 'Distance, mm' },
  { key: 'speed', label: 'Sweep, mm/s' },
] as const;

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
    const { least, most } = SOURCES[asked.source];
    const name = spoken.sources[asked.source];
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
      face: asked.face ?? setting?.on,
      off: setting?.off,
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
  }, [asked, bond, model, setting]);
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
                className={
                  `grid min-h-12 cursor-pointer place-items-center rounded-lg border-2 px-4 has-focus-visible:outline-3 ` +
                  `has-focus-visible:outline-petrol ` +
                  `${asked.source === kind ? 'border-petrol bg-petrol font-semibold text-on-petrol' : 'border-line'}`
                }
              >
                <input
                  type="radio"
                  className="sr-only"
                  name="source"
                  checked={asked.source === kind}
                  onChange={() => change(usual(kind, rules))}
                />
                {spoken.sources[kind]}
              </label>
            ))}
          </fieldset>
          <div className="flex flex-wrap items-end gap-3">
            <NumberField
              label="Set, °C"
              value={asked.set}
              bounds={SOURCES[asked.source]}
              onChange={(set) => change({ set })}
            />
            <NumberField
              label={isLocal({ kind: asked.source }) ? 'Minutes a turn' : 'Minutes'}
              value={asked.turnMinutes}
              bounds={TURN_MINUTES}
              onChange={(turnMinutes) => change({ turnMinutes })}
            />
            <NumberField
              label="Room, °C"
              value={asked.room}
              bounds={ruleLimits('room')}
              onChange={(room) => change({ room, start: room })}
            />
            <NumberField
              label="Device at start, °C"
              value={asked.start}
              bounds={AT_START}
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
              <Check checked={asked.solvent} onChange={(e) => change({ solvent: e.target.checked })}>
                solvent after it
              </Check>
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
                bounds={ruleLimits('sources', asked.source, 'conductance')}
                onChange={(conductance) => change({ own: { ...asked.own, conductance } })}
              />
              {source.nozzle !== undefined &&
                NOZZLE.map(({ key, label }) => (
                  <NumberField
                    key={key}
                    label={label}
                    value={source[key]!}
                    bounds={ruleLimits('sources', asked.source, key)}
                    onChange={(v) => change({ own: { ...asked.own, [key]: v } })}
                  />
                ))}
              <p className="pb-3 text-sm text-quiet">{SOURCES[asked.source].origin}</p>
            </div>
          </details>
          {asked.recipe && (
            <p className="font-semibold text-moss">✓ The recipe: {tell(model, recipeHint(asked.recipe))}</p>
          )}
          {share !== null && (
            <Progress
              share={share}
              label="Heating computed"
              stop={() => {
                cancel.current();
                setShare(null);
              }}
            />
          )}
          {problem && <ProblemNote>{problem}</ProblemNote>}
        </section>
        {heating && <Answers heating={heating} />}
        <RecipeCard
          model={model}
          bond={bond}
          asked={asked}
          stands={setting}
          rules={rules}
          take={(recipe) =>
            setAsked((now) => ({ ...now, source: recipe.source, set: recipe.set, solvent: recipe.solvent, recipe }))
          }
        />
        {heating && (
          <section aria-label="Curves" className="panel p-4">
            <HeatCurves heating={heating} time={time} />
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
