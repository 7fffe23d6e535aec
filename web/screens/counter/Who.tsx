import { Eye } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Model } from '../../../core/anatomy/index.ts';
import { groupedImei } from '../../../core/counter/index.ts';
import type { JobFile } from '../../../core/jobs/index.ts';
import type { RunState } from '../../../core/run/index.ts';
import { Button, ProblemNote } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useRunOf } from '../../state/run.ts';
import { Register } from '../intake/Identity.tsx';
import { Panel } from './Panel.tsx';

/** Its numbers, what a register says, the job before it, the code that unlocks it. */
export function Who({ state, model }: { state: RunState; model: Model }) {
  const { job, adopt } = useRunOf('job', 'adopt');
  const { identity, register } = state.counter;
  const [problem, setProblem] = useState<string | null>(null);
  const [code, setCode] = useState<string | null>(null);
  const ask = async () => {
    try {
      await api(`/jobs/${job!.id}/register`, { json: {} });
      adopt(await api<JobFile>(`/jobs/${job!.id}`));
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const show = async () => {
    const { code: kept } = await api<{ code: string | null }>(`/jobs/${job!.id}/unlock`);
    setCode(kept ?? 'none is kept');
  };
  return (
    <Panel id="who" title={`${model.anatomy.maker} ${model.anatomy.name}`.trim()}>
      <dl className="grid grid-cols-[8rem_minmax(0,1fr)] gap-y-1">
        <dt className="text-quiet">Customer</dt>
        <dd>{job!.customer}</dd>
        {identity?.imei.map((number, i) => (
          <div key={number} className="contents">
            <dt className="text-quiet">IMEI{identity.imei.length > 1 ? `, card ${i + 1}` : ''}</dt>
            <dd className="num">{groupedImei(number)}</dd>
          </div>
        ))}
        {identity?.serial && (
          <>
            <dt className="text-quiet">Serial number</dt>
            <dd className="num">{identity.serial}</dd>
          </>
        )}
        {(!identity || identity.how === 'unreadable') && (
          <>
            <dt className="text-quiet">Identity</dt>
            <dd>{identity ? 'none can be read' : 'not taken down'}</dd>
          </>
        )}
      </dl>
      {job!.earlier && (
        <p className="border-l-8 border-sand pl-4">
          It came back: <Link to={`/jobs/${job!.earlier}`}>the job before it</Link>.
        </p>
      )}
      {register && <Register report={register} />}
      <div className="flex flex-wrap gap-2">
        {identity && identity.how !== 'unreadable' && (
          <Button onClick={() => void ask()}>{register ? 'Ask the register again' : 'Ask the register'}</Button>
        )}
        {!state.counter.collected && (
          <Button onClick={() => void show()}>
            <Eye size={18} aria-hidden="true" />
            Unlock code
          </Button>
        )}
        {code !== null && <output className="num self-center text-xl font-semibold">{code}</output>}
      </div>
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </Panel>
  );
}
