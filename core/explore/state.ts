import type { Drive, Fastener } from '../anatomy/index.ts';
import { DEFAULT_RULES } from '../dive/index.ts';
import { FASTENERS } from '../kinds/index.ts';
import { wellLabel, type TraySize } from '../screws/index.ts';
import { specOf, type ThingType } from './acts.ts';
import type { Act, Sight } from './format.ts';

/** One thing that was dealt with, as it stands. */
export interface Thing {
  id: string;
  type: ThingType;
  /** What was seen of it, the newest word on each field. */
  seen: Sight;
  /** As it was met, eased open by a gap, swung, or undone: out, open, released, off. */
  stands: 'in' | 'eased' | 'swung' | 'undone';
  /** The act that undid it, while it is undone. */
  undoneBy: string | null;
}

/** What an act says that does not fit what was recorded before it. */
export interface Oddity {
  act: string;
  words: string;
}

/** An open device that nobody has drawn: a pure fold over its acts. */
export interface OpenDevice {
  things: Map<string, Thing>;
  /** The acts that stand, in order; what was taken back and what contradicts is not among them. */
  acts: Act[];
  oddities: Oddity[];
  isolated: boolean;
  poweredOff: boolean;
  chargeChecked: boolean;
  up: 'front' | 'back';
  /** Parts that are off or open, by the side they lie on: how many layers are bare. */
  bare: { front: number; back: number };
  /** Screw → its well. */
  wells: Map<string, string>;
  /** Something was moved since the last photograph. */
  photoDue: boolean;
}

/** Origin: the usual tray of the house rules, and as many of it as are needed. */
export const TRAY: TraySize = { rows: DEFAULT_RULES.trayRows, columns: DEFAULT_RULES.trayColumns, trays: 9 };

export const untouched = (): OpenDevice => ({
  things: new Map(),
  acts: [],
  oddities: [],
  isolated: false,
  poweredOff: false,
  chargeChecked: false,
  up: 'front',
  bare: { front: 0, back: 0 },
  wells: new Map(),
  photoDue: true,
});

/** What tells screws apart at a glance. */
interface Looks {
  kind: Fastener['kind'];
  drive: Drive | null;
  length: number | null;
}

const looksOf = ({ fastener, drive, length }: Sight): Looks => ({
  kind: fastener ?? 'screw',
  drive: drive ?? null,
  length: length ?? null,
});

/** Nearer than this two lengths are one, mm. Origin: twice a caliper's error in a hand. */
export const SAME_LENGTH = 0.15;

/** Would two screws be taken for one another: the same drive, and lengths that are near or not known? */
export function lookAlike(a: Sight, b: Sight): boolean {
  const [one, other] = [looksOf(a), looksOf(b)];
  if (one.kind !== other.kind || one.drive !== other.drive) return false;
  if (one.length === null || other.length === null) return true;
  return Math.abs(one.length - other.length) <= 4 * SAME_LENGTH;
}

const oneClass = (a: Sight, b: Sight): boolean => {
  const [one, other] = [looksOf(a), looksOf(b)];
  const sameLength =
    one.length === null || other.length === null
      ? one.length === other.length
      : Math.abs(one.length - other.length) <= SAME_LENGTH;
  return one.kind === other.kind && one.drive === other.drive && sameLength;
};

/**
 * The well of a screw that comes out now: that of the screw before it, where both are of one class and nothing was
 * done between; else the next free one. A captive one stays in its part.
 */
export function wellFor(device: OpenDevice, seen: Sight, tray: TraySize = TRAY): string | null {
  if (seen.fastener && FASTENERS.of(seen.fastener).stays) return null;
  const last = device.acts.findLast((a) => a.act !== 'photographed');
  if (last?.act === 'screw-out' && last.item !== null) {
    const before = device.things.get(last.item);
    const well = device.wells.get(last.item);
    if (before && well && oneClass(before.seen, seen) && (before.seen.on ?? null) === (seen.on ?? null)) return well;
  }
  const used = new Set(device.wells.values());
  for (let n = 0; ; n++) if (!used.has(wellLabel(n, tray))) return wellLabel(n, tray);
}

/** Wells beside this one, corners included, that hold what looks alike. */
export function lookAlikeWells(device: OpenDevice, well: string, seen: Sight): string[] {
  const at = (name: string) => {
    const [, tray, row, column] = /^(\d*)([A-Z])(\d+)$/.exec(name) ?? [];
    return { tray: tray ?? '', row: (row ?? 'A').charCodeAt(0), column: Number(column ?? 1) };
  };
  const here = at(well);
  const near = (name: string) => {
    const there = at(name);
    const beside = Math.abs(there.row - here.row) <= 1 && Math.abs(there.column - here.column) <= 1;
    return name !== well && there.tray === here.tray && beside;
  };
  const found = [...device.wells].filter(([id, name]) => near(name) && lookAlike(device.things.get(id)!.seen, seen));
  return [...new Set(found.map(([, name]) => name))];
}

/** Sorts out what does not fit. @returns words, or `null` when the act fits */
function oddityOf(device: OpenDevice, act: Act): string | null {
  const { of, does } = specOf(act.act);
  if (does === 'tells')
    return act.item !== null && device.things.has(act.item) ? null : `nothing is known of ${act.item}`;
  if (of === null) return null;
  if (act.item === null) return 'it does not say what it was done to';
  const thing = device.things.get(act.item);
  if (thing && thing.type !== of) return `${act.item} is a ${thing.type}, not a ${of}`;
  if (does === 'back') return thing && thing.stands !== 'in' ? null : `${act.item} was not undone before`;
  if (thing?.stands === 'undone')
    return does === 'none' && of === 'connector' ? null : `${act.item} is off or open already`;
  if (does === 'swing' && thing?.stands === 'swung') return `${act.item} stands open already`;
  if (does === 'ease' && thing && thing.stands !== 'in') return `${act.item} stands open already`;
  return null;
}

const COUNTS: ReadonlySet<string> = new Set(['part-eased', 'part-swung', 'part-off', 'part-on']);

/** Adds one act, in place. What contradicts what was recorded stands among the oddities, and changes nothing. */
export function perform(device: OpenDevice, act: Act): void {
  const words = oddityOf(device, act);
  if (words !== null) {
    device.oddities.push({ act: act.id, words });
    return;
  }
  const { of, does } = specOf(act.act);
  const known = act.item === null ? undefined : device.things.get(act.item);
  const well = does === 'loosen' ? wellFor(device, { ...known?.seen, ...act.seen }) : null;
  device.acts.push(act);
  switch (act.act) {
    case 'powered-off':
      device.poweredOff = true;
      break;
    case 'charge-checked':
      device.chargeChecked = true;
      break;
    case 'turned-over':
      device.up = device.up === 'front' ? 'back' : 'front';
      break;
    case 'photographed':
      device.photoDue = false;
      if (act.seen.face === 'front' || act.seen.face === 'back') device.up = act.seen.face;
      break;
  }
  if (does === 'tells') {
    const thing = device.things.get(act.item!)!;
    device.things.set(thing.id, { ...thing, seen: { ...thing.seen, ...act.seen } });
    if (act.seen.isolates !== undefined && thing.stands === 'undone') device.isolated = act.seen.isolates;
    return;
  }
  if (of === null || act.item === null) return;
  const thing: Thing = known ?? { id: act.item, type: of, seen: {}, stands: 'in', undoneBy: null };
  const before = thing.stands;
  thing.seen = { ...thing.seen, ...act.seen };
  if (does === 'ease') thing.stands = 'eased';
  if (does === 'swing') thing.stands = 'swung';
  if (does === 'loosen' || does === 'open' || does === 'release' || does === 'lift' || does === 'parted') {
    thing.stands = 'undone';
    thing.undoneBy = act.id;
  }
  if (does === 'back') {
    thing.stands = 'in';
    thing.undoneBy = null;
  }
  device.things.set(act.item, thing);
  if (well !== null) device.wells.set(act.item, well);
  if (act.act === 'screw-in') device.wells.delete(act.item);
  if (act.seen.isolates !== undefined || thing.seen.isolates)
    if (does === 'open' || does === 'lift' || does === 'parted' || does === 'back') device.isolated = does !== 'back';
  if (COUNTS.has(act.act)) {
    device.photoDue = true;
    const side = thing.seen.on == null ? (thing.seen.face === 'back' ? 'back' : 'front') : null;
    if (side !== null && thing.seen.face !== 'edge') {
      if (before === 'in' && thing.stands !== 'in') device.bare[side]++;
      if (before !== 'in' && thing.stands === 'in') device.bare[side]--;
    }
  }
}

/** The open device after these acts. */
export function openDevice(acts: readonly Act[]): OpenDevice {
  const device = untouched();
  for (const act of acts) perform(device, act);
  return device;
}

/** Is anything of it undone or open, so that there is a way back? */
export const isOpened = ({ things }: OpenDevice): boolean => [...things.values()].some((t) => t.stands !== 'in');

export interface Counts {
  screwsOut: number;
  plugsOpen: number;
  partsOff: number;
}

export function countsOf({ things }: OpenDevice): Counts {
  const undone = [...things.values()].filter((t) => t.stands === 'undone');
  return {
    screwsOut: undone.filter((t) => t.type === 'fastener').length,
    plugsOpen: undone.filter((t) => t.type === 'connector').length,
    partsOff: [...things.values()].filter((t) => t.type === 'part' && t.stands !== 'in').length,
  };
}
