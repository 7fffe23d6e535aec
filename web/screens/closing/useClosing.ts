import { useEffect, useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import type { CornerStyle } from '../../../core/closing/index.ts';
import type { HouseRules } from '../../../core/dive/index.ts';
import { messageOf } from '../../state/api.ts';
import { closingInWorker } from '../../workers/closing.ts';
import type { BondClosing } from '../../workers/closing.worker.ts';

/** How a bond of a device is closed; the last one of this bond stays until the next is there. */
export function useClosing(
  model: Model,
  bond: string | null,
  rules: HouseRules,
  corners: CornerStyle,
): { of: BondClosing | null; problem: string | null } {
  const [found, setFound] = useState<{ bond: string; of: BondClosing | null; problem: string | null } | null>(null);
  useEffect(() => {
    if (bond === null) return;
    const job = closingInWorker(model.anatomy, bond, rules, corners);
    job.result.then(
      (of) => setFound({ bond, of, problem: null }),
      (error) => setFound({ bond, of: null, problem: messageOf(error) }),
    );
    return job.cancel;
  }, [model, bond, rules, corners]);
  return found?.bond === bond ? found : { of: null, problem: null };
}
