import { Printer, Tag } from 'lucide-react';
import { buttonClass } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import { BenchSupply } from './BenchSupply.tsx';
import { CameIn } from './CameIn.tsx';
import { Collect } from './Collect.tsx';
import { DonorsForDive } from './DonorsForDive.tsx';
import { Panel } from './Panel.tsx';
import { Parking } from './Parking.tsx';
import { Who } from './Who.tsx';

/** Everything of a job that happens at the counter: who it is, where it lies, what goes in, who takes it home. */
export default function JobCounter() {
  const { job, context, state } = useRunOf('job', 'context', 'state');
  if (!job || !context || !state) return null;
  return (
    <div className="grid gap-4 lg:grid-cols-2">
      <div className="grid content-start gap-4">
        <Who state={state} model={context.model} />
        <CameIn state={state} model={context.model} />
        <BenchSupply state={state} job={job.id} />
      </div>
      <div className="grid content-start gap-4">
        {state.version > 0 && <DonorsForDive state={state} model={context.model} />}
        <Parking state={state} />
        <Labels job={job.id} />
        <Collect state={state} />
      </div>
    </div>
  );
}

function Labels({ job }: { job: string }) {
  return (
    <Panel id="labels" title="Labels">
      <div className="flex flex-wrap gap-2">
        <a className={buttonClass()} href={`/api/jobs/${job}/label.pdf?kind=bag`} target="_blank" rel="noreferrer">
          <Tag size={18} aria-hidden="true" />
          For the bag on the shelf
        </a>
        <a className={buttonClass()} href={`/api/jobs/${job}/label.pdf?kind=parts`} target="_blank" rel="noreferrer">
          <Printer size={18} aria-hidden="true" />
          For the box of old parts
        </a>
      </div>
      <p className="text-sm text-quiet">They name the job, never the customer.</p>
    </Panel>
  );
}
