import { setTimeout as pause } from 'node:timers/promises';
import type { StartKind, SupplySample } from '../../core/diagnosis/index.ts';

/** What a bench supply is to Nibrel: it feeds a device or loads a cell, and tells volts and amperes as they come. */
export interface BenchSupply {
  name: string;
  /** True for a stand-in; the screen says so. */
  simulated: boolean;
  /** Feeds the device in the place of its cell while it is switched on. @param shows what the stand-in is to show */
  start(shows: StartKind): AsyncIterable<SupplySample>;
  /** Loads a cell by steps of current; how its volts fall tells its resistance. */
  loadStep(amps: readonly number[], cell: { volts: number; ohms: number }): AsyncIterable<SupplySample>;
}

const VOLTS = 3.9;
/** Samples a second, and s that a start is watched. Origin: own choice; a start shows itself within some seconds. */
const RATE = 4;
const WATCHED = 8;

/** A as a device of that kind draws them, made up but of the size that phones draw. */
function drawn(shows: StartKind, seconds: number, random: () => number): number {
  const noise = 0.01 * (random() - 0.5);
  switch (shows) {
    case 'none':
      return Math.max(0, 0.002 + noise / 10);
    case 'short':
      return 2.4 + noise;
    case 'loops':
      return seconds % 2 < 1.2 ? 0.35 + 4 * noise : 0.02;
    case 'normal':
      return seconds < 0.5 ? 0.05 : 0.3 + 0.25 * Math.exp(-((seconds - 3) ** 2)) + 6 * noise;
    default:
      return shows satisfies never;
  }
}

/** A supply that stands in for one. Its terminals fall by its own resistance, and every value has some noise. */
export function simulatedBenchSupply(random: () => number = Math.random, pauseMs = 120): BenchSupply {
  return {
    name: 'Bench supply',
    simulated: true,
    async *start(shows) {
      for (let i = 0; i < WATCHED * RATE; i++) {
        const seconds = i / RATE;
        const amps = Math.max(0, Math.round(drawn(shows, seconds, random) * 1000) / 1000);
        yield { seconds, amps, volts: Math.round((VOLTS - 0.05 * amps) * 1000) / 1000 };
        await pause(pauseMs);
      }
    },
    async *loadStep(steps, cell) {
      for (const [i, amps] of steps.entries()) {
        const volts = cell.volts - amps * cell.ohms + 0.002 * (random() - 0.5);
        yield { seconds: i / RATE, amps, volts: Math.round(volts * 10_000) / 10_000 };
        await pause(pauseMs);
      }
    },
  };
}
