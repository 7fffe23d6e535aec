import { Link } from 'react-router';
import { railsLive } from '../../../core/anatomy/index.ts';
import type { Job } from '../../../core/jobs/index.ts';
import { CONNECTORS } from '../../../core/kinds/index.ts';
import { isCooling, timerLeft, type RunState, type Timer } from '../../../core/run/index.ts';
import { clock } from '../../../core/units/index.ts';
import { useJobs } from '../../state/jobs.ts';
import { useRun } from '../../state/run.ts';
import { EmergencyButton } from '../Emergency.tsx';
import { PowerSign, RailSign, Sent } from './signs.tsx';

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
  choose: (step: string) => void;
}) {
  const place = (id: string) => state.context.steps.get(id)?.n ?? '';
  const jobs = useJobs((s) => s.jobs);
  const others = (jobs ?? []).filter((j) => j.id !== job.id && j.waitsUntil !== null && Date.parse(j.waitsUntil) > now);
  const anatomy = useRun((s) => s.anatomy)!;
  const { model } = state.context;
  const rails = railsLive(model.anatomy, state.device.open);
  // What lies in the wells; a captive screw is loose, but in none. Contacts part by themselves and are in no plan.
  const screws = [...state.out.values()].filter((well) => well !== null).length;
  const plugs = [...state.device.open].filter((id) => {
    const connector = model.connectors.get(id);
    return !connector || !CONNECTORS.of(connector.kind).byItself;
  }).length;
  const counts: [count: number, short: string, word: string][] = [
    [screws, 'out', screws === 1 ? 'screw out' : 'screws out'],
    [plugs, 'open', plugs === 1 ? 'connector open' : 'connectors open'],
    [state.device.removed.size, 'off', state.device.removed.size === 1 ? 'part on the mat' : 'parts on the mat'],
  ];
  return (
    <header className="grid min-h-14 grid-cols-[auto_minmax(0,1fr)] items-stretch bg-panel sm:grid-cols-[auto_minmax(0,1fr)_auto]">
      <div className="flex items-stretch">
        <PowerSign isolated={state.isolated} />
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 px-3 py-1 sm:px-5 md:gap-x-6" data-testid="counts">
        {counts.map(([count, short, word]) => (
          <span key={word} className={count > 0 ? 'text-ink' : 'text-quiet'}>
            <b className="num text-xl">{count}</b> <span className="hidden md:inline">{word}</span>
            <span className="md:hidden" aria-hidden="true">
              {short}
            </span>
            <span className="sr-only md:hidden">{word}</span>
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
                if (!t.own) choose(t.step);
              }}
              className="min-h-12 rounded-lg px-3 text-ember hover:bg-sunk"
              aria-label={
                t.own ? t.own.what : isCooling(t) ? `Cooling at step ${place(t.step)}` : `Wait of step ${place(t.step)}`
              }
            >
              {left > 0 ? (
                <>
                  {t.own ? t.own.what : isCooling(t) ? 'cools' : `step ${place(t.step)}`}{' '}
                  <b className="num text-xl">{clock(left)}</b>
                </>
              ) : (
                <>
                  {t.own ? t.own.what : `step ${place(t.step)}`} <b>has run</b>
                </>
              )}
            </button>
          );
        })}
        {others.map((j) => (
          <Link key={j.id} to={`/jobs/${j.id}/run`} className="flex min-h-12 items-center gap-2 text-ink">
            <span className="num">{j.number}</span> waits{' '}
            <b className="num text-xl text-ember">{clock((Date.parse(j.waitsUntil!) - now) / 1000)}</b>
          </Link>
        ))}
      </div>
      <div className="col-span-2 flex items-center gap-4 px-5 sm:col-span-1">
        <EmergencyButton />
        <Sent />
        <Link to={`/jobs/${job.id}`} className="flex min-h-12 items-center text-ink underline-offset-4">
          <span>
            <span className="num">{job.number}</span>&nbsp;· {anatomy.name}
          </span>
        </Link>
      </div>
      {rails.length > 1 && (
        <div className="col-span-full flex flex-wrap gap-x-4 border-line border-t px-3 py-1" data-testid="rails">
          {rails.map(({ rail, live }) => (
            <RailSign key={rail.id} name={rail.name} live={live} />
          ))}
        </div>
      )}
    </header>
  );
}
