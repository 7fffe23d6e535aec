import { startKindOf, type SupplySample } from '../../../core/diagnosis/index.ts';
import { isOver, type RunState } from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import { useSamples } from '../../state/useSamples.ts';
import { Panel } from './Panel.tsx';

const START_WORDS = {
  normal: 'A start that goes on: the board works.',
  none: 'It draws nothing: the way to the board is broken, or its key.',
  short: 'A short: it draws all there is from the first moment.',
  loops: 'It begins again and again.',
} as const;

/** The current at the start, as a curve while it comes. */
export function BenchSupply({ state, job }: { state: RunState; job: string }) {
  const { record } = useRunOf('record');
  const { samples, running, listen } = useSamples<SupplySample>();
  if (state.startedAt !== null || isOver(state)) return null;
  const start = () =>
    listen(`/api/jobs/${job}/supply`, (got) => {
      if (got.length > 4) record([{ type: 'checked', check: 'start-current', outcome: startKindOf(got) }]);
    });
  const most = Math.max(0.5, ...samples.map((s) => s.amps));
  const path = samples.map((s) => `${(s.seconds / 8) * 300} ${90 - (s.amps / most) * 80}`).join('L');
  return (
    <Panel id="supply" title="Current at the start">
      <p className="text-quiet">
        From the bench supply, in the place of the cell. This one is simulated. Never feed a swollen, wet or hot cell.
      </p>
      {samples.length > 1 && (
        <figure>
          <svg viewBox="0 0 300 96" className="w-full" role="img" aria-label={`Current, up to ${most.toFixed(2)} A`}>
            <path d="M0 90H300" className="stroke-line" />
            <path d={`M${path}`} fill="none" className="stroke-ember" strokeWidth={2.5} strokeLinejoin="round" />
          </svg>
          <figcaption className="flex justify-between text-sm">
            <span className="num">{samples.at(-1)!.amps.toFixed(2)} A</span>
            <span>{running ? 'it goes on…' : START_WORDS[startKindOf(samples)]}</span>
          </figcaption>
        </figure>
      )}
      <p>
        <Button disabled={running} onClick={start}>
          {samples.length > 0 ? 'Once more' : 'Switch it on'}
        </Button>
      </p>
    </Panel>
  );
}
