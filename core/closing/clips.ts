import type { Bond, Model, Part, Point } from '../anatomy/index.ts';
import { BONDS } from '../kinds/index.ts';
import { distanceTo } from '../opening/index.ts';
import type { ClipKind, ClosingBench } from './bench.ts';
import { bedLength, bedShape, bendingStress, GLASS, inertiaOf, midwayShare, offsetLoad } from './plates.ts';
import { MOST_GIVEN, type Clip, type PressCheck } from './pressPlan.ts';
import { gapsOf, leftOf, lengthOf, lineOf, runOf, type Run, type Stretch } from './run.ts';
import type { AvoidedReason, NotUnder } from './messages.ts';

/** mm: of a panel's glass, unless its thickness is drawn; and of a cover. Origin: own estimate. */
const PANEL = { thickness: 0.8, bed: 0.3, breadth: 8 } as const;
/** N/mm² of a foam or film tape pressed flat: what a bond gives under a clip. Origin: own estimate. */
const TAPE_MODULUS = 0.6;
/** mm that a clip keeps off what it must not press. Origin: own choice. */
const CLIP_MARGIN = 1;
/** So many more clips than the load asks for are tried where they do not press evenly. Origin: own choice. */
const MORE_CLIPS = 16;
/** More clips of a kind than this no one sets on one bond: such a kind is passed over. Origin: own choice. */
const MOST_CLIPS = 120;
/** The least pressure anywhere, as a share of what is wanted, at which clips may be the way. Origin: own estimate. */
const LEAST_EVENNESS = 0.2;

const NOT_UNDER: readonly NotUnder[] = ['camera', 'lens', 'battery', 'button', 'sensor', 'mesh'];

/** What no clip's foot may stand on, on either face. */
function forbidden(model: Model, bond: Bond): { part: Part; because: AvoidedReason }[] {
  return model.anatomy.parts.flatMap((part) => {
    const kind = NOT_UNDER.find((one) => one === part.kind);
    return kind && !bond.joins.includes(part.id) ? [{ part, because: { code: `no-clip-on-${kind}` } }] : [];
  });
}

/** The thickness of a panel's glass, mm: what is drawn where it is thin, else the usual. */
export function glassThickness(part: Part | undefined): number {
  return part?.thickness !== null && part?.thickness !== undefined && part.thickness <= 1.5
    ? part.thickness
    : PANEL.thickness;
}

/** How far clips may stand apart, and how even they press then. */
function bedOf(width: number, thickness: number): number {
  return bedLength(GLASS.modulus, inertiaOf(PANEL.breadth, thickness), (TAPE_MODULUS * width) / PANEL.bed);
}

/** Own choice: the least share of the wanted pressure midway between two clips for which more clips are set. */
const LEAST_SHARE = 0.6;

function spacingFor(lambda: number): number {
  let spacing = 4 * lambda;
  while (spacing > lambda && midwayShare(spacing, lambda) < LEAST_SHARE) spacing *= 0.97;
  return spacing;
}

/**
 * mm between the places along a bond where its pressure is looked at, as a share of λ. Origin: own choice; half of it tells
 * the same to 1 %.
 */
const LOOKED_AT = 0.05;

/**
 * The least pressure anywhere along a bond under clips that each press with their own spring, as a share of what is wanted:
 * panel and tape as a beam on an elastic bed, Σ F e^−z (cos z + sin z) / 2λ (Hetényi 1946, from memory).
 * @param stations mm along the run at which they stand
 * @param wanted N/mm
 */
export function leastPressure(
  run: Pick<Run, 'length' | 'closed'>,
  stretches: readonly Stretch[],
  stations: readonly number[],
  clip: number,
  lambda: number,
  wanted: number,
): number {
  const around = run.closed ? [-run.length, 0, run.length] : [0];
  const at = (s: number) =>
    stations.reduce(
      (sum, station) => sum + around.reduce((t, turn) => t + bedShape(Math.abs(s - station + turn) / lambda), 0),
      0,
    ) *
    (clip / (2 * lambda));
  let least = Infinity;
  for (const { from, to } of stretches) {
    const n = Math.max(2, Math.ceil((to - from) / (LOOKED_AT * lambda)));
    for (let i = 0; i <= n; i++) least = Math.min(least, at(from + ((to - from) * i) / n));
  }
  return least / wanted;
}

interface Seat {
  /** mm along the run. */
  station: number;
  at: Point;
}

/** Seats of clips along what is pressed: evenly, each moved along to where its foot may stand, or left out. */
function seats(
  run: Run,
  stretches: readonly Stretch[],
  count: number,
  foot: number,
  avoid: ReturnType<typeof forbidden>,
): { seats: Seat[]; avoided: Map<string, AvoidedReason> } {
  const total = lengthOf(stretches);
  const pitch = total / count;
  const avoided = new Map<string, AvoidedReason>();
  const closed = run.closed && stretches.length === 1 && total > run.length - 1e-6;
  const found: Seat[] = [];
  const onRun = (s: number) => {
    let left = s;
    for (const { from, to } of stretches) {
      if (left <= to - from + 1e-9) return from + left;
      left -= to - from;
    }
    return stretches.at(-1)!.to;
  };
  const blocker = (at: Point) =>
    avoid.find(({ part }) => distanceTo(at, { outline: part.outline }) < foot / 2 + CLIP_MARGIN);
  for (let i = 0; i < count; i++) {
    const wanted = (i + 0.5) * pitch;
    // As near as can be to its even place, and never beyond the middle to its neighbour.
    for (let k = 0; k <= 20; k++) {
      const shift = (k % 2 === 0 ? 1 : -1) * Math.ceil(k / 2) * (pitch / 20) * 0.9;
      const s = wanted + shift;
      if (!closed && (s < 0 || s > total)) continue;
      const station = onRun(((s % total) + total) % total);
      const [at] = lineOf(run, { from: station, to: station + 1e-6 }) as [Point];
      const over = blocker(at);
      if (!over) {
        found.push({ station, at });
        break;
      }
      avoided.set(over.part.id, over.because);
    }
  }
  return { seats: found.sort((a, b) => a.station - b.station), avoided };
}

export interface Clips {
  clips: Clip[];
  kind: ClipKind;
  lacking: number;
  evenness: number;
  checks: PressCheck[];
  avoided: Map<string, AvoidedReason>;
}

/** The clips that serve best on a bond; `null` where none stands on it. */
export function clipsFor(
  model: Model,
  bond: Bond,
  newtons: number,
  thickness: number,
  span: number,
  bench: ClosingBench,
): Clips | null {
  const run = runOf(model, bond);
  const gaps = gapsOf(model, bond, run);
  const stretches = leftOf(run, gaps);
  const total = lengthOf(stretches);
  if (total <= 0) return null;
  const lambda = bedOf(run.width, thickness);
  const avoid = forbidden(model, bond);
  const wanted = newtons / total;
  const options = bench.clips
    .filter((c) => c.newtons * MOST_CLIPS >= newtons)
    .map((kind) => {
      const fewest = Math.max(1, Math.ceil(newtons / kind.newtons), Math.ceil(total / spacingFor(lambda)));
      const place = (count: number) => {
        const placed = seats(run, stretches, count, kind.foot, avoid);
        const stations = placed.seats.map((s) => s.station);
        const evenness =
          stations.length === 0 ? 0 : leastPressure(run, stretches, stations, kind.newtons, lambda, wanted);
        return { ...placed, evenness };
      };
      let best = place(fewest);
      // Clips that moved aside leave a gap between them: more clips may close it, as far as the shop has them.
      for (let count = fewest + 1; count <= Math.min(fewest + MORE_CLIPS, kind.count); count++) {
        if (best.evenness >= LEAST_SHARE && best.seats.length * kind.newtons >= newtons) break;
        const next = place(count);
        if (next.evenness > best.evenness) best = next;
      }
      const clips = best.seats.map((s) => ({ at: s.at, newtons: kind.newtons }));
      return {
        clips,
        kind,
        lacking: Math.max(0, clips.length - kind.count),
        evenness: Math.min(1, best.evenness),
        avoided: best.avoided,
        checks: clipChecks(bond, kind, { clips, newtons, evenness: best.evenness }, run.width, thickness, span),
      };
    });
  const usable = options.filter((o) => o.clips.length > 0);
  if (usable.length === 0) return null;
  const good = (o: Clips) => (o.lacking === 0 ? 0 : 2) + (o.checks.every((c) => c.holds) ? 0 : 1);
  return usable.reduce((a, b) =>
    good(b) < good(a) || (good(b) === good(a) && b.clips.length < a.clips.length) ? b : a,
  );
}

/** A foot wider than its bond presses on glass that nothing holds: a force beside a support, across the panel. */
function clipChecks(
  bond: Bond,
  kind: ClipKind,
  { clips, newtons, evenness }: { clips: readonly Clip[]; newtons: number; evenness: number },
  width: number,
  thickness: number,
  span: number,
): PressCheck[] {
  const all = clips.length * kind.newtons;
  const overhang = Math.max(0, kind.foot / 2 - width / 2);
  const beside = kind.newtons * (overhang / kind.foot);
  const breadth = kind.foot + 2 * overhang;
  const inertia = inertiaOf(breadth, thickness);
  const bent = offsetLoad(beside, Math.max(span, 4 * overhang + 1), overhang / 2, GLASS.modulus, inertia);
  const stress = bendingStress(bent.moment, breadth, thickness);
  return [
    {
      what: { code: 'check-clips', clips: clips.length, newtons: kind.newtons },
      value: all,
      limit: newtons,
      unit: 'N',
      least: true,
      holds: all >= newtons - 1e-6,
      because: { code: 'springs-come-to-load' },
    },
    {
      what: { code: 'check-weakest' },
      value: evenness * 100,
      limit: LEAST_EVENNESS * 100,
      unit: '%',
      least: true,
      holds: evenness >= LEAST_EVENNESS,
      because: { code: 'elastic-bed' },
    },
    {
      what: { code: 'check-foot', foot: kind.foot, width },
      value: stress,
      limit: GLASS.stress,
      unit: 'MPa',
      holds: stress <= GLASS.stress,
      because:
        overhang > 0
          ? { code: 'foot-unsupported', overhang }
          : { code: BONDS.of(bond.kind).takes === 'cure' ? 'foot-over-bead' : 'foot-over-bond' },
    },
    {
      what: { code: 'check-glass-gives' },
      value: bent.deflection,
      limit: MOST_GIVEN,
      unit: 'mm',
      holds: bent.deflection <= MOST_GIVEN,
      because: { code: 'stands-close' },
    },
  ];
}
