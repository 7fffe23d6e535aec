import { areaOf, bondRegion, boundsOf, type Bond, type Model, type Part } from '../anatomy/index.ts';
import { BONDS } from '../kinds/index.ts';
import { settingOf } from './bead.ts';
import { CLOSING_BENCH, type ClosingBench } from './bench.ts';
import { clipsFor, glassThickness } from './clips.ts';
import type { PressPlan, PressWay } from './pressPlan.ts';
import { weightChecks, weightsFor } from './weights.ts';
import type { PressNote, PressReason } from './messages.ts';

const GRAVITY = 9.80665;

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

/** How evenly each other way than clips presses: the least pressure anywhere as a share of what is wanted. Origin: own estimates. */
const EVENNESS = { weight: 1, bands: 0.35, hand: 0.2 } as const;
/** A load may be so much above what is wanted. Origin: own choice. */
const OVER = 1.3;

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
  const area = areaUnder(model, bond);
  const pressure = BONDS.of(bond.kind).pressure;
  const newtons = newtonsOf(model, bond);
  const kilograms = newtons / GRAVITY;
  const panel = bond.joins.map((id) => model.parts.get(id)!).find((p) => !p.fixed);
  const [, , width, height] = panel
    ? boundsOf(panel.outline)
    : [0, 0, model.anatomy.body.width, model.anatomy.body.height];
  const thickness = glassThickness(panel);
  const flat = isLined(bond);
  const clips = flat ? clipsFor(model, bond, newtons, thickness, Math.min(width, height), bench) : null;
  const together = bondsOfPanel(model, bond, panel);
  const wholeNewtons = together.reduce((sum, b) => sum + newtonsOf(model, b), 0);
  const whole = { bonds: together.map((b) => b.id), newtons: wholeNewtons, kilograms: wholeNewtons / GRAVITY };
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
  // What one weight has to press of a panel it presses all of, at once.
  const serve = (b: Bond) => {
    const found = clipsFor(model, b, newtonsOf(model, b), thickness, Math.min(width, height), bench);
    return found !== null && found.lacking === 0 && found.checks.every((c) => c.holds);
  };
  const byClips = even && clips!.lacking === 0 && (!byWeight || together.every((b) => b.id === bond.id || serve(b)));
  const inTurns = even && clips!.kind.count > 0;
  const wantedBands = bench.bands.newtons > 0 ? Math.ceil(newtons / (2 * bench.bands.newtons)) : 0;
  const bandCount = Math.min(wantedBands, bench.bands.count);
  const byBands = flat && bandCount > 0 && bandCount / wantedBands >= LEAST_LOAD;
  const [way, because] = wayOf(options.way ?? 'clips', flat, { byWeight, byClips, inTurns, byBands });
  const evenness = way === 'clips' ? clips!.evenness : EVENNESS[way];
  const share = way === 'weight' ? weighed : way === 'bands' ? bandCount / wantedBands : 1;
  const turns = way === 'clips' ? Math.ceil(clips!.clips.length / clips!.kind.count) : 1;
  const notes: PressNote[] = [{ code: 'press-between-foam' }];
  if (whole.bonds.length > 1) notes.push({ code: 'pressed-at-once', bonds: whole.bonds.length, load: whole.kilograms });
  if (share < 1) notes.push({ code: 'load-is-less', percent: Math.round(share * 100) });
  if (share < 1 && whole.kilograms > HEAVIEST_LOAD) notes.push({ code: 'load-at-most', most: HEAVIEST_LOAD });
  if (weight > whole.kilograms * OVER && way === 'weight') notes.push({ code: 'weight-too-much', weight });
  if (!flat) notes.push({ code: 'pad-by-fingertips' });
  if (clips && clips.lacking > 0)
    notes.push({ code: 'more-clips', lacking: clips.lacking, newtons: clips.kind.newtons });
  return {
    bond: bond.id,
    area,
    pressure,
    newtons,
    kilograms,
    panel: whole,
    way,
    because: { code: because },
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

/** mm² */
const areaUnder = (model: Model, bond: Bond): number => areaOf(bondRegion(bond, (id) => model.parts.get(id)!.outline));

/** N that a bond asks for by itself. */
const newtonsOf = (model: Model, bond: Bond): number => BONDS.of(bond.kind).pressure * areaUnder(model, bond);

/** A bond under a lid, a panel or a cover: along a line, so that a load can be put on it from outside. */
const isLined = (bond: Bond): boolean => 'perimeterOf' in bond.at || 'line' in bond.at;

/** All bonds that hold one panel down, as they are pressed: at once, under one load. */
function bondsOfPanel(model: Model, bond: Bond, panel: Part | undefined): Bond[] {
  // Where something else is laid in the place of this one, it is of the others.
  const drawn = model.bonds.get(bond.id)?.kind ?? bond.kind;
  const under = bond.joins.filter((id) => id !== panel?.id);
  const held = (b: Bond) =>
    b.joins.every((id) => id === panel?.id || under.includes(id) || model.parts.get(id)?.fixed === true);
  return model.anatomy.bonds.flatMap((b) => {
    if (b.id === bond.id) return [bond];
    const beside = panel !== undefined && isLined(bond) && isLined(b) && b.joins.includes(panel.id) && held(b);
    return beside ? [b.kind === drawn && drawn !== bond.kind ? { ...b, kind: bond.kind } : b] : [];
  });
}

function wayOf(
  wanted: NonNullable<PressOptions['way']>,
  flat: boolean,
  can: { byWeight: boolean; byClips: boolean; inTurns: boolean; byBands: boolean },
): [PressWay, PressReason['code']] {
  if (!flat) return ['hand', 'by-fingertips'];
  if (wanted === 'by-hand') return ['hand', 'by-hand-of-house'];
  if (wanted === 'weight' && can.byWeight) return ['weight', 'way-of-house'];
  if (wanted === 'clips' && can.byClips) return ['clips', 'way-of-house'];
  if (can.byWeight) return ['weight', 'clips-uneven'];
  if (can.byClips) return ['clips', 'weights-unfit'];
  if (can.inTurns) return ['clips', 'clips-in-turns'];
  if (can.byBands) return ['bands', 'neither-clips-nor-weights'];
  return ['hand', 'nothing-comes-to-load'];
}

/**
 * Less pressure takes longer, in proportion, within bounds. Origin: own estimate; wetting of a soft tape goes with pressure
 * times time.
 */
function secondsFor(bond: Bond, flat: boolean, evenness: number, bench: ClosingBench, room: number): number {
  const { takes } = BONDS.of(bond.kind);
  if (takes === 'cure') return settingOf(bench.glue, room, bench.humidity).handle;
  if (takes === 'shut') return PRESS_SECONDS.gasket;
  if (!flat || takes !== 'wetting') return PRESS_SECONDS.byHand;
  const { tape, most } = PRESS_SECONDS;
  return Math.ceil(Math.min(most, tape / Math.max(0.05, Math.min(1, evenness))) / 10 - 1e-9) * 10;
}
