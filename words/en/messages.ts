import type { CellCode, ClosingCode, Language, RefusalCode } from '../language.ts';

/** How steps are done, and why something is so. */
export const messages: Omit<Language['messages'], RefusalCode | CellCode | ClosingCode> = {
  // The way in.
  'screw-stripped':
    'Stripped: a band or the extractor, slowly; catch the swarf. It never goes back: a new one is driven in.',
  'latch-all-edges': 'All at once, on the edges {edges}.',
  'latch-turned': 'It lets go by itself as the part is turned or slid out; nothing is pried here.',
  'latch-last': 'Slide or tilt the part free of its hooks; it is the last thing that holds.',
  'latch-notch': 'Enter at the notch and run along the edge.',
  'latch-along': 'Work along the edge, catch by catch.',
  'gap-first':
    'Only a gap of {width} mm at first: {flexes, plural, one {a flex is} other {flexes are}} still mated inside.',
  'swing-open':
    'Open towards the {edge} edge to about {degrees}° and prop it; no flex may carry the weight. Photograph the layer.',
  'tray-pin': 'Press the pin straight in; keep the card with the job.',
  'carry-cell': 'Carry it by its frame, flat, with both hands.',
  'carried-flat': 'It does not bear bending: both hands, flat, raised evenly all round.',
  'pry-only-at': 'Pry at {at} mm only.',
  'out-lift': 'Raise {place} first, then lift it straight up.',
  'out-slide': 'Slide it out towards {place}.',
  'out-tilt': 'Tilt it up at {place}{degrees, select, null {} other { to about {degrees}°}}, then draw it out.',
  'out-hook':
    'Raise the far side{degrees, select, null {} other { to about {degrees}°}} and unhook it at {place} last.',
  'out-rotate': 'Turn it out about {place}{degrees, select, null {} other {, by about {degrees}°}}.',
  'pulled-out': '{pulled}',
  'captive-stay': 'Captive: loosen only, they stay in the part.',
  'clip-flies': 'The clip flies off: shield it with a finger.',
  'not-magnetic': 'Some are not magnetic and fall off the driver.',
  'lengths-differ': 'Lengths differ: mind the well of each.',
  threadlocked: 'Threadlocked: press firmly, turn slowly.',
  'at-a-pinch': 'At a pinch {tool}{cautionCount, plural, =0 {} other {: {caution}}}.',
  'open-lift-edge': 'Lift straight up at its edge.',
  'open-raise-bar': 'Raise the locking bar, then slide the flex out.',
  'open-draw-bar': 'Draw the bar out, then slide the flex out.',
  'open-lift-cable': 'Lift straight up, beside the cable.',
  'open-shield-clip': 'Shield the clip with a finger, then lift.',
  'open-unsolder': 'Isolated devices only. Tin, heat, lift; do not pull on the pad.',
  'shape-out': 'Note how it lies: {words}.',
  'fold-flex-aside': 'Fold the flex aside over its other end, no sharp bend.',
  'fold-head-aside': 'Fold the head aside over its other end, no sharp bend.',
  'bend-clear': 'Bend the flex aside so that it cannot touch its socket.',
  'flux-pads':
    'A little flux on every pad of the joint; shield what stands beside it with polyimide tape. Extraction on.',

  // Bonds let go.
  'peel-slowly': 'Peel slowly from a corner.',
  'kept-whole': 'It is kept: ease it off whole, without cutting or stretching it; it stays on the side it keeps to.',
  'kept-stays-on': 'It is kept: ease it off whole, without cutting or stretching it; it stays on {part}.',
  'pull-tabs':
    'Pull each tab slowly, low and straight. If one snaps: isopropyl alcohol under the cell, 3 to 5 min; never lever with metal.',
  'pull-pouch': 'Peel the pouch up and pull it straight.',
  'heat-recipe': '{source} at {set} °C: {turns}{solvent, select, true {, then solvent} other {}}',
  'heat-at-once': '{heats}',
  'heat-turn': '{where} {heats}',
  'heat-rest-turn': 'rest {rests}, {where} {heats}',
  'heat-computed': 'Computed to reach {softensAt} °C all round; the thermometer decides, not the clock.',
  'heat-usual-mat': 'About {set} °C, 5 min.',
  'heat-usual-pad': 'About {set} °C, 5 to 7 min.',
  'heat-usual-gun': 'About {set} °C, swept, 2 min a half.',
  'heat-usual-gel-pack': 'Heated pack, 1 to 2 min an edge.',
  'heat-usual-dryer': 'As is, swept.',
  'gives-at': 'The adhesive gives from about {softensAt} °C.',
  'one-heating-rarely': 'One heating is rarely enough: heat, pry, reheat.',
  'lies-on-mat': 'Its {face} lies on the mat, clean, glass with its film on; the thermometer stays in sight.',
  'half-alone': 'Only the {body} is warmed: the rest of the fold stands off the heat, open no further than it is.',
  'not-house-way': 'Not as the house does it: {why}.',
  'heat-again': 'It has cooled past its workable time: heat it again.',
  'solvent-drops': 'A few drops along the seam; let it creep. No heat while it is wet.',
  'solvent-alone': 'Solvent alone, since {why}.',
  'source-too-weak': 'the {source} at {most} °C does not bring the whole seam to {softensAt} °C',
  'zone-too-hot-first': 'the {zone} would pass {limit} °C before the whole seam has {softensAt} °C',
  'zone-may-pass':
    'where contact is good the {zone} may pass {limit} °C (up to {peak} °C) before the whole seam has {softensAt} °C',
  'no-solvent-on': '{part} does not bear solvent',
  'part-bears-less': 'a part that it holds bears {bears} °C, and it gives at {softensAt} °C',
  'nothing-warms-open': 'nothing at hand warms it while that side lies open',
  'gap-cup':
    '{taped, select, true {Clear tape over the whole glass first, then the cup} other {Cup}} {from} mm in from the {edge} ' +
    'edge{beside, plural, =0 {} other {, # mm beside the entry, where it stands flat}}; lift until a hairline shows, no more.',
  'gap-clamp':
    'Clamp with cups over the {edge} edge{beside, plural, =0 {} other {, # mm beside the entry, where it stands flat}}; ' +
    'turn it until a hairline shows, wait, no more.{taped, select, true { Both faces taped.} other {}}',
  'gap-no-room-cup': 'A cup has no room here: no even ground of {diameter} mm at the {edge} edge.',
  'gap-no-room-clamp': 'A clamp with cups has no room here: no even ground of {diameter} mm at the {edge} edge.',
  'gap-blade':
    'Thin blade at the frame where the pick will go in, on the {edge} edge ({clear, number, ::.0} mm are clear); never ' +
    'between the glass and its rim, no deeper than the rim.{weak, select, true { Weak glass gives under a cup: this is the ' +
    'way when the tape does not hold.} other {}}',
  'gap-at-frame': 'At the frame, never between the glass and its rim; no deeper than the rim.',
  'gap-hairline': 'Lift until a hairline shows, no more.',
  'plastic-pick-here': 'Here it is a plastic pick: the device may be open and live by now.',
  'then-pick': 'Then set a pick.',
  'cup-on-tape': 'The cup holds on the clear tape.',
  'cut-marks':
    'Marks at {marks} mm. Enter at the {edge} edge, {why}; then {edgesCount, plural, =0 {along it} other {{edges}}}.',
  'no-pick-strips':
    'no pick goes in here: pull the strips at their tabs, slowly, low and straight; where one snaps, isopropyl alcohol under the ' +
    'cell for 3 to 5 min, then lift by hand or card, never with a metal lever',
  'no-pick-pouch':
    'no pick goes in here: peel the pouch at its tab and pull it, the cell held by its edges with both hands',
  'no-pick-cell':
    'no pick and no blade goes under a cell: isopropyl alcohol along its edge for 3 to 5 min, then lift it slowly by hand or with ' +
    'a card, flat, never bent',
  'entry-clear': '{why}; nothing lies within {clear, number, ::.0} mm behind it',
  'entry-at-notch': 'at the notch',
  'entry-opposite-hooks': 'opposite the hooks of the {edge} edge',
  'entry-opposite-flexes': 'opposite the hinge, where its flexes are',
  'entry-opposite-hinge': 'opposite the hinge, where it turns',
  'entry-usual': 'the usual edge to begin at',
  'entry-bond-enough': 'where there is bond enough to begin at',
  'entry-most-clear': 'no stretch can be cut through, and here the most is clear',
  'cut-depth': 'Only {depth} mm on the {edge} edge past {items}.',
  'rest-by-heat': 'What cannot be cut is left for heat and a straight lift.',
  'edges-not-cut': 'The {edges} edge is not cut: slide it out of its hooks.',
  'second-pick': 'Leave a second pick where an edge ends.',
  'computed-stop': 'Computed, no promise: stop at any resistance.',
  reheat:
    'It cools while it is cut: reheat about {times, plural, one {once, {seconds} s} other {# times, {seconds} s each}}.',
  'glass-curves': 'The glass curves at its rim: hold the pick flat.',
  'run-along-seam': 'Run along the seam and leave a second pick behind you.',
  'bond-wide': 'The bond is {width} mm wide: no deeper than it needs.',
  'slide-card-under': 'Slide a plastic card under it slowly, flat, from the side with most room.',
  'slide-from':
    'Slide a plastic card under {part} from the {edge} edge: the glue begins ' +
    '{reach, plural, =0 {there} other {# mm in}} and is {across} mm across.',
  'cell-flat': 'Both hands, a plastic card kept flat; never a metal lever, and do not bend the cell.',
  'cold-at-risk': 'Cold, at a risk that was agreed to: {why}.',
  'cold-strokes': 'Short strokes from the corner with most room; stop at any resistance.',

  // The turn.
  'compare-parts': 'Lay old and new side by side; compare shape, holes and flexes.',
  'move-across': 'Lay old and new side by side; {items} {itemsCount, plural, one {moves} other {move}} across.',
  'old-never-back': 'The old one never goes back.',
  'say-what-found': 'Say what is found: seated, clean, whole, in its place; or what is wrong with it.',
  'renew-torn': 'Renew what is torn, bent or deformed.',
  'turn-over': 'Nothing swung open, nothing loose.',
  'pose-flat': 'Open it flat, its backs on the bench, its inside up.',
  'pose-half': 'Stand it half open on its edges, propped on both sides.',
  'pose-closed':
    'Close it, film on the inner display and nothing between; the back of the {body} up. Nothing rests on the inner display.',

  // The way back.
  'in-lift': 'Set it down straight; {place} last.',
  'in-slide': 'Slide it in from {place} until it stops.',
  'in-tilt': 'Enter it tilted{degrees, select, null {} other { by about {degrees}°}}, {place} down last.',
  'in-hook': 'Hook it in at {place} first{degrees, select, null {} other {, at about {degrees}°}}, then lay it down.',
  'in-rotate': 'Set it on {place} and turn it in{degrees, select, null {} other {, by about {degrees}°}}.',
  'pressed-home': 'Pressed home straight, until it sits flush; it is never turned.',
  'thread-drops-in': 'Turn backwards until the thread drops in, then forwards.',
  'two-passes-crosswise': 'Two passes crosswise: all loosely, then tight in the same order.',
  'two-passes': 'Two passes: all loosely, then tight in order.',
  torque: 'Torque {torques} N·cm.',
  snug: 'Snug, no more.',
  'presses-gasket': 'They press the gasket: little by little, each as far as the others.',
  'new-threadlock': 'New screws with activator and one drop of threadlocker; it sets in about {duration}.',
  'tin-pads': 'Tin the pads thin and even; take off what stands in peaks.',
  'look-at-joint':
    'Let it cool. Through the glass: wetted all round, smooth, no bridge, no flux left; it does not move.',
  'seat-press': 'Clean the contacts, align, press evenly until it clicks. Never force.',
  'seat-solder': 'Isolated only. Clean pads, little heat, look at the joint.',
  'power-last': 'Last of all: align, press evenly, hear the snap. From here the device is live.',
  'power-before-cells':
    'After all but the plugs of the batteries: align, press evenly, hear the snap. The first of them makes the device live.',
  'shape-in': 'Its flex lies {words}: look at the photograph of the way in.',
  'snap-edges':
    'Press along {edgesCount, plural, =0 {the edge} other {the edges {edges}}} until every catch has snapped.',
  'smooth-foil-back': 'Smooth the foil back.',
  'new-foil': 'Lay a new foil.',
  'new-strips': 'New strips, tabs folded where they can be gripped.',
  'gasket-groove':
    'Into its groove all round, not stretched, not twisted; grease it thinly where the old one was greased.',
  'spare-brings': 'The spare brings it: look that it lies whole and its liner is on.',
  'lay-die-cut': 'Lay the die-cut seal from one corner.',
  'lay-no-tape': 'No tape is at hand: put its rolls and sheets into the house rules.',
  'lay-strips': '{strips}: cut by the template, joints off the corners.',
  'ring-stays-open':
    'This ring stays open for {open, number, ::.0} mm: the device was {ingress}, and water gets in there. A die-cut seal ' +
    'closes it; with strips the customer is told that it is not sealed.',
  'lay-bead':
    'A bead of {width, number, ::.0} mm, {millilitres, number, ::.00} ml in all; keep its middle {keepOff, number, ::.0} mm ' +
    'off mesh, lens and button. It skins in about {skin} min.',
  'leave-gaps': 'Leave the gaps for sensors, camera and mesh.',
  strips: '{count, plural, one {# strip} other {# strips}} of {width} mm, {length} mm in all',
  'press-weight': '{load}: {weights} kg on foam over the bond.',
  'press-clips':
    '{load}: {clips} clips of {newtons} N as drawn{turns, plural, =1 {} other {, in # turns}}, off camera, cell and buttons.',
  'press-bands': '{load}: {bands} bands, over foam.',
  'press-hand': '{load}: by hand, stretch by stretch all round.',
  'load-bond':
    '{share, plural, =100 {} other {# % of }}{kilograms} over {area, number, ::precision-integer group-off} mm²',
  'load-panel': '{share, plural, =100 {} other {# % of }}{kilograms} over the {bonds} bonds of the panel, at once',
  'laid-back': 'Lay it back whole in its old place and press it along with a fingertip.',
  'press-flush': 'Even pressure all along the bond; flush, no gap.',
  'press-all-over': 'Press by hand all over it; no clamp.',
  'flush-all-round': 'Flush all round, no gap.',
  'clamp-lightly': 'Clamp lightly.',
  'let-cure': 'Let it cure; a trial says when it has.',
  'let-down-to': 'Let it down to a gap of {width} mm and hold it there.',
  'hang-at': 'Hang it at the {edge} edge, propped; no flex may carry the weight.',
  'open-again': 'Take the tape off and open it once more at the {edge} edge; its flexes stay mated.',
  'taped-down':
    'Lay it back on its place, no flex pinched, nothing glued; two strips of tape hold it while the device is turned over.',
  'hooks-first': 'Hook the {edges} edge in first, at about 20°, then lay it down along the sides.',
  'no-force': 'No force; flush all round.',
  'springs-stand': 'Check that the spring contacts stand up and meet their pads.',
  'contacts-meet-later':
    'It cannot be tried before its bond is made: its contacts meet only when it lies in its place.',
  'reach-later': 'It cannot be tried before its bond is made: {item} is out of reach until then.',
  'try-dry':
    'Lay it in dry, its film on. Mate {itemsCount, plural, =0 {nothing more} other {{items}}}; switch on, look, switch off; ' +
    "open the battery''s plug first of all and bend it aside again.",
  'clean-dry': 'Dry: it bears no solvent. Roll off the old adhesive, brush off what is loose.',
  'clean-bonded': 'Take off the old adhesive; wipe surfaces and contacts; let dry at least 30 s.',
  'clean-contacts': 'Wipe the contacts; look for anything loose; let dry.',
  'look-inside': 'Look for anything loose inside; magnets hide screws. Rim and contacts dry.',
  'look-at-gasket':
    'Go round the gasket: no nick, no flat spot, no grit in its groove; grease it thinly where it was greased. In doubt it ' +
    'is renewed. Its screws press it: no clamp, no cure.',
  'look-at-cell': 'No puncture, swelling or dent; if in doubt, do not fit it.',
  'liners-in-order': 'Liners come off in order; those on the strips last.',
  'all-seated': 'Every connector below is seated: run a fingertip over each.',
  'all-joints': 'Every joint is wetted all round, smooth and without a bridge: look at it through the glass.',

  // Gates and proof.
  'holds-G1': 'Every connector below is seated: run a fingertip over each.',
  'holds-G2': 'All wells of the layers below are empty.',
  'holds-G3': 'Nothing loose, contacts and bonding surfaces clean and dry.',
  'holds-G4': 'Every function touched so far has passed, or is waived with a reason.',
  'holds-G5': 'All liners off, transfers and lens films done.',
  'holds-G6': 'The press or cure of every new bond has run its time.',
  'holds-G7': 'Screws even, functions tested, deviations explained: sign.',
  'on-unsealed': 'Everything connected, nothing sealed.',
  'on-closed': 'Closed and complete.',
  'off-before-hands': 'Off fully before hands go in again.',
  'see-what-is-lost':
    'Lost with this exchange, as agreed: see that it is so, and that the notice the device shows is the expected one.',
  'leak-test':
    'With the tester, at a few kPa, at rest and at one temperature. It proves the gasket tight today; no rating follows from it.',

  // Made ready.
  'off-not-asleep': 'Power off fully, not asleep.',
  'glass-taped': 'Overlapping clear tape over the whole face.',
  'film-on-glass': 'Protective film on glass and lenses.',
  'dark-is-full':
    'The device is dark, so its cell cannot be drawn down: take it as full. Least heat, no levering, sand at hand.',
  'charge-said': 'Charge {charge} % at intake',
  'charge-unknown':
    'Its charge is not known and counts as {charge, plural, =100 {full} other {# %, by the house rules}}',
  'charge-below': '{charged}: below {limit} % already. Read it once more.',
  'draw-down':
    '{charged}: drawn with about {watts} W ({how}) to below {limit} %, beside other work. A reading below it ends the wait; above ' +
    '{warmest} °C it is stopped.',
  'draw-fast': 'More than half its capacity an hour: keep a probe on it.',
  'load-on-port': 'the load on its port',
  'own-draws': '{ways}',

  // What bonds are laid from.
  'glue-of': '{millilitres, number, ::.00} ml of {words}',
  'tape-of': '{strips}',
  'die-cut': 'die-cut part',
  'die-cut-in-stock': 'die-cut part, in stock',
  'no-tape': 'tape, of which the shop has none',
  'new-bond': '{fresh}',

  // What a plan does otherwise.
  'isolates-later': 'parts are taken out before the battery is isolated: no order of this dive isolates it first',
  'left-loose': 'a part lies loose when the device is turned over: hold it with tape or a finger',
  'left-unproved': 'a panel is closed before the battery can be mated: it cannot be proved before it is sealed',
  'left-hanging': 'a part hangs on its hinge while other work is done: prop it, and let no flex carry it',
  'heated-beside':
    'a bond is heated while a part hangs open beside it: shield that part from the heat, and let no flex carry it',
  'rule-not-kept': 'a rule of good work is not kept, at {item}: {rule}',
  'other-tool':
    'no {tool} at hand: {what, select, heat {heating} firstGap {the first gap is raised} other {pressing}} with the {instead}',
  'other-by-hand':
    'no {tool} at hand: {what, select, heat {heating} firstGap {the first gap is raised} other {pressing}} by hand',
  'no-heat-source': 'no heat source at hand: a glued cell is freed with solvent',
  'no-solvent-dropper': 'no solvent dropper at hand: a glued cell is warmed and pried',
  'word-for-word':
    'it was turned over with a part hanging open: the way back is what was done in reverse; turn it where you turned it, ' +
    'and hold what hangs',
  'nothing-opened': 'nothing was opened, so that nothing has to be closed',

  // What is lost.
  paired: '{part} is paired with {item}',
  'seal-opened': 'the seal of {ingress} is opened',
  'cut-cold': '{item} is cut cold: {why}',
  'new-cell-old-board': '{part} gets a new cell on its old protection board',
  'storage-on-board': 'the storage is on the board',
  'new-seal': 'A new seal keeps out dust and splashes; the rating is not certified again.',
  'cold-cell':
    'The cell may be bent or pierced: have sand at hand and a new cell; stop at any resistance. Or leave it in.',
  'cold-panel': 'It may crack: have a new one at hand, tape its glass, and stop at any resistance. Or leave it closed.',
  'cell-not-makers':
    "The cell is not the maker''s. The report of the battery is that of the old protection board: what it says of age and " +
    "condition is not the new cell''s.",
  'copy-data': 'Have the customer copy the data first; a donor board must be free of locks and reset.',

  // What may be wrong, and where to look.
  'recorded-as': 'it was recorded {kind}{wordsCount, plural, =0 {} other {: {words}}}',
  'driver-ended': 'the torque driver ended at {torque} N·cm: {verdict}',
  'looked-and-found': 'it was looked at, and something was found{wordsCount, plural, =0 {} other {: {words}}}',
  'counter-points-to': 'what was found at the counter points to it',
  'counter-points-away': 'what was found at the counter points elsewhere',
  'took-longer': 'step {n} took {took} min instead of {planned}',
  'rests-on': '{functions} {functionsCount, plural, one {rests} other {rest}} on it',
  'yet-works': 'but {functions} {functionsCount, plural, one {works} other {work}}',
  'put-back-at': 'this dive put it back at step {n}',
  'new-on-dive': 'it is new on this dive',
  'not-touched': 'this dive did not touch it',
  'found-sound': 'it was looked at and found sound',
  'look-next':
    '{again, select, true {Test again what failed before anything is opened. Then look} other {Look}} at {item}: ' +
    '{undone, plural, =0 {it lies bare} other {# to undo on the way}}, about {minutes} min there and back',

  // What a colleague would say of an act.
  'warn-not-off': 'Nothing says that it was switched off. Switch it off first.',
  'warn-charge': 'Heat beside a charged cell: look at the charge first, below {limit} %.',
  'warn-heat-blind': 'No thermometer is watched: the cell beside the seam cannot be seen getting hot.',
  'warn-live-plug': 'Still LIVE: the battery’s plug first, if it can be reached.',
  'warn-live-solder': 'Soldered, and LIVE: no iron before the battery is off.',
  'warn-live-steel': '{tool} conducts, and the device is open and LIVE.',
  'warn-plug-joins': '{thing} still joins it to the rest.',
  'warn-plug-seen': 'A plug that was seen on it was not opened. Look before it is pulled.',
  'warn-not-cut': '{thing} was begun and not cut through.',
  'warn-alike': 'Well {well}; its neighbour {other} holds what looks the same.',
  'warn-other-hole': '{length} mm goes in where {came} mm came out: that screw lies in another hole.',
  'warn-turned-open': '{thing} hangs open: close it or take it off before the device is turned over.',
  'warn-outside': '{at} mm lies outside the body; the place is not used.',
  'warn-other-side': 'The {up} is up, and this is said of the {face}. Turned over?',
  'warn-to-what': 'Say what it was done to.',
  'warn-is-a': '{thing} is a {type}.',
  'warn-left-already': '{thing} has left its place already. Recorded as said; nothing is learnt from it.',
  'warn-never-out': '{thing} was not taken out. Recorded as said; nothing is learnt from it.',
  'warn-carrier-shut': '{thing} is not open or off, so that nothing can be done on its inner side.',
};
