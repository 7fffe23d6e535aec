export const OUTCOMES = ['pass', 'fail', 'waived'] as const;
export type TestOutcome = (typeof OUTCOMES)[number];

/** Where the device stood when it was tested: before the dive, at some moment of it, open with power, or closed. */
export const CIRCUMSTANCES = ['intake', 'tried', 'open', 'closed'] as const;
export type Circumstance = (typeof CIRCUMSTANCES)[number];

/** Who says that a wait is over before its time: a thermometer, or the technician, in words. */
export const EARLY_ENDS = ['thermometer', 'judged'] as const;
export type EarlyEnd = (typeof EARLY_ENDS)[number];

export const WAIT_KINDS = ['drying', 'skinning', 'pressing', 'curing', 'threadlocker', 'drawing-down'] as const;
export type WaitKind = (typeof WAIT_KINDS)[number];
/** Waits of one's own that stand before hand-over as those of the plan do (G6). */
export const BOND_WAITS: readonly WaitKind[] = ['pressing', 'curing'];

/** The cell that came with the device, or the one that goes in. */
export const WHICH_CELLS = ['old', 'new'] as const;
export type WhichCell = (typeof WHICH_CELLS)[number];

/** charge %, capacity mAh, cycles, ohms Ω, rest and later V at rest (later: so many hours after). */
export const CELL_READINGS = ['charge', 'capacity', 'cycles', 'ohms', 'rest', 'later'] as const;
export type CellReading = (typeof CELL_READINGS)[number];
export const PARKED_WHYS = ['part-ordered', 'customer', 'other-work', 'dries'] as const;
export type ParkedWhy = (typeof PARKED_WHYS)[number];
