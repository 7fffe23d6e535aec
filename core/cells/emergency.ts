/** What a cell does when it goes wrong, mildest first. */
export const EMERGENCIES = ['swelling', 'hissing', 'smoke'] as const;
export type Emergency = (typeof EMERGENCIES)[number];

/** The few acts, in order. Origin: common practice; local fire rules come first. */
export const EMERGENCY_ACTS: Record<Emergency, { title: string; acts: readonly string[] }> = {
  smoke: {
    title: 'Smoke or flame',
    acts: [
      'Everybody out of the fumes. Do not breathe them.',
      'Call the fire service. Say: lithium cell.',
      'Only if it is small and you can stand upwind: dry sand over it, all of the bucket.',
      'No lid pressed on, no carrying. Pull the mains plug if it is away from the smoke.',
      'Doors shut behind you. Nobody goes back before the fire service says so.',
    ],
  },
  hissing: {
    title: 'Hissing, or hot and growing',
    acts: [
      'Hands and face away. Glasses on.',
      'Pull the cable. Touch nothing that is hot with bare hands.',
      'With tongs: into the sand box, sand over it, outdoors if the way is short and clear.',
      'Leave it there. Keep everybody 3 m away, windows open.',
      'If it smokes: out, and the fire service.',
    ],
  },
  swelling: {
    title: 'Swelling, bent or pierced',
    acts: [
      'Stop. Do not press it flat, do not pierce it, do not charge it.',
      'Pull the cable. Open its plug only if it lies free and nothing has to be levered.',
      'Carry it flat, with both hands or tongs, into the sand box.',
      'Watch it for an hour. A hurt cell may start late.',
      'Label the box. It goes to the licensed collection, never by mail.',
    ],
  },
};

export const EMERGENCY_RULE = 'Local fire rules and the fire service come first. People before devices, always.';
