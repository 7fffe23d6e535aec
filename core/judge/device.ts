import type { GateId, RuleName } from '../kinds/index.ts';
import type { JudgeMessage } from './messages.ts';
import type { Reading } from './reading.ts';

/** A rule that a step breaks, or that does not hold at the end. */
export interface Violation {
  rule: RuleName;
  /** The item that stands in the way. */
  item: string;
  said: JudgeMessage;
  /** Number of the offending step; `null` when something is missing at the end. */
  step: number | null;
}

/** The state a device is in, item by item. */
export interface Device {
  out: Set<string>;
  open: Set<string>;
  released: Set<string>;
  swung: Set<string>;
  /** Parts that stand open by a gap, their tethers mated. */
  eased: Set<string>;
  /** Of those that stand open, what is laid back on its place and held by tape, so that the device can be turned over. */
  taped: Set<string>;
  /** Switched on: by a test of the open device. */
  on: boolean;
  removed: Set<string>;
  /** Items that are gone for good and accounted for: they neither hold nor go back. */
  absent: Set<string>;
  openedLive: Set<string>;
  renewed: Set<string>;
  gated: Map<GateId, Set<string>>;
  touched: Set<string>;
  /** Parts that were ever off. */
  lifted: Set<string>;
  up: 'front' | 'back' | null;
  /** How a fold lies, as far as it was told. */
  pose: string | null;
  /** The part of the device itself that was laid down last. */
  lastLaid: string | null;
  /** Functions that a test has proved and nothing has undone since. */
  proved: Set<string>;
}

export function closedDevice(): Device {
  return {
    out: new Set(),
    open: new Set(),
    released: new Set(),
    swung: new Set(),
    eased: new Set(),
    taped: new Set(),
    on: false,
    removed: new Set(),
    absent: new Set(),
    openedLive: new Set(),
    renewed: new Set(),
    gated: new Map(),
    touched: new Set(),
    lifted: new Set(),
    up: null,
    pose: null,
    lastLaid: null,
    proved: new Set(),
  };
}

export function copyDevice(d: Device): Device {
  return {
    out: new Set(d.out),
    open: new Set(d.open),
    released: new Set(d.released),
    swung: new Set(d.swung),
    eased: new Set(d.eased),
    taped: new Set(d.taped),
    on: d.on,
    removed: new Set(d.removed),
    absent: new Set(d.absent),
    openedLive: new Set(d.openedLive),
    renewed: new Set(d.renewed),
    gated: new Map([...d.gated].map(([g, s]) => [g, new Set(s)])),
    touched: new Set(d.touched),
    lifted: new Set(d.lifted),
    up: d.up,
    pose: d.pose,
    lastLaid: d.lastLaid,
    proved: new Set(d.proved),
  };
}

/** A part that is gone for good, with all that joined it: none of it holds or goes back. */
export function joinedTo(reading: Reading, part: string): string[] {
  const family = reading.family(part);
  const { fasteners, connectors, bonds, latches } = reading.document;
  return [
    ...family,
    ...fasteners.filter((f) => f.holds.some((id) => family.has(id))).map((f) => f.id),
    ...connectors.filter((c) => family.has(c.from) || family.has(c.to)).map((c) => c.id),
    ...bonds.filter((b) => b.joins.some((id) => family.has(id))).map((b) => b.id),
    ...latches.filter((l) => l.joins.some((id) => family.has(id))).map((l) => l.id),
  ];
}
