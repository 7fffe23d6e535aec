import { table, type KindOf } from '../format/index.ts';

/** What holds for every fastener of a kind. */
export interface FastenerFacts {
  /** Turned with a driver where it has a drive; all else is pulled, pressed or sprung. */
  turned: boolean;
  /** It reaches into a thread or a seat, so that it may be too short for its hole; what sits by friction may not. */
  threaded: boolean;
  /** It stays in its part when it is loosened: no well waits for it. */
  stays: boolean;
  /** Another screw may be driven into it. */
  seat: boolean;
  /** The format of anatomies that brought it. */
  since: number;
  /** Sprung on: it is none of those that a magnet is asked about, and is told apart by its kind. */
  sprung: boolean;
  /** What works it where no driver does. */
  tool: 'spudger' | null;
  /** A screw of this sort is kept in the shop's stock. */
  stocked: boolean;
}

const SCREW: FastenerFacts = {
  turned: true,
  threaded: true,
  stays: false,
  seat: false,
  since: 1,
  sprung: false,
  tool: null,
  stocked: true,
};
const PULLED: FastenerFacts = { ...SCREW, turned: false, threaded: false, since: 2, stocked: false };

/** Kinds of fasteners; how each comes out, and in what time, stands in the planner's table (`core/dive/house/fastenerKinds.ts`). */
export const FASTENERS = table<FastenerFacts>('fastener')({
  screw: SCREW,
  /** Loosened, and stays in its part. */
  captive: { ...SCREW, stays: true, stocked: false },
  standoff: { ...SCREW, seat: true },
  /** A loose spring clip. */
  clip: { ...SCREW, turned: false, sprung: true, tool: 'spudger' },
  /** A rubber cap. */
  cap: PULLED,
  /** A plug that sits by friction. */
  plug: PULLED,
  /** A pressed pin. */
  'press-fit': { ...PULLED, tool: 'spudger' },
});
export type FastenerKind = KindOf<typeof FASTENERS>;
