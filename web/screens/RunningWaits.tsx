import { Hourglass } from 'lucide-react';
import { Link } from 'react-router';
import { clock } from '../../core/units/index.ts';
import { serverNow } from '../state/clock.ts';
import { useJobs } from '../state/jobs.ts';
import { useNow } from '../state/useNow.ts';

/** Minutes that a wait which has run is still told, so that nobody misses it. Origin: own choice. */
const TOLD_FOR = 10 * 60_000;

/** What dries, is pressed, cures or is drawn down on any job, on every screen. */
export function RunningWaits() {
  const jobs = useJobs((s) => s.jobs) ?? [];
  const ends = jobs.flatMap((j) => {
    const until = j.waitsUntil === null ? Number.NaN : Date.parse(j.waitsUntil);
    return until > serverNow() - TOLD_FOR && j.state !== 'signed' && j.state !== 'collected' ? [{ job: j, until }] : [];
  });
  const now = useNow(ends.length > 0);
  if (ends.length === 0) return null;
  return (
    <ul aria-label="Waits" className="mx-4 mt-2 flex flex-wrap gap-2 sm:mx-8" data-testid="waits">
      {ends
        .sort((a, b) => a.until - b.until)
        .map(({ job, until }) => {
          const left = (until - now) / 1000;
          return (
            <li key={job.id}>
              <Link
                to={`/jobs/${job.id}/${job.waitsFor ? 'closing' : 'run'}`}
                className={`flex min-h-12 items-center gap-2 rounded-lg bg-panel px-3 text-ink no-underline ${left > 0 ? '' : 'border-2 border-moss'}`}
              >
                <Hourglass size={18} className="text-ember" aria-hidden="true" />
                <span>
                  <span className="num">{job.number}</span> {job.waitsFor ?? 'waits'}
                </span>
                {left > 0 ? (
                  <b className="num text-lg text-ember">{clock(left)}</b>
                ) : (
                  <b className="text-moss">has run</b>
                )}
              </Link>
            </li>
          );
        })}
    </ul>
  );
}
