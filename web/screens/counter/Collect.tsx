import { useState } from 'react';
import { signatureFault, type Stroke } from '../../../core/counter/index.ts';
import type { JobFile } from '../../../core/jobs/index.ts';
import type { RunState } from '../../../core/run/index.ts';
import { Button, ProblemNote } from '../../controls/index.tsx';
import { Signature } from '../../controls/Signature.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useRunOf } from '../../state/run.ts';
import { technicianNow } from '../../state/shop.ts';
import { Panel } from './Panel.tsx';

/** Who takes it home. */
export function Collect({ state }: { state: RunState }) {
  const { job, adopt } = useRunOf('job', 'adopt');
  const [name, setName] = useState('');
  const [strokes, setStrokes] = useState<Stroke[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const { collected } = state.counter;
  if (collected)
    return (
      <Panel id="collected" title="Collected">
        <p className="text-lg font-semibold text-moss">
          ✓ By {collected.name}
          {collected.signature ? ', signed' : ''}
        </p>
        <p className="text-quiet">The code that unlocked it is erased.</p>
      </Panel>
    );
  if (state.startedAt !== null && !state.signedOff) return null;
  const take = async () => {
    try {
      const given = strokes.length > 0 ? strokes : null;
      const by = technicianNow() ?? undefined;
      adopt(await api<JobFile>(`/jobs/${job!.id}/collect`, { json: { name: name.trim(), strokes: given, by } }));
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const fault = strokes.length > 0 ? signatureFault(strokes) : null;
  return (
    <Panel id="collected" title={state.signedOff ? 'Collected by' : 'It goes back unopened'}>
      <label>
        <span className="label">Name of who collects it</span>
        <input
          className="field"
          value={name}
          maxLength={200}
          autoComplete="off"
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <Signature onChange={setStrokes} />
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <div className="flex flex-wrap items-center gap-3">
        <Button weight="main" disabled={name.trim() === '' || fault !== null} onClick={() => void take()}>
          Hand it over
        </Button>
        {fault && <span className="text-quiet">{fault}</span>}
      </div>
    </Panel>
  );
}
