import { OctagonX, Plus } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Link } from 'react-router';
import { formatDistanceToNowStrict } from 'date-fns/formatDistanceToNowStrict';
import type { JobSummary } from '../../../core/jobs/index.ts';
import { clock } from '../../../core/units/index.ts';
import { buttonClass, Loading, ProblemNote } from '../../controls/index.tsx';
import { SmallProfile } from '../../drawing/DiveProfile.tsx';
import { useJobs } from '../../state/jobs.ts';
import { useNow } from '../../state/useNow.ts';
import { Find } from '../counter/Find.tsx';

const GROUPS: { title: string; states: JobSummary['state'][]; empty: string }[] = [
  { title: 'Under way', states: ['running', 'exploring'], empty: 'No dive is under way.' },
  { title: 'Waiting to be opened', states: ['ready', 'unplanned'], empty: 'Nothing is waiting.' },
  { title: 'Not to be opened', states: ['stopped'], empty: '' },
  { title: 'Cannot be read', states: ['unreadable'], empty: '' },
  { title: 'Being read', states: ['reading'], empty: '' },
  { title: 'Ready to collect', states: ['signed'], empty: '' },
  { title: 'Handed over', states: ['collected'], empty: '' },
];

export default function Jobs() {
  const { jobs: data, problem } = useJobs();
  const list = useRef<HTMLDivElement>(null);
  const there = data !== null;
  // Whoever comes with the keyboard stands at the first job, and needs no way through the head of the page.
  useEffect(() => {
    if (there && document.activeElement === document.body) list.current?.querySelector('a')?.focus();
  }, [there]);
  const now = useNow(
    (data ?? []).some((j) => j.waitsUntil !== null),
    1000,
  );
  if (!data) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the jobs" />;
  return (
    <div className="mx-auto max-w-6xl">
      <div className="mb-5 flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-3xl font-bold">On the bench</h1>
        <Link to="/intake" className={buttonClass('main', 'text-lg')}>
          <Plus aria-hidden="true" />
          Take in a device
        </Link>
      </div>
      <div className="mb-5">
        <Find />
      </div>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {data.length === 0 && (
        <p className="panel p-8 text-lg text-quiet">
          No jobs yet. Take in the first device: choose its anatomy and the parts to replace, and its dive is computed.
        </p>
      )}
      <div ref={list}>
        {GROUPS.map(({ title, states, empty }) => {
          const jobs = data.filter((j) => states.includes(j.state));
          if (jobs.length === 0 && (empty === '' || data.length === 0)) return null;
          return (
            <section key={title} className="mb-7" aria-label={title}>
              <h2 className="mb-2 text-lg font-semibold text-quiet">{title}</h2>
              {jobs.length === 0 ? (
                <p className="text-quiet">{empty}</p>
              ) : (
                <ul className="grid gap-2">
                  {jobs.map((job) => (
                    <JobLine key={job.id} job={job} now={now} />
                  ))}
                </ul>
              )}
            </section>
          );
        })}
      </div>
    </div>
  );
}

/** Where a job is gone on with, where that is not its own screen. */
const SCREENS: Partial<Record<JobSummary['state'], string>> = {
  running: '/run',
  exploring: '/explore',
  signed: '/record',
  collected: '/record',
};

/** What stands in the place of the parts, where there are none. */
const EMPTY_WORDS: Partial<Record<JobSummary['state'], string>> = {
  stopped: 'Stays closed',
  unreadable: 'Cannot be read',
  reading: 'Being read',
};

function JobLine({ job, now }: { job: JobSummary; now: number }) {
  const left = job.waitsUntil ? (Date.parse(job.waitsUntil) - now) / 1000 : 0;
  const to = `/jobs/${job.id}${SCREENS[job.state] ?? ''}`;
  return (
    <li>
      <Link
        to={to}
        className={
          'panel grid grid-cols-[3.5rem_1fr_auto] items-center gap-x-5 gap-y-1 px-5 py-3 text-ink no-underline ' +
          'hover:brightness-[1.02] sm:gap-x-4 sm:grid-cols-[3rem_minmax(0,1.3fr)_minmax(0,1.4fr)_7.5rem_7rem] ' +
          'lg:gap-x-5 lg:grid-cols-[3.5rem_minmax(0,1.3fr)_minmax(0,1.5fr)_7.5rem_11rem]'
        }
      >
        <span className="num text-quiet">{job.number}</span>
        <span className="col-span-2 min-w-0 sm:col-span-1">
          <span className="line-clamp-2 text-lg leading-snug font-semibold">
            {(job.replace.join(', ') || EMPTY_WORDS[job.state]) ?? 'Nothing planned'}
          </span>
          <span className="block truncate text-sm text-quiet">{job.device}</span>
        </span>
        <span className="col-span-2 col-start-2 min-w-0 sm:col-span-1 sm:col-start-auto">
          <span className="line-clamp-2 leading-snug">{job.complaint}</span>
          <span className="block truncate text-sm text-quiet">
            {job.customer}, {formatDistanceToNowStrict(new Date(job.createdAt), { addSuffix: true })}
          </span>
        </span>
        <SmallProfile
          depths={job.profile}
          done={job.state === 'signed' || (job.state === 'collected' && job.done > 0) ? job.steps : job.done}
          className="col-start-2 h-10 w-30 sm:col-start-auto"
        />
        <span className="text-right">
          <State job={job} left={left} />
        </span>
      </Link>
    </li>
  );
}

function State({ job, left }: { job: JobSummary; left: number }) {
  if (job.state === 'stopped')
    return (
      <span className="font-semibold text-crimson">
        <OctagonX className="mr-1 inline" size={18} aria-hidden="true" />
        stopped at intake
      </span>
    );
  if (job.state === 'unreadable') {
    return <span className="font-semibold text-crimson">stored, but cannot be read</span>;
  }
  if (job.state === 'reading') return <span className="text-quiet">its line comes in a moment</span>;
  if (job.parkedAt)
    return (
      <span className="block font-semibold text-ember">
        parked
        <span className="block truncate text-sm font-normal">{job.parkedAt}</span>
      </span>
    );
  if (job.state === 'collected') return <span className="font-semibold text-moss">✓ handed over</span>;
  if (job.state === 'signed') return <span className="font-semibold">✓ signed, to be collected</span>;
  if (job.state === 'unplanned') return <span className="text-quiet">no plan yet</span>;
  if (job.state === 'ready')
    return (
      <span className="text-quiet">
        <span className="num">{job.steps}</span> steps
      </span>
    );
  return (
    <>
      <span className="block font-semibold">
        {job.state === 'exploring' ? (
          <>
            <span className="num">{job.done}</span> {job.done === 1 ? 'act' : 'acts'}, no drawing
          </>
        ) : (
          <>
            step <span className="num">{job.step ?? job.steps}</span> of <span className="num">{job.steps}</span>
          </>
        )}
      </span>
      <span className={`block text-sm ${left > 0 ? 'font-semibold text-ember' : 'text-quiet'}`}>
        {left > 0 ? (
          <>
            waits <span className="num">{clock(left)}</span>
          </>
        ) : job.live ? (
          '⚡ live'
        ) : (
          '◇ isolated'
        )}
      </span>
    </>
  );
}
