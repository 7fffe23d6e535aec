import type { Emergency as Kind } from '../../core/cells/index.ts';
import { Button } from '../controls/index.tsx';
import { useRun } from '../state/run.ts';

/** On the screen of a job it can be recorded there, once everybody is safe. */
export default function EmergencyRecord({ kind }: { kind: Kind }) {
  const job = useRun((s) => s.job);
  const state = useRun((s) => s.state);
  const record = useRun((s) => s.record);
  if (!job || !state) return null;
  const last = state.care.incidents.findLast((i) => i.kind === kind);
  if (last)
    return (
      <span role="status" className="flex min-h-14 items-center font-semibold text-moss">
        ✓ Recorded on job {job.number}
      </span>
    );
  return (
    <Button className="min-h-14 text-lg" onClick={() => record([{ type: 'incident', kind, note: '' }])}>
      Record it on job {job.number}, afterwards
    </Button>
  );
}
