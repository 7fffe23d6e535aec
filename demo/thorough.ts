/** `NIBREL_THOROUGH=1 npm test` tries every case of the slowest checks; else a share of them, the same ones each time. */
export const THOROUGH = process.env.NIBREL_THOROUGH === '1';

/** How many random cases are tried: all of them, or one of every `share`. */
export const amountOf = (all: number, share: number): number => (THOROUGH ? all : Math.round(all / share));

/** Is this one of those that are tried: every one, or one of every `share`, the first among them? */
export const isTried = (index: number, share: number): boolean => THOROUGH || index % share === 0;
