import { Slider } from 'radix-ui';
import { useMemo } from 'react';
import type { Edge, Model } from '../../../core/anatomy/index.ts';
import { coldAgain, LIMITS, ZONES } from '../../../core/heat/index.ts';
import { clock } from '../../../core/units/index.ts';
import { HeatMap, STATE_LINE, warmth, type EdgeState } from '../../drawing/HeatMap.tsx';
import type { Heating } from '../../workers/heat.worker.ts';
import { whereWord, spoken } from '../../../words/index.ts';

/** What a stretch is at a moment: soft, not yet, or cooling after it was. `softFrom` is its first soft entry, -1 for never. */
function stateAt(temperature: number, i: number, softFrom: number, softensAt: number): EdgeState {
  const was = softFrom >= 0 && softFrom <= i;
  if (temperature >= softensAt || (was && temperature >= coldAgain(softensAt))) return 'soft';
  return was ? 'cooling' : 'not yet';
}

/** The seam at one moment of a heating, and the way through its moments. */
export function MapAt({
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
        origin={heating.origin}
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

/** When a seam is soft at the earliest and at the latest. */
const bandWords = ([earliest, latest]: [number | null, number | null]): string =>
  earliest === null
    ? 'not soft either way'
    : `${clock(earliest)} to ${latest === null ? 'not at all in this time' : clock(latest)}`;

/** What a heating comes to: when it is soft, for how long, and what gets too hot. */
export function Answers({ heating: { answers, band, softensAt } }: { heating: Heating }) {
  const { softAt, staysSoft, stillSoft, exceeded, edgeSoftAt, peaks } = answers;
  return (
    <section aria-label="What it comes to" className="panel grid gap-3 p-4">
      <div className="flex flex-wrap gap-x-8 gap-y-2">
        <div>
          <div className="num text-3xl font-semibold" data-testid="soft-at">
            {softAt === null ? 'not soft' : clock(softAt)}
          </div>
          <div className="text-sm text-quiet">
            {softAt === null ? `the coldest stretch never has ${softensAt} °C` : `the whole seam has ${softensAt} °C`};{' '}
            {bandWords(band.softAt)}, by contact and air
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
              className={
                `num text-3xl font-semibold ` +
                `${peaks[z]! >= LIMITS[z].stop ? 'text-crimson' : peaks[z]! >= LIMITS[z].caution ? 'text-ember' : ''}`
              }
            >
              {peaks[z]!.toFixed(0)} °C{peaks[z]! >= LIMITS[z].stop ? ' ✕' : peaks[z]! >= LIMITS[z].caution ? ' ▲' : ''}
            </div>
            <div className="text-sm text-quiet">
              {spoken.zones[z]}, at most
              {band.peaks[z] && (
                <>
                  {' '}
                  <span className="num">
                    {band.peaks[z][0].toFixed(0)} to {band.peaks[z][1].toFixed(0)}
                  </span>{' '}
                  °C
                  {band.peaks[z][1] >= LIMITS[z].stop && peaks[z]! < LIMITS[z].stop && (
                    <b className="text-crimson"> where contact is good: too hot</b>
                  )}
                </>
              )}
            </div>
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
              {e.level === 'stop' ? '✕ Stop' : '▲ Caution'}: the {spoken.zones[e.zone]} passes {LIMITS[e.zone][e.level]}{' '}
              °C after {clock(e.at)}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
