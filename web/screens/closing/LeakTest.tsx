import { useState } from 'react';
import { leakOf, type ClosingBench, type DecaySample } from '../../../core/closing/index.ts';
import { isOver, type EventBody, type RunState } from '../../../core/run/index.ts';
import { Button, ProblemNote } from '../../controls/index.tsx';
import { messageOf } from '../../state/api.ts';
import { useSamples } from '../../state/useSamples.ts';
import { Panel } from '../counter/Panel.tsx';
import { BY_ID, tell } from '../../../words/index.ts';

const OUTCOME = {
  pass: ['✓ Within the limit', 'text-moss'],
  fail: ['✗ It leaks', 'text-crimson'],
  'not-told': ['Not told: measure for longer', 'text-ember'],
} as const;

/** The decay of pressure in the closed device, as a curve while it comes, and the leak that it says. */
export function LeakTest({
  job,
  state,
  tester,
  record,
}: {
  job: string;
  state: RunState;
  tester: NonNullable<ClosingBench['tester']>;
  record: (bodies: EventBody[]) => boolean;
}) {
  const { samples, running, listen } = useSamples<DecaySample>();
  const [problem, setProblem] = useState<string | null>(null);
  const [shows, setShows] = useState('tight');
  const start = () => {
    setProblem(null);
    listen(`/api/closing/decay/${job}?shows=${shows}`, (got) => {
      try {
        const found = leakOf(got, tester);
        if (found.outcome === 'no-test') {
          setProblem(`No test: ${tell(BY_ID, found.because)}.`);
          return;
        }
        const { leak, half, drift, outcome } = found;
        const seconds = Math.max(1, got.at(-1)!.seconds);
        record([{ type: 'leak-tested', leak, half, drift, outcome, limit: tester.limit, seconds, simulated: true }]);
      } catch (error) {
        setProblem(messageOf(error));
      }
    });
  };
  const last = state.care.leaks.at(-1);
  const [low, high] = [Math.min(...samples.map((s) => s.pascal)), Math.max(...samples.map((s) => s.pascal))];
  const span = Math.max(20, high - low);
  const line = samples.map((s) => `${(s.seconds / 30) * 300} ${8 + ((high - s.pascal) / span) * 84}`).join('L');
  return (
    <Panel id="leak" title="Seal test">
      <p className="text-quiet">
        A pressure-decay tester. This one is simulated. What it says is a leak at a few kPa: no rating follows from it,
        and none is certified by it.
      </p>
      {samples.length > 1 && (
        <figure>
          <svg
            viewBox="0 0 300 100"
            className="w-full"
            role="img"
            aria-label={`Pressure, now ${samples.at(-1)!.pascal.toFixed(0)} Pa`}
          >
            <path d="M0 96H300" className="stroke-line" />
            <path d={`M${line}`} fill="none" className="stroke-teal" strokeWidth={2.5} strokeLinejoin="round" />
          </svg>
          <figcaption className="flex justify-between text-sm">
            <span className="num">{samples.at(-1)!.pascal.toFixed(0)} Pa</span>
            <span className="num">{samples.at(-1)!.celsius.toFixed(2)} °C</span>
          </figcaption>
        </figure>
      )}
      {last && !running && (
        <div>
          <p className={`text-lg font-semibold ${OUTCOME[last.outcome][1]}`}>{OUTCOME[last.outcome][0]}</p>
          <p className="num">
            {last.leak.toFixed(3)} ± {last.half.toFixed(3)} ml/min, at most {last.limit} ml/min
          </p>
          <p className="text-sm text-quiet">
            Temperature alone moved it by {last.drift.toFixed(0)} Pa, which is taken out.
          </p>
        </div>
      )}
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <p className="flex flex-wrap items-end gap-3">
        <Button weight="main" disabled={running || isOver(state)} onClick={start}>
          {running ? 'It is measured…' : last ? 'Once more' : 'Measure'}
        </Button>
        <label className="w-40">
          <span className="label">The stand-in shows</span>
          <select className="field" value={shows} onChange={(e) => setShows(e.target.value)}>
            <option value="tight">a tight device</option>
            <option value="leaks">a leaking one</option>
          </select>
        </label>
      </p>
    </Panel>
  );
}
