import type { CellMark, Emergency, Removal, TransplantDone } from '../cells/index.ts';
import type { FitReadings } from '../closing/index.ts';
import type { CellMeasured, LeakTold, WhichCell } from './events.ts';

/** What is known of one cell of a job. */
export interface CellRecord {
  cell: string;
  of: WhichCell;
  measured: Map<CellMeasured['measure'], CellMeasured & { at: string }>;
  seen: { removal: Removal; marks: readonly CellMark[]; at: string; by: string } | null;
  boxed: { box: string; why: string; at: string } | null;
}

export interface LeakTest extends LeakTold {
  limit: number;
  seconds: number;
  simulated: boolean;
  at: string;
}

/** What the closing of a device and the care of its cells have come to. */
export interface CareState {
  cells: Map<string, CellRecord>;
  fits: Map<string, { readings: FitReadings; at: string; by: string }>;
  leaks: LeakTest[];
  transplant: TransplantDone[];
  incidents: { kind: Emergency; note: string; at: string; by: string }[];
}

export const noCare = (): CareState => ({
  cells: new Map(),
  fits: new Map(),
  leaks: [],
  transplant: [],
  incidents: [],
});

export const copyCare = (c: CareState): CareState => ({
  cells: new Map([...c.cells].map(([key, r]) => [key, { ...r, measured: new Map(r.measured) }])),
  fits: new Map(c.fits),
  leaks: [...c.leaks],
  transplant: [...c.transplant],
  incidents: [...c.incidents],
});

export const cellKey = (cell: string, of: WhichCell): string => `${cell} ${of}`;
