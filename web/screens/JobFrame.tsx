import { OctagonX } from 'lucide-react';
import { useEffect } from 'react';
import { Link, NavLink, Outlet, useLocation, useParams } from 'react-router';
import { STOPS } from '../../core/jobs/index.ts';
import { buttonClass, Loading, ProblemNote } from '../controls/index.tsx';
import { prepareGeometry } from '../drawing/geometry.ts';
import { useRun, useRunOf } from '../state/run.ts';
import { DeleteJob } from './DeleteJob.tsx';
import { FoundSince } from './FoundSince.tsx';
import { JobNotes } from './JobNotes.tsx';
import { spoken } from '../../words/index.ts';

const tab = ({ isActive }: { isActive: boolean }) =>
  `flex min-h-12 items-center border-b-4 px-3 font-semibold no-underline ` +
  `${isActive ? 'border-petrol text-ink' : 'border-transparent text-quiet hover:text-ink'}`;

/** Loads one job and keeps it live for the screens within. */
export default function JobFrame() {
  const id = useParams().job!;
  const { job, contact, anatomy, context, latest, problem, load, leave } = useRunOf(
    'job',
    'contact',
    'anatomy',
    'context',
    'latest',
    'problem',
    'load',
    'leave',
  );
  const over = useRun((s) => s.state?.counter.collected != null);
  const { pathname } = useLocation();
  const running = ['/run', '/explore', '/customer'].some((end) => pathname.endsWith(end));
  useEffect(() => {
    void load(id);
    return leave;
  }, [id, load, leave]);
  // While the plan is read, what its run will ask of the geometry is looked up.
  const model = context?.model;
  useEffect(() => (model ? prepareGeometry(model) : undefined), [model]);
  if (!job || job.id !== id || !anatomy || !context)
    return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the job" />;
  if (job.triage.length > 0) return <Stopped />;
  if (running) return <Outlet />;
  return (
    <div className="mx-auto max-w-7xl">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
        <div>
          <h1 className="text-3xl font-bold">
            {job.plan
              ? job.plan.replace.map((p) => context.model.nameOf(p)).join(', ') || 'Back together'
              : job.device
                ? job.device.wanted || 'Field dive'
                : 'No dive yet'}
          </h1>
          <p className="text-quiet">
            <span className="num">{job.number}</span> · {anatomy.maker} {anatomy.name} · {job.customer}
            {contact && (
              <>
                {' · '}
                <Reach contact={contact} />
              </>
            )}
            {job.complaint && ` · ${job.complaint}`}
          </p>
          {job.revision !== null && latest !== null && latest > job.revision && (
            <p className="text-ember">
              Planned on revision {job.revision} of its anatomy; there is revision {latest} by now.
            </p>
          )}
        </div>
        {(job.plan || job.device) && (
          <nav aria-label="Job" className="flex flex-wrap">
            {[
              ...(job.plan ? (over ? AFTERWARDS : SCREENS) : EXPLORING),
              ...(job.plan && job.device ? [LEARNT] : []),
            ].map(([path, word]) => (
              <NavLink key={word} to={`/jobs/${id}${path}`} end={path === ''} className={tab}>
                {word}
              </NavLink>
            ))}
          </nav>
        )}
      </div>
      <Parked />
      <Collected />
      <FoundSince />
      {job.plan || pathname.endsWith('/learnt') || pathname.endsWith('/counter') ? <Outlet /> : <NoDive />}
      <DeleteJob job={job.id} number={job.number} />
    </div>
  );
}

/** How the customer is reached: a telephone number is dialled from here. */
function Reach({ contact }: { contact: string }) {
  const digits = contact.replace(/[^\d+]/g, '');
  return digits.length >= 5 && /^[\d+()\s./-]+$/.test(contact.trim()) ? (
    <a className="num" href={`tel:${digits}`}>
      {contact}
    </a>
  ) : (
    <span>{contact}</span>
  );
}

/** A device that was taken home: nothing is left to do. */
function Collected() {
  const collected = useRun((s) => s.state?.counter.collected ?? null);
  if (!collected) return null;
  return (
    <p role="status" className="mb-4 border-l-8 border-moss bg-panel px-4 py-2">
      ✓ Handed over to <b>{collected.name}</b>.
    </p>
  );
}

/** A job that waits says so on all its screens. */
function Parked() {
  const state = useRun((s) => s.state);
  const job = useRun((s) => s.job);
  const parked = state?.counter.parked;
  if (!parked) return null;
  return (
    <p role="status" className="mb-4 border-l-8 border-ember bg-panel px-4 py-2">
      Parked at <b>{parked.where}</b>: {spoken.parked[parked.why]}.{' '}
      <Link to={`/jobs/${job!.id}/counter`}>Take it up again</Link>
    </p>
  );
}

/** Of a device that was collected: what was planned, told and done. */
const AFTERWARDS: [path: string, word: string][] = [
  ['/record', 'Record'],
  ['', 'Plan'],
  ['/counter', 'Counter'],
];

const SCREENS: [path: string, word: string][] = [
  ['', 'Plan'],
  ['/counter', 'Counter'],
  ['/quote', 'Quote'],
  ['/compare', 'What if'],
  ['/opening', 'Opening'],
  ['/run', 'Run'],
  ['/spill', 'Spilt tray'],
  ['/closing', 'Closing'],
  ['/cell', 'Cell'],
  ['/prove', 'Prove'],
  ['/record', 'Record'],
];

const LEARNT: [path: string, word: string] = ['/learnt', 'What was learnt'];
/** A device that nobody has drawn is opened with acts. */
const EXPLORING: [path: string, word: string][] = [
  ['', 'Job'],
  ['/counter', 'Counter'],
  ['/explore', 'Explore'],
  LEARNT,
];

/** A device that nobody has drawn, or for which nothing was chosen: what can be recorded all the same. */
function NoDive() {
  const job = useRun((s) => s.job)!;
  return (
    <div className="grid max-w-4xl gap-4">
      {job.device ? (
        <div className="panel grid gap-3 p-5">
          <p className="text-lg">
            Nobody has drawn this device yet. Open it with acts: tap what you do on the photograph, and the anatomy, the
            counts and the way back are kept for you.
          </p>
          <p>
            <Link className={buttonClass('main', 'text-lg')} to={`/jobs/${job.id}/explore`}>
              Open it
            </Link>
          </p>
        </div>
      ) : (
        <p className="panel p-5 text-lg">Nothing was chosen to be replaced on this job.</p>
      )}
      <JobNotes />
    </div>
  );
}

function Stopped() {
  const job = useRun((s) => s.job)!;
  return (
    <div className="mx-auto max-w-3xl">
      <h1 className="mb-2 text-3xl font-bold text-crimson">
        <OctagonX className="mr-3 inline size-9" aria-hidden="true" />
        Do not open this device
      </h1>
      <p className="mb-5 text-lg">
        Job <span className="num">{job.number}</span>, {job.customer}. It was stopped at intake, and has no dive.
      </p>
      <ul className="grid gap-3">
        {job.triage.map((finding) => (
          <li key={finding} className="panel border-l-8 border-crimson p-5">
            <p className="mb-1 text-sm text-quiet">{STOPS[finding].question} Yes.</p>
            <p className="text-xl">{STOPS[finding].advice}</p>
          </li>
        ))}
      </ul>
      <p className="mt-5 mb-5 text-quiet">Local fire and waste rules come first; licensed disposal takes the cell.</p>
      <JobNotes />
      <DeleteJob job={job.id} number={job.number} />
    </div>
  );
}
