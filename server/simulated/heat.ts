import {
  LAG,
  plateReadings,
  SCATTER,
  simulating,
  thermometer,
  type HeatReading,
  type HeatSource,
  type Plate,
  type Reading,
  type Stack,
} from '../../core/heat/index.ts';

/** What the thermometers at a heat source are to Nibrel: they tell, second after second, while a device lies on it. */
export interface HeatThermometers {
  name: string;
  /** True for a stand-in; the screen says so. */
  simulated: boolean;
  /** @param from seconds that the device lies there already */
  watch(stack: Stack, source: HeatSource, room: number, from?: number): AsyncIterable<HeatReading>;
}

/** What a thermometer on a plate of known make is to Nibrel. */
export interface PlateThermometer {
  name: string;
  simulated: boolean;
  lag: number;
  watch(plate: Plate, source: HeatSource, room: number): AsyncIterable<Reading>;
}

export interface StandIn {
  random?: () => number;
  /** Simulated seconds for each real one. */
  speed?: number;
  /** The source against what is assumed of it, as a factor on its conductance; drawn when left out. */
  factor?: number | undefined;
}

/** Seconds between readings of the stand-ins, and how long they go on. */
const EVERY = 2;
const LONGEST = 1200;
/** How far a simulated source strays, as a standard deviation of the logarithm. Origin: own choice, 100 to 150 W/m²K is ± 20 %. */
const STRAY = 0.15;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** A normal deviate (Box and Muller 1958, from memory). */
const normal = (random: () => number): number =>
  Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());

/** A mat with a thermocouple on the back of the device and an infrared thermometer on its seam, both with lag and scatter. */
export function simulatedMat({
  random = Math.random,
  speed = 1,
  factor = Math.exp(STRAY * normal(random)),
}: StandIn = {}): HeatThermometers {
  return {
    name: 'Thermocouple and infrared thermometer',
    simulated: true,
    async *watch(stack, source, room, from = 0) {
      const [back, seam] = [thermometer(EVERY, LAG.back), thermometer(EVERY, LAG.seam)];
      const near = (v: number, scatter: number) => Math.round((v + scatter * normal(random)) * 10) / 10;
      // Computed as it is told, so that the server has its hands free in between.
      for (const run of simulating(
        stack,
        [{ source: { ...source, conductance: source.conductance * factor }, where: 'whole', seconds: LONGEST }],
        { room, step: EVERY, evenSweep: true },
      )) {
        const time = run.times.at(-1)!;
        const stretches = run.seam.at(-1)!;
        yield {
          time,
          back: near(back(run.backMiddle.at(-1)!), SCATTER.back),
          seam: near(seam(stretches.reduce((a, b) => a + b, 0) / stretches.length), SCATTER.seam),
        };
        // What was read before is told at once.
        await pause(time < from ? 0 : (EVERY * 1000) / speed);
      }
    },
  };
}

/** How long the stand-in watches a plate, s, and between its readings. */
const PLATE = { seconds: 400, every: 10 } as const;

/** A thermocouple on a plate that is laid on the source. */
export function simulatedPlate({
  random = Math.random,
  speed = 1,
  factor = Math.exp(STRAY * normal(random)),
}: StandIn = {}): PlateThermometer {
  return {
    name: 'Thermocouple',
    simulated: true,
    lag: LAG.back,
    async *watch(plate, source, room) {
      const times = Array.from({ length: PLATE.seconds / PLATE.every }, (_, i) => (i + 1) * PLATE.every);
      const clean = plateReadings(plate, { ...source, conductance: source.conductance * factor }, times, {
        room,
        lag: LAG.back,
      });
      for (const [i, time] of times.entries()) {
        await pause((PLATE.every * 1000) / speed);
        yield { time, temperature: Math.round((clean[i]! + SCATTER.back * normal(random)) * 10) / 10 };
      }
    },
  };
}
