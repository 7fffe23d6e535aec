import { areaOf, bondRegion, boundsOf, type Bond, type Model, type Part, type Point } from '../anatomy/index.ts';
import { distanceTo } from '../opening/index.ts';
import { settingOf } from './bead.ts';
import { CLOSING_BENCH, type ClosingBench, type ClipKind } from './bench.ts';
import {
  bedLength,
  bedShape,
  bendingStress,
  evenPressure,
  GLASS,
  inertiaOf,
  midwayShare,
  offsetLoad,
} from './plates.ts';
import { gapsOf, leftOf, lengthOf, lineOf, runOf, type Run, type Stretch } from './run.ts';

/** A clip, where its foot stands, and what it has to press with. */
export interface Clip {
  at: Point;
  newtons: number;
}

/** One thing that was looked at before a load is put on a device. */
export interface PressCheck {
  what: string;
  value: number;
  limit: number;
  unit: 'MPa' | 'mm' | 'N' | '%';
  /** True where the limit is the least that is asked for, not the most. */
  least?: boolean;
  holds: boolean;
  because: string;
}

/** What was found of what is let be: `4.2 of 16.6 MPa`; lengths to 0.001 mm, for they are small. */
export const checkWords = ({ value, limit, unit, least }: PressCheck): string =>
  `${value.toFixed(unit === 'mm' ? 3 : 1)} ${least ? 'where at least' : 'of'} ${Number(limit.toFixed(1))} ${unit}`;

export type PressWay = 'weight' | 'clips' | 'bands' | 'hand';

/** How a bond is pressed. */
export interface PressPlan {
  bond: string;
  /** mm² of the bond itself, without its gaps. */
  area: number;
  /** N/mm² wanted over it, the load that makes it, N and kg. */
  pressure: number;
  newtons: number;
  kilograms: number;
  /** All that is pressed with the panel at once: its bonds, and the one load on it, N and kg. */
  panel: { bonds: string[]; newtons: number; kilograms: number };
  /** The way of the house where it serves, else the one that does, and why. */
  way: PressWay;
  because: string;
  weights: number[];
  clips: Clip[];
  /** The clips that serve, and how many of them the shop lacks. */
  clip: (ClipKind & { lacking: number }) | null;
  bands: number;
  /** How often clips are set one after another, where the shop has fewer than stand along it. */
  turns: number;
  /** The load that is put on as a share of what is wanted, at most 1: what is gentler stands longer. */
  share: number;
  /** The least pressure anywhere along it, as a share of what is wanted: 1 is even. */
  evenness: number;
  /** s under load. */
  seconds: number;
  checks: PressCheck[];
  /** Where no clip stands, and why. */
  avoided: { part: string; because: string }[];
  notes: string[];
}

const GRAVITY = 9.80665;

/**
 * N/mm² over a bond. Tape: 1 kgf/cm², which sheets of pressure-sensitive tapes ask for, and which 32 kg on a bonded tablet
 * display come to (common practice). Glue and gasket only have to be held shut. Origin of these: own estimates.
 */
export const PRESSURE: Record<Bond['kind'], number> = {
  tape: 0.0980665,
  'stretch-tab': 0.05,
  'pull-pouch': 0.05,
  glue: 0.02,
  gasket: 0.03,
  thermal: 0.02,
  foil: 0.02,
};

/** s under full load: tape at least 2 min (common practice); other tapes by hand. What is weaker takes longer, to `most`. */
export const PRESS_SECONDS = { tape: 120, byHand: 30, most: 600, gasket: 1200 } as const;
/**
 * kg on a panel beyond which nobody loads a device, whatever its bond would take: 32 kg for 2 min on a bonded tablet display
 * (common practice). What asks for more stands longer under it.
 */
const HEAVIEST_LOAD = 32;
/** A load below this share of what is wanted does not wet a tape in any time that is waited for. Origin: `most` over `tape`. */
const LEAST_LOAD = PRESS_SECONDS.tape / PRESS_SECONDS.most;
/** °C where nobody says. Origin: own choice, as for heat. */
export const ROOM_USUAL = 22;

/** mm: of a panel's glass, unless its thickness is drawn; and of a cover. Origin: own estimate. */
const PANEL = { thickness: 0.8, bed: 0.3, breadth: 8 } as const;
/** N/mm² of a foam or film tape pressed flat: what a bond gives under a clip. Origin: own estimate. */
const TAPE_MODULUS = 0.6;
/** mm that a clip keeps off what it must not press. Origin: own choice. */
const CLIP_MARGIN = 1;
/** mm that glass may give under a foot: less than a panel stands off what lies beneath it. Origin: own estimate. */
const MOST_GIVEN = 0.2;
/** So many more clips than the load asks for are tried where they do not press evenly. Origin: own choice. */
const MORE_CLIPS = 16;
/** More clips of a kind than this no one sets on one bond: such a kind is passed over. Origin: own choice. */
const MOST_CLIPS = 120;
/**
 * How evenly each way presses: the least pressure anywhere as a share of what is wanted, for clips from their bed; and the
 * least at which clips may be the way. Origin: own estimates.
 */
const EVENNESS = { weight: 1, bands: 0.35, hand: 0.2, leastOfClips: 0.2 } as const;
/** A load may be so much above what is wanted. Origin: own choice. */
const OVER = 1.3;

const NOT_UNDER: Partial<Record<Part['kind'], string>> = {
  camera: 'no clip presses on a camera',
  lens: 'no clip presses on a lens',
  battery: 'no clip presses on the cell',
  button: 'no clip presses on a button',
  sensor: 'no clip presses on a sensor',
  mesh: 'no clip presses on a mesh',
};

/** What no clip's foot may stand on, on either face. */
function forbidden(model: Model, bond: Bond): { part: Part; because: string }[] {
  return model.anatomy.parts.flatMap((part) => {
    const because = NOT_UNDER[part.kind];
    return because && !bond.joins.includes(part.id) ? [{ part, because }] : [];
  });
}

/** The thickness of a panel's glass, mm: what is drawn where it is thin, else the usual. */
function glassThickness(part: Part | undefined): number {
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

/** mm between the places along a bond where its pressure is looked at, as a share of λ. Origin: own choice; half of it tells the same to 1 %. */
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
): { seats: Seat[]; avoided: Map<string, string> } {
  const total = lengthOf(stretches);
  const pitch = total / count;
  const avoided = new Map<string, string>();
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

/** kg that loads are told apart by when weights are chosen. Origin: own choice; kitchen scales are no finer. */
const STEP = 0.01;
/** Heavier than any stack on a bench, kg: more is not looked for. Origin: own choice. */
const HEAVIEST = 2000;

/**
 * The weights of the shop that come to a load and pass it least, of these the fewest; all of them where they do not
 * suffice. A subset sum over steps of 10 g, so that its time grows with the load and the number of weights, no faster.
 * @param kilograms kg
 */
export function weightsFor(kilograms: number, weights: readonly number[]): number[] {
  const sorted = weights.toSorted((a, b) => b - a);
  const steps = sorted.map((w) => Math.floor(w / STEP + 1e-9));
  const wanted = Math.ceil(Math.min(kilograms, HEAVIEST) / STEP - 1e-9);
  const all = steps.reduce((s, w) => s + w, 0);
  if (wanted <= 0) return [];
  if (all < wanted) return sorted;
  // A least set passes the load by less than its lightest weight, so no sum needs to be known beyond the heaviest.
  const top = Math.min(all, wanted + steps[0]!);
  const fewest = new Uint16Array(top + 1).fill(0xffff);
  fewest[0] = 0;
  const takes = steps.map((w) => {
    const taken = new Uint8Array(top + 1);
    for (let sum = top; sum >= w && w > 0; sum--)
      if (fewest[sum - w]! + 1 < fewest[sum]!) {
        fewest[sum] = fewest[sum - w]! + 1;
        taken[sum] = 1;
      }
    return taken;
  });
  let sum = wanted;
  while (fewest[sum] === 0xffff) sum++;
  const chosen: number[] = [];
  for (let k = steps.length - 1; k >= 0; k--)
    if (takes[k]![sum] === 1) {
      chosen.unshift(sorted[k]!);
      sum -= steps[k]!;
    }
  return chosen;
}

export interface PressOptions {
  bench?: ClosingBench;
  way?: 'by-hand' | 'clips' | 'weight';
  /** °C */
  room?: number;
}

/**
 * How a new bond is pressed: the load that its own area asks for, and that load with what the shop has. Clips stand over the
 * bond, evenly, off cameras, cells, buttons and lenses; the panel is looked at as a beam between its rims and as a plate.
 */
export function pressOf(model: Model, bond: Bond, options: PressOptions = {}): PressPlan {
  const bench = options.bench ?? CLOSING_BENCH;
  const area = areaOf(bondRegion(bond, (id) => model.parts.get(id)!.outline));
  const pressure = PRESSURE[bond.kind];
  const newtons = pressure * area;
  const kilograms = newtons / GRAVITY;
  const panel = bond.joins.map((id) => model.parts.get(id)!).find((p) => !p.fixed);
  const [, , width, height] = panel
    ? boundsOf(panel.outline)
    : [0, 0, model.anatomy.body.width, model.anatomy.body.height];
  const thickness = glassThickness(panel);
  const flat = isLined(bond);
  const clips = flat ? clipsFor(model, bond, newtons, thickness, Math.min(width, height), bench) : null;
  const whole = panelLoad(model, bond, panel);
  const weights = weightsFor(Math.min(whole.kilograms, HEAVIEST_LOAD), bench.weights);
  const platesUnder = (kg: number) =>
    panel?.glass ? weightChecks(kg * GRAVITY, [width, height], thickness, bench.foamFrame) : [];
  const heavy = () => weights.reduce((s, w) => s + w, 0);
  // The limit of the glass comes first, then what the tape needs.
  while (weights.length > 1 && !platesUnder(heavy()).every((c) => c.holds)) weights.pop();
  const weight = heavy();
  const weighed = Math.min(1, weight / Math.max(1e-9, whole.kilograms));
  const plates = platesUnder(weight);
  const byWeight = weighed >= LEAST_LOAD && plates.every((c) => c.holds);
  const even = clips?.checks.every((c) => c.holds) ?? false;
  const byClips = even && clips!.lacking === 0;
  const inTurns = even && clips!.kind.count > 0;
  const wantedBands = bench.bands.newtons > 0 ? Math.ceil(newtons / (2 * bench.bands.newtons)) : 0;
  const bandCount = Math.min(wantedBands, bench.bands.count);
  const byBands = flat && bandCount > 0 && bandCount / wantedBands >= LEAST_LOAD;
  const [way, because] = wayOf(options.way ?? 'clips', flat, { byWeight, byClips, inTurns, byBands });
  const evenness = way === 'clips' ? clips!.evenness : EVENNESS[way];
  const share = way === 'weight' ? weighed : way === 'bands' ? bandCount / wantedBands : 1;
  const turns = way === 'clips' ? Math.ceil(clips!.clips.length / clips!.kind.count) : 1;
  const notes = [
    'Between foam or silicone, never metal on glass. Nothing of this is a promise: look at the seam all round afterwards.',
  ];
  if (whole.bonds.length > 1)
    notes.push(
      `${whole.bonds.length} bonds hold this panel and are pressed at once: ${whole.kilograms.toFixed(1)} kg in all.`,
    );
  if (share < 1)
    notes.push(
      `The load is ${Math.round(share * 100)} % of what the tape asks for, and stands so much longer: no device is loaded with more than ${HEAVIEST_LOAD} kg.`,
    );
  if (weight > whole.kilograms * OVER && way === 'weight')
    notes.push(`${weight} kg are more than wanted: lighter weights serve better.`);
  if (!flat) notes.push('A pad inside the device is pressed with fingertips, never with a clip over the cell.');
  if (clips && clips.lacking > 0)
    notes.push(
      `${clips.lacking} more clips of ${clips.kind.newtons} N would press it all at once; else press one stretch after the other.`,
    );
  return {
    bond: bond.id,
    area,
    pressure,
    newtons,
    kilograms,
    panel: whole,
    way,
    because,
    weights,
    clips: clips?.clips ?? [],
    clip: clips ? { ...clips.kind, lacking: clips.lacking } : null,
    bands: bandCount,
    turns,
    share,
    evenness,
    seconds: turns * secondsFor(bond, flat, evenness * share, bench, options.room ?? ROOM_USUAL),
    checks: [...(clips?.checks ?? []), ...plates],
    avoided: [...(clips?.avoided ?? [])].map(([part, why]) => ({ part, because: why })),
    notes,
  };
}

/** A bond under a lid, a panel or a cover: along a line, so that a load can be put on it from outside. */
const isLined = (bond: Bond): boolean => 'perimeterOf' in bond.at || 'line' in bond.at;

/** The load of all bonds that hold one panel down: they are pressed at once, under one load. */
function panelLoad(model: Model, bond: Bond, panel: Part | undefined): PressPlan['panel'] {
  // Where glue takes the place of this tape, it does of the others.
  const glued = bond.kind === 'glue' && model.bonds.get(bond.id)?.kind === 'tape';
  const under = bond.joins.filter((id) => id !== panel?.id);
  const held = (b: Bond) =>
    b.joins.every((id) => id === panel?.id || under.includes(id) || model.parts.get(id)?.fixed === true);
  const all = model.anatomy.bonds.filter(
    (b) =>
      b.id === bond.id || (panel !== undefined && isLined(bond) && isLined(b) && b.joins.includes(panel.id) && held(b)),
  );
  const newtons = all.reduce(
    (s, b) =>
      s +
      PRESSURE[b.id === bond.id ? bond.kind : glued && b.kind === 'tape' ? 'glue' : b.kind] *
        areaOf(bondRegion(b, (id) => model.parts.get(id)!.outline)),
    0,
  );
  return { bonds: all.map((b) => b.id), newtons, kilograms: newtons / GRAVITY };
}

/**
 * A weight on a panel of glass. On a frame of foam all of it goes into the bond; flat, the panel bends until it touches what
 * lies beneath it, and what is more rests on that. Up to there a plate is a linear one, for it bends by less than half its
 * thickness (Timoshenko, Theory of Plates and Shells, from memory).
 */
function weightChecks(
  newtons: number,
  sides: readonly [number, number],
  thickness: number,
  foamFrame: boolean,
): PressCheck[] {
  const bent = evenPressure(newtons / Math.max(1, sides[0] * sides[1]), sides, thickness, GLASS.modulus);
  const share = Math.min(1, MOST_GIVEN / Math.max(1e-9, bent.deflection));
  if (foamFrame)
    return [
      {
        what: 'Weight on a foam frame cut to the bond',
        value: 0,
        limit: GLASS.stress,
        unit: 'MPa',
        holds: true,
        because:
          share < 1
            ? `the frame leads all of it into the bond; flat on bare glass the panel would touch what lies beneath it at ${Math.round(share * 100)} % of the load`
            : `the frame leads all of it into the bond; flat on bare glass it would be ${bent.stress.toFixed(1)} MPa`,
      },
    ];
  return [
    {
      what: 'Weight flat on the whole panel',
      value: bent.stress * share,
      limit: GLASS.stress,
      unit: 'MPa',
      holds: bent.stress * share <= GLASS.stress,
      because: `bending in the middle of the panel, held at its rim (Roark, from memory)${share < 1 ? ', up to where it touches what lies beneath' : ''}`,
    },
    {
      what: 'Load that the panel bears by itself',
      value: newtons,
      limit: newtons * share,
      unit: 'N',
      holds: share >= 1,
      because: `beyond that it is bent by ${MOST_GIVEN} mm and rests on what lies beneath it, the cell too`,
    },
  ];
}

function wayOf(
  wanted: NonNullable<PressOptions['way']>,
  flat: boolean,
  can: { byWeight: boolean; byClips: boolean; inTurns: boolean; byBands: boolean },
): [PressWay, string] {
  if (!flat) return ['hand', 'an inner pad is pressed with fingertips'];
  if (wanted === 'by-hand') return ['hand', 'the house presses by hand along the edge'];
  if (wanted === 'weight' && can.byWeight) return ['weight', 'the way of the house'];
  if (wanted === 'clips' && can.byClips) return ['clips', 'the way of the house'];
  if (can.byWeight) return ['weight', 'the clips at hand do not press it evenly, or press where they must not'];
  if (can.byClips) return ['clips', 'the weights at hand do not come to the load, or bend the panel'];
  if (can.inTurns) return ['clips', 'the clips at hand press one stretch after the other'];
  if (can.byBands) return ['bands', 'neither clips nor weights at hand do'];
  return ['hand', 'nothing at hand comes to the load: press along the edge, stretch by stretch, several times'];
}

/** Less pressure takes longer, in proportion, within bounds. Origin: own estimate; wetting of a soft tape goes with pressure × time. */
function secondsFor(bond: Bond, flat: boolean, evenness: number, bench: ClosingBench, room: number): number {
  if (bond.kind === 'glue') return settingOf(bench.glue, room, bench.humidity).handle;
  if (bond.kind === 'gasket') return PRESS_SECONDS.gasket;
  if (!flat || bond.kind !== 'tape') return PRESS_SECONDS.byHand;
  const { tape, most } = PRESS_SECONDS;
  return Math.ceil(Math.min(most, tape / Math.max(0.05, Math.min(1, evenness))) / 10 - 1e-9) * 10;
}

interface Clips {
  clips: Clip[];
  kind: ClipKind;
  lacking: number;
  evenness: number;
  checks: PressCheck[];
  avoided: Map<string, string>;
}

function clipsFor(
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
      what: `${clips.length} clips of ${kind.newtons} N`,
      value: all,
      limit: newtons,
      unit: 'N',
      least: true,
      holds: all >= newtons - 1e-6,
      because: 'all of them press with their own springs, and together come to the load',
    },
    {
      what: 'Pressure at the weakest spot between them',
      value: evenness * 100,
      limit: EVENNESS.leastOfClips * 100,
      unit: '%',
      least: true,
      holds: evenness >= EVENNESS.leastOfClips,
      because: 'of what is wanted; panel and tape as a beam on an elastic bed (Hetényi, from memory)',
    },
    {
      what: `A foot of ${kind.foot} mm on a bond of ${width} mm`,
      value: stress,
      limit: GLASS.stress,
      unit: 'MPa',
      holds: stress <= GLASS.stress,
      because:
        overhang > 0
          ? `${overhang.toFixed(1)} mm of it lie on glass without support: a force beside a support (Roark, from memory)`
          : `all of it lies over the ${bond.kind === 'glue' ? 'bead' : 'bond'}`,
    },
    {
      what: 'The glass under that foot gives',
      value: bent.deflection,
      limit: MOST_GIVEN,
      unit: 'mm',
      holds: bent.deflection <= MOST_GIVEN,
      because: 'what lies beneath a panel stands close under it',
    },
  ];
}
