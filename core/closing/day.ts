import type { ClosingBench } from './bench.ts';
import { cutStock } from './stock.ts';
import type { StripPlan } from './strips.ts';
import { STRIP_LIMITS } from './tape.ts';

/** One strip of one job. */
export interface DayPiece {
  job: number;
  bond: string;
  strip: number;
  length: number;
}

/** A lane of a sheet with what is cut from it, in order. */
export interface DayLane {
  width: number;
  pieces: DayPiece[];
  left: number;
}

export interface DayCut {
  /** Each sheet with its lanes, side by side along its longer side. */
  sheets: { size: [number, number]; lanes: DayLane[]; across: number }[];
  /** What comes off each roll, mm. */
  rolls: { width: number; length: number; pieces: DayPiece[] }[];
  /** mm that the cutting leaves of the lanes that are begun: what is minimised; and of it what is long enough to keep. */
  waste: number;
  kept: number;
  proved: boolean;
  /** Pieces that are longer than any sheet. */
  tooLong: DayPiece[];
}

/** mm that a knife takes between two lanes or pieces. Origin: own choice; a blade along a steel rule. */
export const KERF = 0.3;

/**
 * The strips of several jobs from as few sheets as can be, in two stages, as a knife cuts: lanes along a sheet, then pieces
 * across each lane. Lanes are one-dimensional cutting stock, and so are the lanes on the sheets.
 */
export function cutDay(jobs: readonly { job: number; plan: StripPlan }[], bench: Pick<ClosingBench, 'sheets'>): DayCut {
  const sheet = bench.sheets[0];
  const pieces = jobs.flatMap(({ job, plan }) =>
    plan.strips.map((s) => ({ job, bond: plan.bond, strip: s.n, length: s.length, width: s.width, from: s.from })),
  );
  const rolls = new Map<number, DayPiece[]>();
  const lanesOf = new Map<number, DayPiece[]>();
  const tooLong: DayPiece[] = [];
  const [long, short] = sheet ? [Math.max(...sheet), Math.min(...sheet)] : [0, 0];
  for (const { width, from, ...piece } of pieces) {
    if ('roll' in from) rolls.set(from.roll, [...(rolls.get(from.roll) ?? []), piece]);
    else if (piece.length > long) tooLong.push(piece);
    else lanesOf.set(width, [...(lanesOf.get(width) ?? []), piece]);
  }
  let waste = 0;
  let kept = 0;
  let proved = true;
  const lanes: DayLane[] = [...lanesOf].flatMap(([width, own]) => {
    const named = own.map((p, i) => ({ id: String(i), length: p.length }));
    const cut = cutStock(named, [{ id: 'lane', length: long }], KERF);
    proved &&= cut.proved;
    return cut.cuts.map((c) => {
      waste += c.left;
      if (c.left >= STRIP_LIMITS.kept) kept += c.left;
      return { width, pieces: c.pieces.map((id) => own[Number(id)]!), left: c.left };
    });
  });
  const across =
    lanes.length === 0
      ? []
      : cutStock(
          lanes.map((l, i) => ({ id: String(i), length: l.width })),
          [{ id: 'sheet', length: short }],
          KERF,
        ).cuts;
  return {
    sheets: across.map((c) => ({ size: sheet!, lanes: c.pieces.map((id) => lanes[Number(id)]!), across: c.left })),
    rolls: [...rolls].map(([width, own]) => ({ width, length: own.reduce((s, p) => s + p.length, 0), pieces: own })),
    waste,
    kept,
    proved,
    tooLong,
  };
}
