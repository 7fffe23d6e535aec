import type { JobFile } from '../../core/jobs/index.ts';
import { lastChange } from '../../core/run/index.ts';
import { api } from './api.ts';
import { useRun } from './run.ts';

/** What is to be otherwise in a plan. `rules` names a set of house rules. */
export interface PlanChange {
  replace?: string[];
  spares?: string[];
  rules?: string;
}

/**
 * Plans the dive of the job that is open anew, before it has begun. What is left out stays as it was planned, the rules too.
 * @throws ApiError where it is refused, or was changed on another screen
 */
export async function planAnew(change: PlanChange): Promise<void> {
  const { job, context, events, adopt } = useRun.getState();
  if (!job || !context) return;
  const { replace, spares, transplant = [], condition } = context.plan;
  const { crackedGlass, charge, dark } = condition;
  const json = { replace, spares, transplant, crackedGlass, charge, dark, ...change };
  adopt(await api<JobFile>(`/jobs/${job.id}/plan`, { json, ifMatch: lastChange(events) }));
}
