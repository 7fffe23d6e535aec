import { regionOf, regionsOverlap, type Fastener, type Model } from '../anatomy/index.ts';
import { FASTENERS } from '../kinds/index.ts';
import { classesOf, type ScrewClass, type ScrewShape } from './classes.ts';

/**
 * Limits of what fits. Origin: own choices from common practice, on the careful side: a screw should engage by
 * about its own diameter, and is made to engage by one and a half; a counterbore has a few tenths of room; a floor
 * left under a blind hole of a phone is about 0.4 mm.
 */
export const FIT = {
  /** Least thread engagement, as a share of the thread's diameter. */
  leastEngagement: 0.8,
  /** Engagement of the right screw, as a share of the thread's diameter. */
  designEngagement: 1.5,
  /** Play in length before a screw is called too long, mm. */
  lengthPlay: 0.05,
  headPlay: 0.3,
  /** Floor under a hole, mm. */
  floor: 0.4,
} as const;

/** What a person cannot tell by eye, mm. Origin: own choice; smaller differences want a caliper. */
export const EYE = { length: 0.4, head: 0.3, thread: 0.2 } as const;

export type FitKind =
  | 'fits'
  | 'too-long'
  | 'comes-through'
  | 'too-short'
  | 'wrong-thread'
  | 'wrong-head'
  | 'wrong-kind'
  | 'not-measured';

export interface Fit {
  kind: FitKind;
  harmful: boolean;
  /** By how much, mm: past the hole, or thread engagement that is lacking. */
  by: number;
  /** The part that a screw comes through into. */
  into: string | null;
  text: string;
}

const round = (v: number): number => Math.round(v * 100) / 100;

/** The part that lies right under a hole, seen from where the screw is driven. */
export function underHole(model: Model, hole: Fastener): string | null {
  const point = regionOf({ circle: [hole.at[0], hole.at[1], hole.thread / 2] });
  const seat = model.fasteners.has(hole.into) ? null : hole.into;
  const context = model.contextOf(hole.id);
  const beneath = model.anatomy.parts.filter(
    (p) =>
      p.id !== seat &&
      !hole.holds.includes(p.id) &&
      !p.fixed &&
      p.within === context &&
      p.face !== 'edge' &&
      hole.face !== 'edge' &&
      regionsOverlap(model.accessOf(p.id), point),
  );
  const seatLayer = seat && !model.parts.get(seat)!.fixed ? model.parts.get(seat)!.layer : Number.POSITIVE_INFINITY;
  // Into a part: what lies deeper on the same face. Into the frame: what is nearest on the other face.
  const same = beneath.filter((p) => p.face === hole.face && p.layer > seatLayer).sort((a, b) => a.layer - b.layer)[0];
  if (same) return same.id;
  const other = beneath.filter((p) => p.face !== hole.face).sort((a, b) => b.layer - a.layer)[0];
  return seatLayer === Number.POSITIVE_INFINITY ? (other?.id ?? null) : (seat ?? null);
}

/** What happens when `screw` is driven into the hole of `hole`. */

export function fitOf(model: Model, screw: Omit<ScrewShape, 'colour'>, hole: Fastener): Fit {
  const told = (kind: FitKind, harmful: boolean, by: number, into: string | null, text: string): Fit => ({
    kind,
    harmful,
    by: round(by),
    into,
    text,
  });
  if (screw.kind !== hole.kind)
    return told('wrong-kind', false, 0, null, `a ${screw.kind} does not go where a ${hole.kind} belongs`);
  if (Math.abs(screw.thread - hole.thread) > 0.01) {
    const larger = screw.thread > hole.thread;
    return told(
      'wrong-thread',
      true,
      Math.abs(screw.thread - hole.thread),
      null,
      larger
        ? `its M${screw.thread} thread tears the M${hole.thread} hole`
        : `its M${screw.thread} thread does not hold in the M${hole.thread} hole`,
    );
  }
  if (screw.length === null || hole.length === null)
    return told(
      'not-measured',
      true,
      0,
      null,
      screw.length === null
        ? 'its length was never measured: only its own hole is sure'
        : 'the screw of this hole was never measured: only its own is sure',
    );
  const over = screw.length - hole.holeDepth;
  if (over > FIT.lengthPlay) {
    const under = underHole(model, hole);
    if (over > FIT.floor && under)
      return told(
        'comes-through',
        true,
        over,
        under,
        `${round(over)} mm too long: comes through into ${model.nameOf(under)}`,
      );
    return told('too-long', true, over, null, `${round(over)} mm too long: bottoms out before it holds`);
  }
  const lost = hole.length - screw.length;
  const engagement = Math.min(hole.length, FIT.designEngagement * hole.thread) - Math.max(0, lost);
  const least = FASTENERS.of(hole.kind).threaded ? FIT.leastEngagement * hole.thread : 0;
  if (engagement < least - 1e-9)
    return told(
      'too-short',
      true,
      least - engagement,
      null,
      `${round(lost)} mm too short: ${round(Math.max(0, engagement))} mm of thread holds, ${round(least)} mm is the least`,
    );
  if (screw.head - hole.head > FIT.headPlay)
    return told(
      'wrong-head',
      true,
      screw.head - hole.head,
      null,
      `its head is ${round(screw.head - hole.head)} mm wider and stands proud`,
    );
  if (hole.head - screw.head > 2 * FIT.headPlay)
    return told(
      'wrong-head',
      true,
      hole.head - screw.head,
      null,
      `its head is ${round(hole.head - screw.head)} mm smaller and pulls through`,
    );
  return told(
    'fits',
    false,
    0,
    null,
    Math.abs(lost) < 0.005 ? 'fits' : `fits, ${round(Math.abs(lost))} mm ${lost > 0 ? 'shorter' : 'longer'}`,
  );
}

/** A screw of one class in the holes of another: the worst of what happens, and in which hole. */
export interface Danger {
  screw: string;
  hole: string;
  worst: Fit;
  at: string;
}

const SEVERITY: Record<FitKind, number> = {
  'comes-through': 6,
  'too-long': 5,
  'wrong-thread': 4,
  'too-short': 3,
  'wrong-head': 2,
  'wrong-kind': 1,
  // Whether it does harm cannot be told; worse than what surely does none.
  'not-measured': 1,
  fits: 0,
};
export const worseFit = (a: Fit, b: Fit): number =>
  Number(b.harmful) - Number(a.harmful) || SEVERITY[b.kind] - SEVERITY[a.kind] || b.by - a.by;

/** Every class in every other class's holes. */
export function dangerTable(model: Model, classes: readonly ScrewClass[] = classesOf(model)): Danger[] {
  return classes.flatMap((screw) =>
    classes
      .filter((hole) => hole !== screw)
      .map((hole): Danger => {
        const fits = hole.fasteners
          .map((at) => ({ at, fit: fitOf(model, screw.shape, model.fasteners.get(at)!) }))
          .sort((a, b) => worseFit(a.fit, b.fit));
        return { screw: screw.letter, hole: hole.letter, worst: fits[0]!.fit, at: fits[0]!.at };
      }),
  );
}

/** Two shapes that a person may take for each other. */
export function alike(a: ScrewShape, b: ScrewShape): boolean {
  return (
    a.kind === b.kind &&
    a.drive === b.drive &&
    a.colour === b.colour &&
    (a.length === null || b.length === null || Math.abs(a.length - b.length) <= EYE.length + 1e-9) &&
    Math.abs(a.head - b.head) <= EYE.head + 1e-9 &&
    Math.abs(a.thread - b.thread) <= EYE.thread + 1e-9
  );
}

/** Classes that cannot be told apart by eye and do harm when swapped, the worst first. */
export interface LookAlike {
  a: string;
  b: string;
  /** The harmful ways round: `a` in a hole of `b`, or the reverse. */
  dangers: Danger[];
}

export function lookAlikes(model: Model, classes: readonly ScrewClass[] = classesOf(model)): LookAlike[] {
  const table = dangerTable(model, classes);
  const found: LookAlike[] = [];
  classes.forEach((a, i) => {
    for (const b of classes.slice(i + 1)) {
      if (!alike(a.shape, b.shape)) continue;
      const dangers = table.filter(
        (d) =>
          d.worst.harmful &&
          ((d.screw === a.letter && d.hole === b.letter) || (d.screw === b.letter && d.hole === a.letter)),
      );
      if (dangers.length > 0)
        found.push({ a: a.letter, b: b.letter, dangers: dangers.sort((x, y) => worseFit(x.worst, y.worst)) });
    }
  });
  return found.sort((x, y) => worseFit(x.dangers[0]!.worst, y.dangers[0]!.worst));
}
