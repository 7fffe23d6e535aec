import { useState } from 'react';
import type { JobFile } from '../../../core/jobs/index.ts';
import { Button } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useRunOf } from '../../state/run.ts';
import { technicianNow } from '../../state/shop.ts';
import type { Field } from './useField.ts';
import { calledThing } from './ways.ts';
import { useGo } from '../../state/here.ts';

/** From any depth: the way back, with the new part or with the old one. */
export function TurnPanel({ job, field, close }: { job: string; field: Field; close: () => void }) {
  const leave = useGo();
  const { adopt } = useRunOf('adopt');
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const target = [...field.open.things.values()].find(
    (t) => t.type === 'part' && t.seen.target && t.stands === 'undone',
  );
  const turn = async (renew: boolean) => {
    const go = leave();
    setBusy(true);
    setProblem(null);
    try {
      const by = technicianNow();
      adopt(await api<JobFile>(`/field/${job}/turn`, { json: { renew, ...(by ? { by } : {}) } }));
      go(`/jobs/${job}/run`);
    } catch (error) {
      setProblem(messageOf(error));
      setBusy(false);
    }
  };
  return (
    <section aria-label="Turn round" className="panel grid gap-2 p-3">
      <h2 className="text-xl font-bold">Turn round here</h2>
      <p>
        The way back keeps the reverse of what you did, except where it is known that two things do not wait for each
        other. Gates, new tape, counts and tests are in it.
      </p>
      <Button weight="main" disabled={!target || busy} onClick={() => void turn(true)}>
        New {target ? calledThing(target) : 'part'} goes in
      </Button>
      {!target && <p className="text-sm text-quiet">Say of a part that is off that it is to be replaced, or:</p>}
      <Button disabled={busy} onClick={() => void turn(false)}>
        Everything back as it was
      </Button>
      <Button weight="quiet" onClick={close}>
        Go on opening
      </Button>
      {problem && (
        <p role="alert" className="text-crimson">
          {problem}
        </p>
      )}
    </section>
  );
}
