import type { Language } from '../language.ts';

/** Words of kinds of things: what a new one is called, and what is said where strips are laid instead of it. */
export const kinds: Pick<Language, 'bonds' | 'pulled'> = {
  pulled: {
    cap: 'A rubber cap: raise its lip and pull it; it has no thread.',
    plug: 'It sits by friction: pull it straight out; it has no thread.',
    'press-fit': 'Pressed in: ease it out evenly, a little on either side; it has no thread.',
  },
  bonds: {
    tape: { fresh: 'new tape', strips: 'Strips of tape take its place.' },
    glue: {
      fresh: 'new glue',
      strips: 'The maker glued this bond; strips stand in for it only where both sides are flat and clean.',
    },
    gasket: {
      fresh: 'a new gasket',
      strips: 'The maker has a gasket here; strips do not take its place where it seals against water.',
    },
    'stretch-tab': {
      fresh: 'new stretch strips',
      strips: 'Stretch-release strips only: one for each tab, its tab left where it can be gripped.',
    },
    'pull-pouch': {
      fresh: 'a new pull pouch',
      strips: 'The maker has a pull pouch here; with strips the cell is lifted with solvent the next time.',
    },
    thermal: {
      fresh: 'paste or pad',
      strips: 'Paste or a pad conducts heat here; tape does not take its place.',
    },
    foil: { fresh: 'a new foil', strips: 'A foil lies here; strips fix only its rim.' },
  },
};
