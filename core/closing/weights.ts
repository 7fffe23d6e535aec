import { evenPressure, GLASS } from './plates.ts';
import { MOST_GIVEN, type PressCheck } from './pressPlan.ts';

/** kg that loads are told apart by when weights are chosen. Origin: own choice; kitchen scales are no finer. */
const STEP = 0.01;
/** Heavier than any stack on a bench, kg: more is not looked for. Origin: own choice. */
const HEAVIEST = 2000;

/**
 * The weights of the shop that come to a load and pass it least, of these the fewest; all of them where they do not
 * suffice. A subset sum over steps of 10 g, so that its time grows with the load and the number of weights, no faster.
 * @param kilograms kg
 */
export function weightsFor(kilograms: number, weights: readonly number[]): number[] {
  const sorted = weights.toSorted((a, b) => b - a);
  const steps = sorted.map((w) => Math.floor(w / STEP + 1e-9));
  const wanted = Math.ceil(Math.min(kilograms, HEAVIEST) / STEP - 1e-9);
  const all = steps.reduce((s, w) => s + w, 0);
  if (wanted <= 0) return [];
  if (all < wanted) return sorted;
  // A least set passes the load by less than its lightest weight, so no sum needs to be known beyond the heaviest.
  const top = Math.min(all, wanted + steps[0]!);
  const fewest = new Uint16Array(top + 1).fill(0xffff);
  fewest[0] = 0;
  const takes = steps.map((w) => {
    const taken = new Uint8Array(top + 1);
    for (let sum = top; sum >= w && w > 0; sum--)
      if (fewest[sum - w]! + 1 < fewest[sum]!) {
        fewest[sum] = fewest[sum - w]! + 1;
        taken[sum] = 1;
      }
    return taken;
  });
  let sum = wanted;
  while (fewest[sum] === 0xffff) sum++;
  const chosen: number[] = [];
  for (let k = steps.length - 1; k >= 0; k--)
    if (takes[k]![sum] === 1) {
      chosen.unshift(sorted[k]!);
      sum -= steps[k]!;
    }
  return chosen;
}

/**
 * A weight on a panel of glass. On a frame of foam all of it goes into the bond; flat, the panel bends until it touches what
 * lies beneath it, and what is more rests on that. Up to there a plate is a linear one, for it bends by less than half its
 * thickness (Timoshenko, Theory of Plates and Shells, from memory).
 */
export function weightChecks(
  newtons: number,
  sides: readonly [number, number],
  thickness: number,
  foamFrame: boolean,
): PressCheck[] {
  const bent = evenPressure(newtons / Math.max(1, sides[0] * sides[1]), sides, thickness, GLASS.modulus);
  const share = Math.min(1, MOST_GIVEN / Math.max(1e-9, bent.deflection));
  if (foamFrame)
    return [
      {
        what: { code: 'check-on-frame' },
        value: 0,
        limit: GLASS.stress,
        unit: 'MPa',
        holds: true,
        because:
          share < 1
            ? { code: 'frame-leads-touching', percent: Math.round(share * 100) }
            : { code: 'frame-leads-stress', stress: bent.stress },
      },
    ];
  return [
    {
      what: { code: 'check-flat' },
      value: bent.stress * share,
      limit: GLASS.stress,
      unit: 'MPa',
      holds: bent.stress * share <= GLASS.stress,
      because: { code: share < 1 ? 'bent-until-rests' : 'bent-at-middle' },
    },
    {
      what: { code: 'check-bears' },
      value: newtons,
      limit: newtons * share,
      unit: 'N',
      holds: share >= 1,
      because: { code: 'rests-beyond', given: MOST_GIVEN },
    },
  ];
}
