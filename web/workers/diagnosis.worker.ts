import { expose } from 'comlink';
import { type Anatomy, modelOf } from '../../core/anatomy/index.ts';
import { diagnose, type Diagnosis, type Rates } from '../../core/diagnosis/index.ts';
import { accessOf, type Plan } from '../../core/dive/index.ts';
import { recordOf } from '../../core/proof/index.ts';
import { foldRun, runContext, type RunEvent } from '../../core/run/index.ts';

/** Who may have done it, worked out beside the interface from what the job was taken in with and what happened since. */
const diagnosis = {
  diagnose(anatomy: Anatomy, plan: Plan | null, events: RunEvent[], rates: Rates): Diagnosis {
    const state = foldRun(runContext(modelOf(anatomy), plan), events);
    const { model, plan: now } = state.context;
    return diagnose(model, now, recordOf(state), accessOf(model, now), rates);
  },
};

export type Diagnosing = typeof diagnosis;
expose(diagnosis);
