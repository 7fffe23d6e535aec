import type { Fastener } from '../../core/anatomy/index.ts';
import { pitchOf, torqueTarget, type Piece, type TorqueSample } from '../../core/screws/index.ts';

/** What any torque driver on the bench is to Nibrel: it tells its torque while a screw is driven. */
export interface TorqueDriver {
  name: string;
  /** True for a stand-in; the screen says so. */
  simulated: boolean;
  /** Samples from the first thread to the peak, as they come. */
  drive(screw: Pick<Fastener, 'length' | 'thread' | 'torque'>): AsyncIterable<TorqueSample>;
}

/** What any caliper on the bench is to Nibrel: one piece after another, as it is measured. */
export interface Caliper {
  name: string;
  simulated: boolean;
  measure(pieces: readonly Fastener[]): AsyncIterable<Piece>;
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** A normal deviate (Box and Muller 1958, from memory). */
const normal = (random: () => number): number =>
  Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());

/** How often the stand-in misbehaves. Origin: own choice, often enough to be seen in a demonstration. */
const MISHAPS = { over: 0.04, cross: 0.04 } as const;

/** mm of a made-up screw where its device does not say. Made up. */
const USUAL_LENGTH = 2;

/** A driver that runs a screw down at two turns a second with friction and noise, and now and then goes wrong. */
export function simulatedTorqueDriver(random: () => number = Math.random, pauseMs = 25): TorqueDriver {
  return {
    name: 'Torque driver',
    simulated: true,
    async *drive(screw) {
      const { target } = torqueTarget(screw);
      // A made-up screw that nobody has measured is a usual one.
      const seat = (screw.length ?? USUAL_LENGTH) / pitchOf(screw.thread);
      const luck = random();
      const crossed = luck < MISHAPS.cross;
      const peak = target * (luck > 1 - MISHAPS.over ? 1.35 : 1 + 0.04 * normal(random));
      const end = crossed ? seat * (0.25 + 0.2 * random()) : seat;
      const count = 24;
      for (let i = 1; i <= count; i++) {
        const turns = (end * i) / count;
        const running = target * (0.06 + 0.02 * Math.abs(normal(random)));
        const near = crossed ? Math.max(0, (turns / end - 0.3) / 0.7) : Math.max(0, (turns - (seat - 0.35)) / 0.35);
        yield {
          turns: Math.round(turns * 1000) / 1000,
          torque: Math.round((running + (Math.max(running, peak) - running) * near ** 2) * 100) / 100,
        };
        await pause(pauseMs);
      }
    },
  };
}

/** A caliper that reads length and head to about 0.05 mm, piece after piece in the order they are picked up. */
export function simulatedCaliper(random: () => number = Math.random, pauseMs = 120): Caliper {
  return {
    name: 'Caliper',
    simulated: true,
    async *measure(pieces) {
      const left = [...pieces];
      for (let n = 1; left.length > 0; n++) {
        const [f] = left.splice(Math.floor(random() * left.length), 1);
        const near = (v: number) => Math.max(0.1, Math.round((v + 0.05 * normal(random)) * 100) / 100);
        yield {
          id: `piece ${n}`,
          length: near(f!.length ?? USUAL_LENGTH),
          thread: null,
          head: near(f!.head),
          drive: f!.drive,
          magnetic: f!.magnetic,
          colour: f!.colour,
          uncertainty: 0.05,
        };
        await pause(pauseMs);
      }
    },
  };
}
