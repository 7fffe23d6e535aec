import { useEffect, useMemo, useState } from 'react';
import { failedNow, type Diagnosis, type Rates } from '../../../core/diagnosis/index.ts';
import { recordOf } from '../../../core/proof/index.ts';
import type { RunState } from '../../../core/run/index.ts';
import { messageOf } from '../../state/api.ts';
import { useRunOf } from '../../state/run.ts';
import { useLoad } from '../../state/useLoad.ts';
import { diagnoseInWorker } from '../../workers/diagnosis.ts';

/** Ranks what may be behind the tests that fail; `null` while nothing fails, or it is being worked out. */
export function useDiagnosis(state: RunState | null): {
  found: Diagnosis | null;
  working: boolean;
  problem: string | null;
} {
  const { events, pending, origin } = useRunOf('events', 'pending', 'origin');
  const { data: lessons } = useLoad<{ jobs: number; rates: Rates }>('/counter/lessons');
  const [found, setFound] = useState<Diagnosis | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [working, setWorking] = useState(false);
  const fails = useMemo(() => (state ? failedNow(recordOf(state).tests).length > 0 : false), [state]);
  useEffect(() => {
    if (!fails || !origin) {
      setFound(null);
      return;
    }
    setWorking(true);
    const plan = origin.version > 0 ? origin.plan : null;
    const work = diagnoseInWorker(origin.model.anatomy, plan, [...events, ...pending], lessons?.rates ?? {});
    work.result.then(
      (diagnosis) => {
        setFound(diagnosis);
        setWorking(false);
        setProblem(null);
      },
      (error) => {
        setWorking(false);
        setProblem(messageOf(error));
      },
    );
    return work.cancel;
  }, [fails, origin, events, pending, lessons]);
  return { found, working, problem };
}
