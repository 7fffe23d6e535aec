import type { Corner, Edge, Motion, Part } from '../../anatomy/index.ts';

const isEdge = (from: Edge | Corner): from is Edge => !from.includes('-');
const place = (from: Edge | Corner): string =>
  isEdge(from) ? `the ${from} edge` : `the ${from.replace('-', ' ')} corner`;
const turned = (degrees: number | null): string => (degrees === null ? '' : `, by about ${degrees}°`);
const tilted = (degrees: number | null): string => (degrees === null ? '' : ` to about ${degrees}°`);

const OUT: Record<Motion['how'], (from: string, degrees: number | null) => string> = {
  lift: (from) => `Raise ${from} first, then lift it straight up.`,
  slide: (from) => `Slide it out towards ${from}.`,
  tilt: (from, degrees) => `Tilt it up at ${from}${tilted(degrees)}, then draw it out.`,
  hook: (from, degrees) => `Raise the far side${tilted(degrees)} and unhook it at ${from} last.`,
  rotate: (from, degrees) => `Turn it out about ${from}${turned(degrees)}.`,
};
const IN: Record<Motion['how'], (from: string, degrees: number | null) => string> = {
  lift: (from) => `Set it down straight; ${from} last.`,
  slide: (from) => `Slide it in from ${from} until it stops.`,
  tilt: (from, degrees) => `Enter it tilted${degrees === null ? '' : ` by about ${degrees}°`}, ${from} down last.`,
  hook: (from, degrees) =>
    `Hook it in at ${from} first${degrees === null ? '' : `, at about ${degrees}°`}, then lay it down.`,
  rotate: (from, degrees) => `Set it on ${from} and turn it in${turned(degrees)}.`,
};

/** How a part comes away once nothing holds it; empty where it is lifted straight up. */
export function wordsOut({ leaves, pryAt, limits }: Part): string {
  const pried = pryAt ? `Pry at ${pryAt.map((v) => v.toFixed(0)).join(', ')} mm only.` : '';
  const way = leaves ? OUT[leaves.how](leaves.from ? place(leaves.from) : 'one side', leaves.degrees) : '';
  return [pried, way, flat(limits)].filter(Boolean).join(' ');
}

/** R23, in words: what bears no bending is carried flat. */
const flat = (limits: Part['limits']): string =>
  limits?.bend === false ? 'It does not bear bending: both hands, flat, raised evenly all round.' : '';

/** How a part goes in; empty where it is set down straight. The way out reversed where the anatomy says no other. */
export function wordsIn({ enters, leaves, limits }: Part): string {
  const motion = enters ?? leaves;
  const way = motion ? IN[motion.how](motion.from ? place(motion.from) : 'one side', motion.degrees) : '';
  return [way, flat(limits)].filter(Boolean).join(' ');
}
