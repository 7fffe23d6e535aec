import { useState } from 'react';
import { Button, ProblemNote } from '../controls/index.tsx';
import { api, messageOf } from '../state/api.ts';
import { technicianNow, useShop } from '../state/shop.ts';
import { useGo } from '../state/here.ts';

/** A lead can delete a job, with a reason that stays. */
export function DeleteJob({ job, number }: { job: string; number: number }) {
  const lead = useShop((s) => s.shop?.lead ?? false);
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const leave = useGo();
  if (!lead) return null;
  const remove = async () => {
    const go = leave();
    try {
      await api(`/jobs/${job}`, {
        method: 'DELETE',
        json: { reason: reason.trim(), by: technicianNow() ?? undefined },
      });
      go('/');
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <div className="mt-10 flex flex-wrap items-end gap-3 border-t border-line pt-4">
      {!asking ? (
        <Button weight="quiet" onClick={() => setAsking(true)}>
          Delete this job
        </Button>
      ) : (
        <>
          <label className="min-w-60 flex-1">
            <span className="label">Why job {number} is deleted, with all that was recorded on it</span>
            <input className="field" value={reason} maxLength={400} onChange={(e) => setReason(e.target.value)} />
          </label>
          <Button weight="danger" disabled={reason.trim().length < 3} onClick={() => void remove()}>
            Delete it for good
          </Button>
          <Button weight="quiet" onClick={() => setAsking(false)}>
            Keep it
          </Button>
          {reason.trim().length < 3 && <span className="text-quiet">A few words first.</span>}
        </>
      )}
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </div>
  );
}
