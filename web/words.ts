import type { Step, Verb } from '../core/dive/index.ts';

/** The verbs of a plan as they stand on screen, one short imperative each. */
export const VERB_WORDS: Record<Verb, string> = {
  'power-off': 'Power off', discharge: 'Discharge', eject: 'Eject', film: 'Cover with film', 'tape-glass': 'Tape the glass', photo: 'Photograph', heat: 'Heat',
  gap: 'Raise a gap', cut: 'Cut', solvent: 'Apply solvent', unscrew: 'Unscrew', disconnect: 'Disconnect', release: 'Release', swing: 'Swing open', lift: 'Lift off', pull: 'Pull',
  desolder: 'Unsolder', 'bend-aside': 'Bend aside', 'turn-over': 'Turn over', inspect: 'Inspect', clean: 'Clean', transfer: 'Move across', fit: 'Fit', connect: 'Seat',
  fasten: 'Fasten', bond: 'Lay new', 'remove-liner': 'Take off liners', press: 'Press', cure: 'Let cure', solder: 'Solder', gate: 'Gate', test: 'Test', 'power-on': 'Power on', renew: 'Renew',
};

export const PHASE_WORDS: Record<Step['phase'], string> = { prepare: 'Prepare', descent: 'Descend', turn: 'Turn', ascent: 'Ascend', prove: 'Prove' };

export const DEVIATION_WORDS: Record<string, string> = {
  stripped: 'Screw stripped', missing: 'Missing', extra: 'Something extra', torn: 'Flex torn', broken: 'Part broken', 'not-as-drawn': 'Not as drawn', 'already-replaced': 'Replaced before',
};

/** What a step is about, for its colour and its shape. */
export type Trade = 'screw' | 'connector' | 'bond' | 'part' | 'heat' | 'gate' | 'test' | 'hand';

export function tradeOf(step: Pick<Step, 'do'>): Trade {
  switch (step.do) {
    case 'unscrew': case 'fasten': return 'screw';
    case 'disconnect': case 'desolder': case 'connect': case 'solder': case 'bend-aside': return 'connector';
    case 'gap': case 'cut': case 'pull': case 'release': case 'bond': case 'remove-liner': case 'press': case 'cure': case 'solvent': return 'bond';
    case 'swing': case 'lift': case 'fit': case 'transfer': case 'eject': case 'renew': return 'part';
    case 'heat': return 'heat';
    case 'gate': return 'gate';
    case 'test': case 'power-on': return 'test';
    default: return 'hand';
  }
}

export const TRADE_COLOUR: Record<Trade, string> = {
  screw: 'var(--brass)', connector: 'var(--teal)', bond: 'var(--mauve)', part: 'var(--petrol)', heat: 'var(--ember)', gate: 'var(--ink)', test: 'var(--moss)', hand: 'var(--quiet)',
};
