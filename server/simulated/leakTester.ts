import { setTimeout as pause } from 'node:timers/promises';
import { STANDARD_AIR, type DecaySample } from '../../core/closing/index.ts';

/** What a pressure-decay tester is to Nibrel: it fills a device with a little air, shuts it off, and tells what is left. */
export interface LeakTester {
  name: string;
  /** True for a stand-in; the screen says so. */
  simulated: boolean;
  /** @param millilitres of air within, with the hose */
  decay(millilitres: number, shows: LeakShows): AsyncIterable<DecaySample>;
}

export const LEAK_SHOWS = ['tight', 'leaks'] as const;
export type LeakShows = (typeof LEAK_SHOWS)[number];

/** ml/min that the stand-in lets out, Pa that it fills to, s it watches, and noise of its gauge, Pa. Made up. */
const LEAKS: Record<LeakShows, number> = { tight: 0.08, leaks: 2.4 };
const START = 5000;
const SECONDS = 30;
const NOISE = 3;
/** °C a second by which the air within cools after it was pressed in. */
const COOLS = -0.001;

/** A tester that stands in for one: the ideal gas law, a leak that goes with the pressure, and a gauge with noise. */
export function simulatedLeakTester(random: () => number = Math.random, pauseMs = 40): LeakTester {
  const noise = () => NOISE * (random() + random() + random() - 1.5) * 2;
  return {
    name: 'Pressure-decay tester',
    simulated: true,
    async *decay(millilitres, shows) {
      const rate = ((LEAKS[shows] / 60) * STANDARD_AIR) / millilitres / START;
      for (let i = 0; i <= 2 * SECONDS; i++) {
        const seconds = i / 2;
        const celsius = 24 + COOLS * seconds;
        const warmth = (celsius + 273.15) / (24 + 273.15);
        const pascal = (START * Math.exp(-rate * seconds) + STANDARD_AIR) * warmth - STANDARD_AIR + noise();
        yield { seconds, pascal: Math.round(pascal * 10) / 10, celsius: Math.round(celsius * 1000) / 1000 };
        await pause(pauseMs);
      }
    },
  };
}
