import { useEffect, useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import type { DiveRequest, HouseRules, Plan } from '../../../core/dive/index.ts';
import { Measure } from '../../controls/index.tsx';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { ApiError, messageOf } from '../../state/api.ts';
import { Times } from '../plan/Times.tsx';
import { planInWorker } from '../../workers/planner.ts';
import { tell } from '../../../words/index.ts';

/** The dive as it would be, planned beside the interface and anew whenever what is asked changes. */
export function usePreview(
  model: Model | null,
  request: DiveRequest,
  rules: HouseRules | null,
  setProblem: (problem: ApiError | null) => void,
): { preview: Plan | null; planning: boolean } {
  const [preview, setPreview] = useState<Plan | null>(null);
  const [planning, setPlanning] = useState(false);
  const wanted = JSON.stringify(request);
  // biome-ignore lint/correctness/useExhaustiveDependencies: `wanted` stands for the request
  useEffect(() => {
    if (request.replace.length === 0) {
      setPreview(null);
      return;
    }
    if (!model || !rules) return;
    setPlanning(true);
    const work = planInWorker(model.anatomy, request, rules);
    work.result.then(
      (made) => {
        setPlanning(false);
        setPreview('plan' in made ? made.plan : null);
        setProblem('plan' in made ? null : new ApiError(422, { error: tell(model, made.refused) }));
      },
      (error) => {
        setPlanning(false);
        setPreview(null);
        setProblem(new ApiError(0, { error: messageOf(error) }));
      },
    );
    return work.cancel;
  }, [wanted, model, rules]);
  return { preview, planning };
}

/** What the dive comes to, at a glance. */
export function Preview({ plan }: { plan: Plan }) {
  return (
    <div>
      <DiveProfile plan={plan} height={150} className="w-full" />
      <div className="mt-1 flex flex-wrap gap-x-8 gap-y-2">
        <Times plan={plan} />
        <Measure value={plan.totals.screws} label="screws" />
        <Measure value={plan.losses.length} label={plan.losses.length === 1 ? 'loss to agree' : 'losses to agree'} />
      </div>
    </div>
  );
}
