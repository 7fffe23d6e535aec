import { useState } from 'react';
import {
  leastWaitHours,
  METER,
  ratingOf,
  resistanceOf,
  type LoadSample,
  type Resistance,
} from '../../../core/cells/index.ts';
import {
  isOver,
  CELL_READINGS,
  cellJudgement,
  cellKey,
  readingFault,
  type CellReading,
  type EventBody,
  type RunState,
  type WhichCell,
} from '../../../core/run/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, ProblemNote } from '../../controls/index.tsx';
import { messageOf } from '../../state/api.ts';
import { useSamples } from '../../state/useSamples.ts';
import { Panel } from '../counter/Panel.tsx';
import { tell, spoken } from '../../../words/index.ts';

const GRADE = { good: 'text-moss', 'cannot-tell': 'text-quiet', worn: 'text-ember', bad: 'text-crimson' } as const;
const SIGN = { good: '✓', 'cannot-tell': '?', worn: '○', bad: '✗' } as const;

/** What is measured of a cell, and what it says. */
export function Health({
  state,
  job,
  cell,
  of,
  record,
}: {
  state: RunState;
  job: string;
  cell: string;
  of: WhichCell;
  record: (bodies: EventBody[]) => boolean;
}) {
  const [measure, setMeasure] = useState<CellReading>('capacity');
  const [text, setText] = useState('');
  const [hours, setHours] = useState('24');
  const [doubt, setDoubt] = useState('');
  const { health } = cellJudgement(state, cell, of);
  const { model } = state.context;
  const value = readNumber(text);
  const after = readNumber(hours);
  const half = readNumber(doubt);
  const wrong = value === null ? null : readingFault(model, { cell, measure, value, half });
  const fits =
    value !== null &&
    wrong === null &&
    (doubt.trim() === '' || half !== null) &&
    (measure !== 'later' || (after !== null && after > 0));
  const keep = () => {
    if (
      record([
        {
          type: 'cell-measured',
          cell,
          of,
          measure,
          value: value!,
          half,
          hours: measure === 'later' ? after : null,
        },
      ])
    ) {
      setText('');
      setDoubt('');
    }
  };
  const known = state.care.cells.get(cellKey(cell, of));
  const rest = known?.measured.get('rest');
  const wait = rest && leastWaitHours(ratingOf(model.anatomy, cell), rest.value, rest.half ?? undefined);
  return (
    <Panel id="health" title="Health">
      {health.findings.length === 0 ? (
        <p className="text-quiet">Nothing is measured yet. Each measure says something; together the worst counts.</p>
      ) : (
        <ul className="grid gap-1">
          {health.findings.map((f) => (
            <li key={f.of}>
              <b className={GRADE[f.grade]}>
                {SIGN[f.grade]} {spoken.measures[f.of]}
              </b>
              : {tell(model, f.says)}
            </li>
          ))}
        </ul>
      )}
      {known?.measured.get('charge') && (
        <p className="text-quiet">
          Charge read: <span className="num">{known.measured.get('charge')!.value}</span> %
        </p>
      )}
      {!isOver(state) && (
        <>
          <form
            className="flex flex-wrap items-end gap-3"
            onSubmit={(e) => {
              e.preventDefault();
              if (fits) keep();
            }}
          >
            <label className="w-44">
              <span className="label">Measure</span>
              <select className="field" value={measure} onChange={(e) => setMeasure(e.target.value as CellReading)}>
                {CELL_READINGS.map((m) => (
                  <option key={m} value={m}>
                    {spoken.cellReadings[m].name}
                    {spoken.cellReadings[m].unit && `, ${spoken.cellReadings[m].unit}`}
                  </option>
                ))}
              </select>
            </label>
            <label className="w-32">
              <span className="label">{spoken.cellReadings[measure].unit || 'count'}</span>
              <input className="field num" inputMode="decimal" value={text} onChange={(e) => setText(e.target.value)} />
            </label>
            {measure !== 'charge' && measure !== 'cycles' && (
              <label className="w-32">
                <span className="label">give or take</span>
                <input
                  className="field num"
                  inputMode="decimal"
                  placeholder={usualHalf(measure)}
                  value={doubt}
                  onChange={(e) => setDoubt(e.target.value)}
                />
              </label>
            )}
            {measure === 'later' && (
              <label className="w-32">
                <span className="label">hours later</span>
                <input
                  className="field num"
                  inputMode="decimal"
                  value={hours}
                  onChange={(e) => setHours(e.target.value)}
                />
              </label>
            )}
            <Button type="submit" disabled={!fits}>
              Record
            </Button>
          </form>
          {wrong !== null && <ProblemNote>{tell(model, wrong)}</ProblemNote>}
          {measure === 'later' && wait !== undefined && Number.isFinite(wait) && (
            <p className="text-quiet">
              With that meter a second reading tells something after{' '}
              <span className="num">{wait < 48 ? `${Math.ceil(wait)} h` : `${Math.ceil(wait / 24)} days`}</span> at the
              least.
            </p>
          )}
          <LoadStep
            job={job}
            keep={(r) =>
              record([
                {
                  type: 'cell-measured',
                  cell,
                  of,
                  measure: 'ohms',
                  value: round(r.ohms),
                  half: round(r.half),
                  hours: null,
                },
              ])
            }
          />
        </>
      )}
    </Panel>
  );
}

/** What the usual instrument is good for, where nothing is typed. */
const usualHalf = (measure: Exclude<CellReading, 'charge' | 'cycles'>): string =>
  measure === 'capacity'
    ? `${METER.capacityShare * 100} %`
    : measure === 'ohms'
      ? `${METER.ohmsShare * 100} %`
      : `${METER.volts} V`;

const round = (v: number): number => Math.round(v * 100_000) / 100_000;

/** The resistance from steps of current, as the bench supply tells them. */
function LoadStep({ job, keep }: { job: string; keep: (r: Resistance) => void }) {
  const { samples, running, listen } = useSamples<LoadSample>();
  const [shows, setShows] = useState('good');
  const [problem, setProblem] = useState<string | null>(null);
  const start = () => {
    setProblem(null);
    listen(`/api/closing/load-step/${job}?shows=${shows}`, (got) => {
      try {
        keep(resistanceOf(got));
      } catch (error) {
        setProblem(messageOf(error));
      }
    });
  };
  const [low, high] = [Math.min(...samples.map((s) => s.volts)), Math.max(...samples.map((s) => s.volts))];
  const line = samples
    .map((s) => `${(s.seconds / 7.5) * 300} ${8 + ((high - s.volts) / Math.max(0.02, high - low)) * 64}`)
    .join('L');
  return (
    <div className="grid gap-2 border-t border-line pt-3">
      {samples.length > 1 && (
        <figure>
          <svg viewBox="0 0 300 80" className="w-full" role="img" aria-label="Volts under steps of current">
            <path d={`M${line}`} fill="none" className="stroke-teal" strokeWidth={2.5} strokeLinejoin="round" />
          </svg>
          <figcaption className="num flex justify-between text-sm">
            <span>{samples.at(-1)!.volts.toFixed(3)} V</span>
            <span>{samples.at(-1)!.amps.toFixed(2)} A</span>
          </figcaption>
        </figure>
      )}
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <p className="flex flex-wrap items-end gap-3">
        <Button disabled={running} onClick={start}>
          {running ? 'It is loaded…' : 'Resistance by load step'}
        </Button>
        <label className="w-44">
          <span className="label">The stand-in shows</span>
          <select className="field" value={shows} onChange={(e) => setShows(e.target.value)}>
            <option value="good">a good cell</option>
            <option value="worn">a worn one</option>
            <option value="bad">one that is done for</option>
          </select>
        </label>
      </p>
      <p className="text-sm text-quiet">
        From the bench supply, simulated. Never load a cell that is swollen, hurt or hot.
      </p>
    </div>
  );
}
