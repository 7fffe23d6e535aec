import type { CellCode, Language } from '../language.ts';

/** What is said of cells. */
export const cells: Pick<Language['messages'], CellCode> = {
  'layout-unknown': '{cells} cells, not known how joined',
  'layout-one': 'one cell',
  'layout-row': '{cells} cells in a row',
  'layout-beside': '{cells} cells side by side',
  'layout-both': '{rows} in a row, {beside} side by side',

  'reading-no-number': 'that is no number; measure again',
  'reading-hours': 'say how many hours lie between the two readings, more than 0',
  'capacity-cannot-be':
    '{value, number, ::group-off} mAh cannot be: a cell rated {rated, number, ::group-off} mAh gives 0 to ' +
    '{most, number, ::group-off}; measure again',
  'cycles-cannot-be':
    '{value, number, ::group-off} cycles cannot be: whole ones from 0 to {most, number, ::group-off}; read it again',
  'resistance-cannot-be':
    '{value, number, ::group-off} mΩ cannot be: a cell has more than 0 and at most {most, number, ::group-off}; look at the ' +
    'leads and measure again',
  'volts-cannot-be':
    '{value} V cannot be: {layout} {series, plural, one {has} other {have}} 0 to {most}; measure again',
  'capacity-left': '{left} % of its {rated, number, ::group-off} mAh are left',
  'capacity-too-near': '{left} % of its {rated, number, ::group-off} mAh are left, {low} to {high}: too near to tell',
  'cycles-made-for': '{cycles, number, ::group-off} cycles; about {made} are what it is made for',
  'resistance-told': '{ohms} ± {half} mΩ, a new one has about {fresh}',
  'resistance-doubt':
    '{ohms} ± {half} mΩ, a new one has about {fresh}: the doubt is larger than the value; measure again',
  'resistance-uncertain': '{ohms} ± {half} mΩ, a new one has about {fresh}: too uncertain to tell',
  'rest-layout-unknown': '{volts, number, ::.00} V at rest: not known how many of its {cells} cells are in a row',
  'rest-charged': '{volts, number, ::.00} V at rest: about {percent} % charged',
  'rest-over': '{volts, number, ::.00} V at rest: charged beyond what a cell bears; it is never charged again',
  'rest-perhaps-over':
    '{volts, number, ::.00} V at rest: perhaps charged beyond what a cell bears; measure more closely',
  'rest-dead': '{volts, number, ::.00} V at rest: drawn so far that it is never charged again',
  'rest-low': '{volts, number, ::.00} V at rest: drawn too far; charge it slowly and watch it, or better renew it',
  'rest-perhaps-dead':
    '{volts, number, ::.00} V at rest: drawn too far, perhaps so far that it is never charged again; measure more closely, ' +
    'and do not charge it',
  'rest-perhaps-low': '{volts, number, ::.00} V at rest: perhaps drawn too far; measure more closely',
  'self-rose': 'it rose: it had not come to rest at the first reading; read both again',
  'self-loses': 'it loses {low, number, ::.0} to {high, number, ::.0} % a month by itself',
  'self-tells-nothing': 'it loses {low, number, ::.0} to {high, number, ::.0} % a month by itself: that tells nothing',
  'self-read-again':
    'it loses {low, number, ::.0} to {high, number, ::.0} % a month by itself: that tells nothing; with this meter read again ' +
    'after {hours} at the least',

  'measured-of': 'Measured, {measure}: {finding}.',
  'cell-is-hurt': 'It is {mark}: that cannot be made good, and it may fail hours later.',
  'insulation-hurt': 'It is {mark}: what insulates or connects it is hurt.',
  'cell-levered': 'It was {removal}: nobody can see that it was not bent on the way.',
  'cell-flawless': 'Flawless to the eye, and {removal}.',
  'sand-box-with-it': 'Into the sand box with it; never charged, never shipped ordinarily.',
  'levered-with-metal':
    'It was levered with metal: a layer within may be pierced where nobody sees it. Into the sand box with it.',
  'house-never-refits': 'The house never refits a cell that was taken out.',
  'measured-good': 'What was measured is good.',
  'nothing-measured': 'Nothing was measured of it: its age is not known.',

  'wanted-cell': '{volts} V, {milliampHours, number, ::group-off} mAh, {wattHours, number, ::.0} Wh',
  'wanted-pack': '{volts} V, {milliampHours, number, ::group-off} mAh, {wattHours, number, ::.0} Wh, {layout}',

  'new-label-odd': '{volts} V do not go with {cells} cells: read its label again',
  'new-layout': '{layout}, and the device has {device}',
  'new-volts': '{volts} V nominal, and the device has {device} V',
  'new-charge-fits': 'it may be charged to {volts} V, and the device charges to {device} V',
  'new-charge-over': 'the device charges to {device} V, and this cell bears only {volts} V: it would be overcharged',
  'new-compare-charge': 'compare the charge limit printed on both labels: it must not be lower on the new one',
  'new-capacity-odd':
    '{value, number, ::group-off} mAh in the same room are hard to believe; the device has {device, number, ::group-off}',
  'new-capacity': '{value, number, ::group-off} mAh, {percent} % of the {device, number, ::group-off} of the device',
  'new-size': '{width} × {height} mm in a bay of {bayWidth} × {bayHeight} mm',
  'new-measure-it': 'measure it: width, height and thickness, and lay it beside the old one',
  'new-grows': 'it grows by about {by, number, ::.0} mm over its life: see that its bay leaves that',
  'new-grown': '{thickness} mm, {grown, number, ::.00} mm when grown; the old one is drawn with {room} mm',
  'new-not-made-yet': 'made {made}, which is still to come: read it again',
  'new-made': 'made {months} months ago',
  'new-empty': '{volts} V: deeply empty. It shows nothing for minutes; charge it to some percent before it is judged',
  'new-as-it-came': '{volts} V as it came',
  'new-plug-same': 'its plug is the same',
  'new-plug-other': 'another plug: it does not go in',
  'new-flex-same': 'its flex lies the same way',
  'new-flex-other': 'its flex leaves elsewhere: try it dry, with nothing pulled or folded over an edge',
  'new-pairing': 'paired with {item}: {functions} {functionsCount, plural, one {is} other {are}} lost. {words}',
};
