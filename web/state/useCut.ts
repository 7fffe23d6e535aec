import { useEffect, useState } from 'react';
import type { Model } from '../../core/anatomy/index.ts';
import type { CutRequest } from '../../core/opening/index.ts';
import { cutInWorker } from '../workers/heat.ts';
import type { Cut } from '../workers/heat.worker.ts';
import { messageOf } from './api.ts';

const NONE = { cut: null, problem: null };

/** The cut of a bond, computed beside the interface; the last one of this bond of this device stays until the next is there. */
export function useCut(
  model: Model | null,
  bond: string | null,
  { marks, margin, firstGap, crackedGlass }: Required<CutRequest>,
): { cut: Cut | null; problem: string | null } {
  const [found, setFound] = useState<{ model: Model; bond: string; cut: Cut | null; problem: string | null } | null>(
    null,
  );
  useEffect(() => {
    if (!model || bond === null) return;
    const job = cutInWorker(model.anatomy, bond, { marks, margin, firstGap, crackedGlass });
    job.result.then(
      (told) =>
        setFound(
          'ok' in told
            ? { model, bond, cut: told.ok, problem: null }
            : { model, bond, cut: null, problem: told.refused },
        ),
      (error) => setFound({ model, bond, cut: null, problem: messageOf(error) }),
    );
    return job.cancel;
  }, [model, bond, marks, margin, firstGap, crackedGlass]);
  return found && found.model === model && found.bond === bond ? found : NONE;
}
