import type { ClosingCode, Language } from '../language.ts';

/** What is said of closing a device. */
export const closing: Pick<Language['messages'], ClosingCode> = {
  'by-fingertips': 'an inner pad is pressed with fingertips',
  'by-hand-of-house': 'the house presses by hand along the edge',
  'way-of-house': 'the way of the house',
  'clips-uneven': 'the clips at hand do not press it evenly, or press where they must not',
  'weights-unfit': 'the weights at hand do not come to the load, or bend the panel',
  'clips-in-turns': 'the clips at hand press one stretch after the other',
  'neither-clips-nor-weights': 'neither clips nor weights at hand do',
  'nothing-comes-to-load': 'nothing at hand comes to the load: press along the edge, stretch by stretch, several times',

  'press-between-foam':
    'Between foam or silicone, never metal on glass. Nothing of this is a promise: look at the seam all round afterwards.',
  'pad-by-fingertips': 'A pad inside the device is pressed with fingertips, never with a clip over the cell.',
  'pressed-at-once': '{bonds} bonds hold this panel and are pressed at once: {load, number, ::.0} kg in all.',
  'load-is-less': 'The load is {percent} % of what the tape asks for, and stands so much longer.',
  'load-at-most': 'No device is loaded with more than {most} kg.',
  'weight-too-much': '{weight} kg are more than wanted: lighter weights serve better.',
  'more-clips':
    '{lacking} more clips of {newtons} N would press it all at once; else press one stretch after the other.',

  'check-clips': '{clips} clips of {newtons} N',
  'check-weakest': 'Pressure at the weakest spot between them',
  'check-foot': 'A foot of {foot} mm on a bond of {width} mm',
  'check-glass-gives': 'The glass under that foot gives',
  'check-on-frame': 'Weight on a foam frame cut to the bond',
  'check-flat': 'Weight flat on the whole panel',
  'check-bears': 'Load that the panel bears by itself',
  'springs-come-to-load': 'all of them press with their own springs, and together come to the load',
  'elastic-bed': 'of what is wanted; panel and tape as a beam on an elastic bed (Hetényi, from memory)',
  'foot-unsupported':
    '{overhang, number, ::.0} mm of it lie on glass without support: a force beside a support (Roark, from memory)',
  'foot-over-bead': 'all of it lies over the bead',
  'foot-over-bond': 'all of it lies over the bond',
  'stands-close': 'what lies beneath a panel stands close under it',
  'frame-leads-touching':
    'the frame leads all of it into the bond; flat on bare glass the panel would touch what lies beneath it at {percent} % ' +
    'of the load',
  'frame-leads-stress':
    'the frame leads all of it into the bond; flat on bare glass it would be {stress, number, ::.0} MPa',
  'bent-at-middle': 'bending in the middle of the panel, held at its rim (Roark, from memory)',
  'bent-until-rests':
    'bending in the middle of the panel, held at its rim (Roark, from memory), up to where it touches what lies beneath',
  'rests-beyond': 'beyond that it is bent by {given} mm and rests on what lies beneath it, the cell too',
  'no-clip-on-camera': 'no clip presses on a camera',
  'no-clip-on-lens': 'no clip presses on a lens',
  'no-clip-on-battery': 'no clip presses on the cell',
  'no-clip-on-button': 'no clip presses on a button',
  'no-clip-on-sensor': 'no clip presses on a sensor',
  'no-clip-on-mesh': 'no clip presses on a mesh',

  'strips-for': '{stripsFor}',
  'strips-slit': 'No tape is as narrow as this bond: the strips are cut along a wider roll; cut them by the template.',
  'corners-turned': 'Corners of an outer panel take the load: strips turn them in one piece.',
  'stays-free': '{length, number, ::.0} mm stay free for {part}.',
  'strips-too-long':
    '{numbersCount, plural, one {Strip} other {Strips}} {numbers} {numbersCount, plural, one {is} other {are}} longer than ' +
    'the sheet ({lengths} of {sheet} mm): take a longer sheet or a roll, or join on a straight.',
  'strips-short': 'Strips {numbers} are shorter than {shortest} mm: lay them with tweezers.',
  'clean-both-sides': 'Clean both sides with isopropyl alcohol and let them dry at least 30 s.',
  'lay-in-order':
    'Lay {numbersCount, plural, one {strip} other {strips}} {numbers} in this order: clear liner off just before each, one end ' +
    'first, laid and not pulled.',
  'press-each-strip':
    'Press each strip along with a fingertip; the coloured liners stay on until everything is proved.',
  'liners-last': 'Take the coloured liners off last, in the same order, just before the panel goes down.',

  'one-point-up':
    'only {point} stands up, by {height, number, ::.00} mm, and the others lie in a plane: something lies under it, as a flex would',
  'sides-bow':
    'the middles of the sides stand {height, number, ::.00} mm above the corners: something presses from within, as a swollen ' +
    'cell would. Do not press it down',
  'frame-twisted':
    'opposite corners stand up and the others down by {height, number, ::.00} mm: the frame is twisted, or bent',
  'leans-across':
    'it leans by {height, number, ::.00} mm across it: one side was pressed less, or a liner was left on that side',
  'leans-along':
    'it leans by {height, number, ::.00} mm along it: one side was pressed less, or a liner was left on that side',
  'high-all-round':
    'it stands {height, number, ::.00} mm too high all round: as thick as liners that were left on, or tape upon tape',
  'gap-differs':
    'its gap differs by {height, number, ::.00} mm round the panel: the frame is not straight, or the panel lies beside its place',

  'leak-within':
    '{leak, number, ::.000} ml/min ± {half, number, ::.000} ml/min leak, within {allowed, number, ::.000} ml/min. It says nothing ' +
    'of a rating; that is never certified by it.',
  'leak-more':
    '{leak, number, ::.000} ml/min ± {half, number, ::.000} ml/min leak, more than {allowed, number, ::.000} ml/min. It says ' +
    'nothing of a rating; that is never certified by it.',
  'leak-too-near':
    '{leak, number, ::.000} ml/min ± {half, number, ::.000} ml/min: too near to {allowed, number, ::.000} ml/min to be told; ' +
    'measure for longer. It says nothing of a rating; that is never certified by it.',
  'no-decay': 'the readings follow no decay of pressure',
  'pressure-rises':
    'the pressure rises: the air within is getting warmer, or air still flows in; wait and measure again',
  'reading-odd': 'a reading is no number; look at the tester and measure again',
  'gauge-stuck': 'the gauge is stuck: it tells the same again and again; look at the tester and measure again',
  'below-air': 'the pressure goes below that of the air: no leak does that; look at the tester and measure again',
  'never-filled': '{pascal} Pa at the begin is no pressure that could fall: it is open, or was never filled',
  'test-too-short':
    'too short: a leak at the limit would move the gauge by {steps, number, ::.0} of its steps, and {needed} are needed; measure ' +
    'for longer',
};
