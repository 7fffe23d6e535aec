import type { Fastener, Model } from '../anatomy/index.ts';
import type { Plan } from '../dive/index.ts';

/** Columns of the shop's tray. Origin: own choice, a common size of small compartment box; rows follow as needed. */
const TRAY_COLUMNS = 6;

/** Well of every screw that comes out on a dive, labelled by row letter and column, `A1` first. */
export type Wells = ReadonlyMap<string, string>;

/** Screws of one class are interchangeable: same drive, length, thread and head. */
export function screwClass(f: Pick<Fastener, 'drive' | 'length' | 'thread' | 'head' | 'kind'>): string {
  return `${f.kind} ${f.drive} ${f.thread}×${f.length} head ${f.head}`;
}

function label(index: number): string {
  return `${String.fromCharCode(65 + Math.floor(index / TRAY_COLUMNS))}${(index % TRAY_COLUMNS) + 1}`;
}

/** One well for each class of each unscrewing step, in the order in which they come out. Captive screws stay in their part. */
export function wellsOf(model: Model, plan: Plan): Wells {
  const wells = new Map<string, string>();
  let next = 0;
  for (const step of plan.steps) {
    if (step.phase === 'ascent') continue;
    const ofStep = new Map<string, string>();
    for (const id of step.items) {
      const fastener = model.fasteners.get(id);
      if (!fastener || fastener.kind === 'captive' || wells.has(id)) continue;
      const cls = screwClass(fastener);
      if (!ofStep.has(cls)) ofStep.set(cls, label(next++));
      wells.set(id, ofStep.get(cls)!);
    }
  }
  return wells;
}
