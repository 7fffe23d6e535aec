/** What a step may hurt or spoil; `words/` says what to heed. */
export const CAUTIONS = [
  'lithium',
  'charged-lithium',
  'glass',
  'hot',
  'solvent',
  'static',
  'solder',
  'emitter',
  'retained-charge',
  'recycling',
  'moisture',
] as const;

export type Caution = (typeof CAUTIONS)[number];
