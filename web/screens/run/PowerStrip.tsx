import { Cloud, CloudOff, Diamond, Zap } from 'lucide-react';
import { Link } from 'react-router';
import type { Job } from '../../../core/jobs/index.ts';
import { timerLeft, type RunState, type Timer } from '../../../core/run/index.ts';
import { clock } from '../../../core/units/index.ts';
import { useRun } from '../../state/run.ts';

/** LIVE or ISOLATED, told by word, sign and hatching as well as by colour; beside it what is off, out and open. */
export function PowerStrip({
  job,
  state,
  timers,
  now,
  choose,
}: {
  job: Job;
  state: RunState;
  timers: Timer[];
  now: number;
  choose: (step: number) => void;
}) {
  const connection = useRun((s) => s.connection);
  const anatomy = useRun((s) => s.anatomy)!;
  const counts: [number, string][] = [
    [state.out.size, state.out.size === 1 ? 'screw out' : 'screws out'],
    [state.device.open.size, state.device.open.size === 1 ? 'connector open' : 'connectors open'],
    [state.device.removed.size, state.device.removed.size === 1 ? 'part on the mat' : 'parts on the mat'],
  ];
  return (
    <header className="grid min-h-14 grid-cols-[auto_minmax(0,1fr)] items-stretch bg-panel sm:grid-cols-[auto_minmax(0,1fr)_auto]">
      <div
        role="status"
        data-testid="power"
        className={`flex items-center gap-3 px-5 text-xl font-bold tracking-wide text-on-job ${state.isolated ? 'bg-moss' : 'bg-crimson'}`}
        style={
          state.isolated
            ? undefined
            : { backgroundImage: 'repeating-linear-gradient(45deg, transparent 0 14px, rgb(0 0 0 / .18) 14px 20px)' }
        }
      >
        {state.isolated ? <Diamond aria-hidden="true" /> : <Zap aria-hidden="true" fill="currentColor" />}
        {state.isolated ? 'ISOLATED' : 'LIVE'}
      </div>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-1 px-5 py-1" data-testid="counts">
        {counts.map(([count, word]) => (
          <span key={word} className={count > 0 ? 'text-ink' : 'text-quiet'}>
            <b className="num text-xl">{count}</b> {word}
          </span>
        ))}
        {timers.map((t) => {
          const left = timerLeft(t, now);
          return (
            <button
              type="button"
              key={t.id}
              onClick={(e) => {
                e.currentTarget.blur();
                choose(t.step);
              }}
              className="min-h-12 rounded-lg px-3 text-ember hover:bg-sunk"
              aria-label={`Wait of step ${t.step}`}
            >
              {left > 0 ? (
                <>
                  step {t.step} <b className="num text-xl">{clock(left)}</b>
                </>
              ) : (
                <>
                  step {t.step} <b>has run</b>
                </>
              )}
            </button>
          );
        })}
      </div>
      <div className="col-span-2 flex items-center gap-4 px-5 sm:col-span-1">
        <span
          className={`flex items-center gap-2 text-sm ${connection === 'offline' ? 'font-semibold text-crimson' : 'text-quiet'}`}
          role="status"
          data-testid="connection"
        >
          {connection === 'offline' ? (
            <>
              <CloudOff aria-hidden="true" />
              kept here, not sent yet
            </>
          ) : (
            <>
              <Cloud aria-hidden="true" />
              {connection === 'saved' ? 'saved' : 'saving'}
            </>
          )}
        </span>
        <Link to={`/jobs/${job.id}`} className="flex min-h-12 items-center text-ink underline-offset-4">
          <span className="num">{job.number}</span>&nbsp;· {anatomy.name}
        </Link>
      </div>
    </header>
  );
}
