/*
 * What the judge finds wrong: codes and what they are about. Items and functions are ids; temperatures in °C.
 */
export type JudgeMessage =
  | {
      code:
        | 'charge-unchecked'
        | 'draw-not-waited'
        | 'drawn-for-nothing'
        | 'gate-before-tests'
        | 'heats-other-half'
        | 'no-press-waited'
        | 'not-cut-at-once'
        | 'not-powered-off'
        | 'not-signed'
        | 'rests-on-inner'
        | 'switched-on';
    }
  | {
      code:
        | 'back-before-power'
        | 'bears-no-cup'
        | 'bears-no-solvent'
        | 'bonded-untried'
        | 'clamped-inside'
        | 'closed-unclean'
        | 'cut-unsoftened'
        | 'down-with-liners'
        | 'gasket-unseen'
        | 'hangs-in-heat'
        | 'hangs-unmated'
        | 'in-already'
        | 'in-place-already'
        | 'in-unclean'
        | 'is-fixed'
        | 'joint-unseen'
        | 'kept-is-cut'
        | 'laid-before-power'
        | 'leaks-untested'
        | 'left-for-later'
        | 'left-in-well'
        | 'left-on-hinge'
        | 'left-on-mat'
        | 'left-open'
        | 'lies-loose'
        | 'never-back-not-renewed'
        | 'no-gap'
        | 'no-gap-back'
        | 'not-closed-again'
        | 'not-compared'
        | 'not-fluxed'
        | 'not-renewed'
        | 'not-replaced'
        | 'not-there'
        | 'off-already'
        | 'only-taped'
        | 'open-already'
        | 'out-already'
        | 'pressed-by-screws'
        | 'raised-inside'
        | 'released-already'
        | 'renew-first'
        | 'seal-unpressed'
        | 'sealed-untested'
        | 'seat-unseen'
        | 'seated-already'
        | 'soldered-live'
        | 'solvent-beside-power'
        | 'stands-not-open'
        | 'still-open-power-last'
        | 'swings-not'
        | 'tray-first'
        | 'turned-while-open'
        | 'worked-live-inside';
      item: string;
    }
  | {
      code:
        | 'beside-iron'
        | 'comes-out-first'
        | 'covered-unseated'
        | 'driven-too-late'
        | 'flex-beneath'
        | 'flex-lies-over'
        | 'freed-beneath'
        | 'goes-back-before'
        | 'goes-first'
        | 'holds-down-flex'
        | 'holds-what-is-off'
        | 'laid-too-late'
        | 'lies-on-flex'
        | 'lies-on-mated'
        | 'lies-over'
        | 'lifting-parts-live'
        | 'mated-already-on'
        | 'mated-before'
        | 'mated-before-cell'
        | 'mated-first-beneath'
        | 'no-tether'
        | 'not-on-own-mat'
        | 'on-inner-side'
        | 'opened-live'
        | 'out-live'
        | 'over-uncounted'
        | 'reached-tilted'
        | 'rider-stands-in'
        | 'stands-in-it'
        | 'still-joins'
        | 'under-held-rim'
        | 'would-close-over'
        | 'would-hang-on';
      item: string;
      other: string;
    }
  | { code: 'tool-conducts-live'; tool: string }
  | { code: 'other-face-up'; face: 'front' | 'back' }
  | { code: 'lies-otherwise'; lies: string; wanted: string }
  | { code: 'not-worked-so'; item: string; wanted: string }
  | { code: 'asked-too-hot'; item: string; bears: number; celsius: number }
  | { code: 'lies-too-hot'; item: string; bears: number; source: string; celsius: number }
  | { code: 'above-house-limit'; celsius: number; bears: number }
  | { code: 'too-cool'; celsius: number; softensAt: number }
  | { code: 'open-face-on-mat'; item: string; face: 'front' | 'back' }
  | { code: 'rating-untold'; item: string; ingress: string }
  | { code: 'asked-though-lost' | 'touched-untested'; function: string }
  | { code: 'cannot-pass'; function: string; item: string }
  /** An order of the document, in its own words. */
  | { code: 'ordered-first'; item: string; words: string };
