import { proxy, wrap, type Remote } from 'comlink';
import type { Anatomy } from '../../core/anatomy/index.ts';
import type {
  Calibration,
  NoRecipe,
  Reading,
  Recipe,
  RecipeRequest,
  SourceKind,
  SourceSettings,
} from '../../core/heat/index.ts';
import type { CutRequest } from '../../core/opening/index.ts';
import type { Cut, Heating, HeatRequest, HeatWorker, Told } from './heat.worker.ts';
import type { Job } from './planner.ts';

function open(): { worker: Worker; heat: Remote<HeatWorker>; failed: Promise<never> } {
  const worker = new Worker(new URL('./heat.worker.ts', import.meta.url), { type: 'module' });
  const failed = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('the solver stumbled; load the page again'));
  });
  failed.catch(() => {});
  return { worker, heat: wrap<HeatWorker>(worker), failed };
}

/** @param onProgress is not told anything any more once the work is done or stopped */
function start<T>(
  work: (heat: Remote<HeatWorker>, onProgress: (share: number) => void) => Promise<T>,
  onProgress: (share: number) => void = () => {},
): Job<T> {
  const { worker, heat, failed } = open();
  let over = false;
  const stop = () => {
    over = true;
    worker.terminate();
  };
  const told = (share: number) => {
    if (!over) onProgress(share);
  };
  return { result: Promise.race([work(heat, proxy(told)), failed]).finally(stop), cancel: stop };
}

export function heatingInWorker(
  anatomy: Anatomy,
  request: HeatRequest,
  onProgress: (share: number) => void,
): Job<Told<Heating>> {
  return start<Told<Heating>>(async (heat, told) => heat.heating(anatomy, request, told), onProgress);
}

export function recipeInWorker(
  anatomy: Anatomy,
  bond: string,
  request: RecipeRequest,
  onProgress: (share: number) => void,
): Job<Told<{ recipe: Recipe | NoRecipe; others: Recipe[] }>> {
  return start<Told<{ recipe: Recipe | NoRecipe; others: Recipe[] }>>(
    async (heat, told) => heat.recipe(anatomy, bond, request, told),
    onProgress,
  );
}

export function calibrationInWorker(
  readings: readonly Reading[],
  plate: string,
  source: SourceKind,
  own: SourceSettings,
  room: number,
  lag: number,
): Job<Told<Calibration>> {
  return start<Told<Calibration>>(async (heat) => heat.calibrate(readings, plate, source, own, room, lag));
}

export function cutInWorker(anatomy: Anatomy, bond: string, request: Required<CutRequest>): Job<Told<Cut>> {
  return start<Told<Cut>>(async (heat) => heat.cut(anatomy, bond, request));
}

/** A solver that stays at hand while one device is on the heat. */
export function follower(): { heat: Remote<HeatWorker>; close: () => void } {
  const { worker, heat } = open();
  return { heat, close: () => worker.terminate() };
}
