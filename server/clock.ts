import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { uptime } from 'node:os';

/** What a sender says of its own clock beside the events it sends. */
export interface SenderClock {
  /** ms since the epoch by the sender's clock at the moment of sending; `null` when it does not say. */
  now: number | null;
  /** ms since the epoch by our clock when it came in. */
  received: number;
}

/** Below this an event was made just now, ms; above it, it was made while the sender could not reach us. */
export const JUST_NOW_MS = 2000;
/** From here on a difference between two clocks is worth a word, s. Origin: own choice. */
const WORTH_A_WORD = 2;

export interface Timed {
  /** ms since the epoch by our clock. */
  at: number;
  /** Seconds that the sender's clock is ahead, where that is worth a word. */
  skew: number | undefined;
}

/**
 * When an event was made, by our own clock. The sender says how long ago by its own: a difference of two readings
 * of one clock, which is right however wrong that clock is. Nothing is from the sender's future, and nothing comes
 * before what was recorded before it. Without a sender's clock an event was made when it came in.
 * @param claimed the time that the event bears
 * @param before ms since the epoch of the event that stands before it
 */
export function timeOf(claimed: string, { now, received }: SenderClock, before: number): Timed {
  const told = Date.parse(claimed);
  const age = now === null || !Number.isFinite(told) ? 0 : Math.max(0, now - told);
  const at = Math.max(received - age, before);
  // Without a sender's clock an old time may be an old event; only one from the future tells of a clock.
  const ahead = (now === null ? Math.max(0, told - received) : now - received) / 1000;
  const skew = Number.isFinite(ahead) && Math.abs(ahead) > WORTH_A_WORD ? Math.round(ahead) : undefined;
  // Kept within what a clock can be off by; beyond it only the sign says something.
  return { at, skew: skew === undefined ? undefined : Math.max(-1e9, Math.min(1e9, skew)) };
}

/** The moment at which an event has to have been allowed: now, or, for one made out of reach, then. */
export const judgedAt = (at: number, received: number): number =>
  received - at < JUST_NOW_MS ? received : at + JUST_NOW_MS;

/** What a clock is read from. */
export interface Readings {
  /** ms since the epoch by the machine's clock, which somebody may set. */
  wall: () => number;
  /** ms since the machine was started, sleep included, which nobody sets. */
  boot: () => number;
  /** Tells one start of the machine from another. */
  start: string;
}

/** What was last seen of the clock, to go on from. */
export interface Sighting {
  wall: number;
  boot: number;
  start: string;
  /** ms that our time is ahead of the machine's clock. */
  shift: number;
  /** Since when nothing that cannot be taken back is done by time, and which leap is the reason. */
  doubt: Doubt | null;
}

export interface Doubt {
  /** ms since the epoch: the newest thing that was known, and what the clock said then. */
  from: number;
  to: number;
}

/** A clock that moves by more than this against the time since the start was set, ms. Origin: own choice; a slewed clock moves less. */
const SET_MS = 2000;
/**
 * How far the clock may have gone on while Nibrel did not run without anybody being asked, ms. Origin: own choice; a shop that was
 * closed for six weeks.
 */
const LONGEST_AWAY_MS = 45 * 24 * 3600_000;
/**
 * How far it may lie behind what was recorded without being asked about, ms. Origin: own choice; a time zone, a day. A job of which
 * something lies ahead stands still until its time is reached; nothing else is held up.
 */
const FURTHEST_BEHIND_MS = 24 * 3600_000;

/**
 * The shop's time: that of the machine, but for what somebody sets on it while work goes on. Within one start of the machine
 * time goes on by the clock that counts since then; a clock that lay behind what was recorded and is put right is followed.
 * What cannot be taken back (an erasure by time, what is thrown away with its age) waits while `doubt` stands.
 */
export class SteadyClock {
  private shift = 0;
  private apart: number;
  private behind = false;
  /** How far the clock was set while it was held, ms. */
  private held = 0;
  doubt: Doubt | null = null;

  /**
   * @param before what was seen last, of this start of the machine or of one before
   * @param newest ms since the epoch of the newest thing that was recorded
   * @param busy a dive is open: what it counts must not leap, even over a restart of the server
   */
  constructor(
    private readonly readings: Readings,
    before: Sighting | null,
    newest: number | null,
    busy: boolean,
  ) {
    const wall = readings.wall();
    const boot = readings.boot();
    this.apart = wall - boot;
    const sameStart = before !== null && before.start === readings.start && boot >= before.boot;
    const steady = sameStart ? before.wall + before.shift + (boot - before.boot) : null;
    // While it was in doubt, what it said then proves nothing.
    const seen = before?.doubt ? before.doubt.from : (steady ?? (before ? before.wall + before.shift : null));
    const known = Math.max(seen ?? Number.NEGATIVE_INFINITY, newest ?? Number.NEGATIVE_INFINITY);
    if (steady !== null && busy && Math.abs(steady - wall) > SET_MS) {
      this.shift = steady - wall;
      this.held = -this.shift;
    }
    this.behind = known > this.now();
    this.doubt = before?.doubt ?? null;
    if (Number.isFinite(known)) this.compare(known);
  }

  /** Far from what was known last it is in doubt; near it, it is not any more. */
  private compare(known: number): void {
    const now = this.now();
    const far = now < known ? FURTHEST_BEHIND_MS : LONGEST_AWAY_MS;
    if (Math.abs(now - known) > far) this.doubt ??= { from: known, to: now };
    else this.doubt = null;
  }

  /** ms since the epoch. */
  now(): number {
    const wall = this.readings.wall();
    const apart = wall - this.readings.boot();
    const set = apart - this.apart;
    this.apart = apart;
    if (Math.abs(set) > SET_MS) this.wasSet(wall, set);
    return wall + this.shift;
  }

  private wasSet(wall: number, set: number): void {
    const before = wall - set + this.shift;
    if (this.behind && set > 0 && wall >= before) {
      // It lay behind what was recorded, and is put right.
      this.shift = 0;
      this.behind = false;
      this.held = 0;
      if (this.doubt && wall - this.doubt.from >= 0 && wall - this.doubt.from < LONGEST_AWAY_MS) this.doubt = null;
      else if (wall - before > LONGEST_AWAY_MS) this.doubt ??= { from: before, to: wall };
      return;
    }
    this.shift -= set;
    this.held += set;
  }

  /** Seconds that the machine's clock was set by and that were not followed; 0 for none. */
  get setBy(): number {
    this.now();
    return Math.abs(this.held) > SET_MS ? this.held / 1000 : 0;
  }

  /** Somebody has looked: the clock of the machine is right as it is, and is followed. */
  confirm(): void {
    this.doubt = null;
    this.shift = 0;
    this.held = 0;
  }

  /** What is kept, to go on from. */
  sighting(): Sighting {
    this.now();
    const { shift, doubt, readings } = this;
    return { wall: readings.wall(), boot: readings.boot(), start: readings.start, shift, doubt };
  }
}

/** The clocks of this machine. The time since its start counts sleep, where the system tells it so. */
export function machineReadings(): Readings {
  let start = 'unknown';
  try {
    start = readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();
  } catch {
    // Elsewhere every start of the server counts as one of the machine.
    start = randomUUID();
  }
  return { wall: () => Date.now(), boot: () => uptime() * 1000, start };
}
