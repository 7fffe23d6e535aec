import type { Edge } from '../anatomy/index.ts';
import { ZONES, type Zone } from './limits.ts';
import type { HeatRun } from './simulate.ts';

/** A temperature that was passed. */
export interface Exceeded {
  zone: Zone;
  level: 'caution' | 'stop';
  /** Seconds from the beginning. */
  at: number;
  /** The highest temperature reached, °C. */
  peak: number;
}

/** What a run of temperatures means. Times in s from the beginning, `null` when it never happens. */
export interface HeatAnswers {
  softAt: number | null;
  edgeSoftAt: Partial<Record<Edge, number | null>>;
  /** How long the whole seam stayed workable once it was soft and the heat was gone; `null` when it was never soft. */
  staysSoft: number | null;
  /** True when it was still workable at the end of what was computed. */
  stillSoft: boolean;
  exceeded: Exceeded[];
  peaks: Partial<Record<Zone, number>>;
}

/**
 * @param softensAt °C
 * @param workableFrom the seam counts as cold again below this, °C
 * @param heatEnds when the heat was taken away, s
 */
export function answersOf(run: HeatRun, softensAt: number, workableFrom: number, heatEnds: number): HeatAnswers {
  const firstAt = (values: readonly number[], from: number): number | null => {
    const i = values.findIndex((v) => v >= from);
    if (i < 0) return null;
    if (i === 0) return run.times[0]!;
    const share = (from - values[i - 1]!) / (values[i]! - values[i - 1]!);
    return run.times[i - 1]! + share * (run.times[i]! - run.times[i - 1]!);
  };
  const softAt = firstAt(run.coldest, softensAt);
  let staysSoft: number | null = null;
  let stillSoft = false;
  if (softAt !== null) {
    const from = Math.max(softAt, heatEnds);
    const cold = run.times.findIndex((t, i) => t > from && run.coldest[i]! < workableFrom);
    stillSoft = cold < 0;
    staysSoft = Math.max(0, (cold < 0 ? run.times.at(-1)! : run.times[cold]!) - from);
  }
  const exceeded: Exceeded[] = [];
  const peaks: HeatAnswers['peaks'] = {};
  for (const zone of ZONES) {
    const values = run.zones[zone];
    if (!values) continue;
    const peak = values.reduce((a, b) => Math.max(a, b));
    peaks[zone] = peak;
    for (const level of ['caution', 'stop'] as const) {
      const at = firstAt(values, run.limits[zone][level]);
      if (at !== null) exceeded.push({ zone, level, at, peak });
    }
  }
  const edgeSoftAt: HeatAnswers['edgeSoftAt'] = {};
  for (const [edge, values] of Object.entries(run.edges) as [Edge, number[]][])
    edgeSoftAt[edge] = firstAt(values, softensAt);
  return { softAt, edgeSoftAt, staysSoft, stillSoft, exceeded: exceeded.sort((a, b) => a.at - b.at), peaks };
}
