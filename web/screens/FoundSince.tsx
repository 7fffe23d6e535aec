import { functionIn } from '../../core/anatomy/index.ts';
import { useState } from 'react';
import { foundSince } from '../../core/run/index.ts';
import { Button, ProblemNote } from '../controls/index.tsx';
import { messageOf } from '../state/api.ts';
import { planAnew } from '../state/planAnew.ts';
import { useRunOf } from '../state/run.ts';

/** What was found to work after the plan was made belongs on its list, with its time, before the dive begins. */
export function FoundSince() {
  const { job, state, context } = useRunOf('job', 'state', 'context');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const found = state ? foundSince(state) : [];
  if (!job?.plan || !context || found.length === 0) return null;
  const again = async () => {
    setBusy(true);
    setProblem(null);
    try {
      await planAnew({});
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <section aria-label="Found to work since" className="mb-4 grid gap-3 border-l-8 border-ember bg-panel px-4 py-3">
      <p>
        <b>{found.map((id) => functionIn(context.model.anatomy, id).name).join(', ')}</b>: found to work at the counter
        after this dive was planned. What worked is proved at the end; planned anew, the list and its time hold that
        too.
      </p>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <p>
        <Button disabled={busy} onClick={() => void again()}>
          {busy ? 'Planning…' : 'Plan anew'}
        </Button>
      </p>
    </section>
  );
}
