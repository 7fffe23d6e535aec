/** What a bench supply tells at one moment: s from switching on, V at its terminals, A that it gives. */
export interface SupplySample {
  seconds: number;
  volts: number;
  amps: number;
}

export const START_KINDS = ['normal', 'none', 'short', 'loops'] as const;
export type StartKind = (typeof START_KINDS)[number];

/** A below which nothing is drawn, and from which on a device at rest has a short. Origin: own estimate for one cell. */
export const START_LIMITS = { nothing: 0.01, short: 1.5, working: 0.12 } as const;
/** Times that the current has to fall back to nothing to be a loop. Origin: own choice. */
const LOOPS = 2;

/**
 * What a device does at its start, by the current that it draws: it draws nothing; a short draws all there is from the
 * first moment; a loop begins again and again; a start that succeeds goes on drawing.
 */
export function startKindOf(samples: readonly SupplySample[]): StartKind {
  const amps = samples.map((s) => s.amps);
  if (amps.every((a) => a < START_LIMITS.nothing)) return 'none';
  const first = amps.slice(0, Math.max(1, Math.ceil(amps.length * 0.2)));
  if (first.every((a) => a >= START_LIMITS.short)) return 'short';
  let falls = 0;
  let up = false;
  for (const a of amps) {
    if (a >= START_LIMITS.working) up = true;
    else if (up && a < START_LIMITS.working / 2) {
      falls++;
      up = false;
    }
  }
  if (falls >= LOOPS) return 'loops';
  return up ? 'normal' : 'none';
}
