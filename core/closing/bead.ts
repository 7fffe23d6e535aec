import { areaOf, bondRegion, type Bond, type Model, type Outline, type Point } from '../anatomy/index.ts';
import { CLOSING_BENCH, type ClosingBench, type GlueProduct } from './bench.ts';
import { blockedBy, freeZones, type Blocked, type FreeZone } from './freeZones.ts';
import { gapsOf, joined, leftOf, lengthOf, lineOf, runOf } from './run.ts';

/** How a bond is laid with liquid glue. */
export interface BeadPlan {
  bond: string;
  /** Where the bead runs, mm. */
  lines: Point[][];
  length: number;
  /** The bead as it is laid, mm: across and high, half an ellipse. */
  width: number;
  height: number;
  /** How wide it lies once it is pressed down to its film, mm. */
  spread: number;
  millilitres: number;
  /** mm of glue that leave the nozzle, and mm of it for each mm of the run. */
  nozzle: { bore: number; millimetres: number; perMillimetre: number };
  /** mm that its middle keeps off what it must not reach, and where it has to be left out. */
  keepOff: number;
  blocked: Blocked[];
  /** Where it runs beside a button, a port or a connector: there it is laid thin and towards the outside. */
  near: Blocked[];
  setting: Setting;
}

/** How long a glue takes, s. Computed, never a promise: a trial on a spare corner says. */
export interface Setting {
  skin: number;
  handle: number;
  cure: number;
}

/** mm of glue that stay between two pressed sides. Origin: own estimate for a seam pressed by clips; foam tapes are 0.2 to 0.3. */
export const FILM = 0.15;
/** A pressed bead fills so much of its bond, so that none runs out of the seam. Origin: own choice. */
const FILLS = 0.8;
/** A bead stands so high for its width as it is laid. Origin: own estimate for a glue that does not run. */
const STANDS = 0.5;
/** Glue is laid for a film across, in lines so far apart, over an area: mm. Origin: own choice. */
const LINE_PITCH = 6;

/**
 * How long a glue takes at another temperature and humidity: twice as fast for every 10 K (van 't Hoff's rule, from
 * memory), and for glues that the water of the air cures in proportion to the relative humidity, which a diffusion front
 * gives for its first depth (from memory). Limited to a quarter and four times of the sheet.
 * @param room °C
 * @param humidity %
 */
export function settingOf(product: GlueProduct, room: number, humidity: number): Setting {
  const warmth = 2 ** ((23 - room) / 10);
  const water = product.byMoisture ? 50 / humidity : 1;
  const factor = Math.min(4, Math.max(0.25, warmth * water));
  const at = (seconds: number) => Math.round((seconds * factor) / 10) * 10;
  return { skin: at(product.skin), handle: at(product.handle), cure: at(product.cure) };
}

/** What glue must not creep into: buttons, ports, and connectors on the face it is laid on. */
function keptDry(model: Model, bond: Bond): FreeZone[] {
  const face = bond.joins.map((id) => model.parts.get(id)!).find((p) => !p.fixed)?.face;
  const { parts, connectors } = model.anatomy;
  const outlineOf = (at: Point, [w, h]: readonly [number, number]): Outline => ({
    rect: [at[0] - w / 2, at[1] - h / 2, w, h],
  });
  return [
    ...parts
      .filter((p) => (p.kind === 'button' || p.kind === 'port') && !bond.joins.includes(p.id))
      .map((p) => ({ part: p.id, outline: p.outline })),
    ...connectors.filter((c) => c.face === face).map((c) => ({ part: c.id, outline: outlineOf(c.at, c.size) })),
  ];
}

/**
 * The bead of liquid glue for a bond: its section is that of the film which fills the bond once it is pressed.
 * @param room °C
 */
export function beadOf(model: Model, bond: Bond, room: number, bench: ClosingBench = CLOSING_BENCH): BeadPlan {
  const run = runOf(model, bond);
  const gaps = gapsOf(model, bond, run);
  // An area is laid with lines beside one another: as much glue as its film, along a run as long as the lines.
  const area = run.breadth === null ? null : areaOf(bondRegion(bond, (id) => model.parts.get(id)!.outline));
  const lines = area === null ? 1 : Math.max(1, Math.round(run.breadth! / LINE_PITCH));
  const spread = area === null ? run.width * FILLS : (area * FILLS) / (run.length * lines);
  const section = spread * FILM;
  const width = Math.sqrt((4 * section) / (Math.PI * STANDS));
  const keepOff = spread / 2 + bench.margin;
  // Its ends are round: what counts is how far its middle lies.
  const blocked = blockedBy(run, freeZones(model, bond), 0, keepOff);
  const near = blockedBy(run, keptDry(model, bond), 0, keepOff);
  const stretches = leftOf(run, joined([...gaps, ...blocked]));
  const length = lengthOf(stretches) * lines;
  const volume = section * length;
  const { bore } = bench.glue;
  const perMillimetre = section / ((Math.PI * bore * bore) / 4);
  return {
    bond: bond.id,
    lines: stretches.map((s) => lineOf(run, s)),
    length,
    width,
    height: width * STANDS,
    spread,
    millilitres: volume / 1000,
    nozzle: { bore, millimetres: perMillimetre * length, perMillimetre },
    keepOff,
    blocked,
    near,
    setting: settingOf(bench.glue, room, bench.humidity),
  };
}
