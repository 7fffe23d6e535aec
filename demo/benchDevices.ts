import { tinyBond, tinyConnector, tinyDevice, tinyLatch, tinyPart, tinyScrew } from './tiny.ts';
import { modelOf, type Anatomy, type Model } from '../core/anatomy/index.ts';
import type { Plan } from '../core/dive/index.ts';

/** Small made-up devices, one for each point of good work, all on the frame of 40 by 80 mm with a board and a cell. */
const made = (change: (a: Anatomy) => void): Model => modelOf(tinyDevice(change));

const glued = { softensAt: 60 } as const;

/** A plan in few words: `do items`, gates by their name. */
export const work = (
  plan: Plan,
  phases: readonly string[] = ['prepare', 'descent', 'turn', 'ascent', 'prove'],
): string[] => plan.steps.filter((s) => phases.includes(s.phase)).map((s) => [s.gate ?? s.do, ...s.items].join(' '));

/** A glued cover over everything: the battery's flex lies under a bracket, the camera's beside it. */
export const gluedCover = made((a) => {
  a.fasteners = a.fasteners.filter((f) => !f.holds.includes('cover'));
  a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'], glued)];
});

/** A cover whose charging coil meets the board by spring contacts, and a board that its fingerprint is bound to. */
export const coilCover = made((a) => {
  a.connectors.push(
    tinyConnector('coil-springs', 'cover', 'board', [30, 40], { kind: 'contact', carries: ['charging'] }),
  );
  a.functions.push(
    { id: 'charging', name: 'Charging', test: 'Lay it on the pad.', afterClosing: false },
    { id: 'fingerprint', name: 'Fingerprint', test: 'Unlock it.', afterClosing: false },
  );
  a.parts[5] = {
    ...a.parts[5]!,
    functions: ['fingerprint'],
    pairing: [{ with: 'camera', loses: ['fingerprint'], remedy: 'Tell the customer.' }],
  };
  a.fasteners = a.fasteners.filter((f) => !f.holds.includes('cover'));
  a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'], glued)];
});

/** A speaker that one catch holds, and whose flex can be opened beside it. */
export const caughtSpeaker = made((a) => {
  a.parts.push(tinyPart('speaker', 1, [4, 16, 10, 10], { kind: 'speaker', functions: ['sound'] }));
  a.functions.push({ id: 'sound', name: 'Sound', test: 'Play a tone.', afterClosing: false });
  a.latches = [tinyLatch('tongue', 'speaker')];
  a.connectors.push(tinyConnector('speaker-flex', 'speaker', 'board', [22, 14], { carries: ['sound'] }));
});

/** A cover that opens like a book on one flex; the plate that its flex runs over has to come out. */
export const hingedCover = made((a) => {
  a.parts[1] = {
    ...a.parts[1]!,
    swing: { hinge: 'right', degrees: 90, tether: ['touch-flex'], gap: null },
  };
  a.connectors.push(tinyConnector('touch-flex', 'cover', 'board', [34, 34], { layer: 2, under: [] }));
  a.orders = [{ first: 'touch-flex', then: 'battery', because: 'Its flex runs across the bay of the battery.' }];
});

/** Two glued panels on one face, the first of which opens on its flex. */
export const twoPanels = made((a) => {
  a.fasteners = a.fasteners.filter((f) => !f.holds.includes('cover'));
  a.parts[1] = {
    ...a.parts[1]!,
    outline: { rect: [0, 0, 40, 54] },
    swing: { hinge: 'top', degrees: 90, tether: ['cover-flex'], gap: null },
  };
  a.parts.push(tinyPart('chin', 0, [0, 54, 40, 26], { kind: 'cover' }));
  a.connectors.push(tinyConnector('cover-flex', 'cover', 'board', [30, 8], { layer: 2 }));
  a.bonds = [
    tinyBond('cover-seal', 'tape', ['cover', 'frame'], glued),
    tinyBond('chin-seal', 'tape', ['chin', 'frame'], glued),
  ];
});

/** A cover on a sticky seal that is used again. */
export const keptSeal = made((a) => {
  a.bonds = [tinyBond('gasket', 'tape', ['cover', 'frame'], { softensAt: null, fate: 'keep', staysOn: 'frame' })];
});

/** A cover on a gasket that is used again. */
export const keptGasket = made((a) => {
  a.bonds = [tinyBond('gasket', 'gasket', ['cover', 'frame'], { softensAt: null, fate: 'keep', staysOn: 'frame' })];
});

/** A buzzer that only the cover holds down, in a device that has to be turned over. */
export const looseBuzzer = made((a) => {
  a.parts.push(
    tinyPart('back', 0, [0, 0, 40, 80], { kind: 'cover', face: 'back' }),
    tinyPart('reader', 1, [4, 60, 10, 10], { kind: 'reader', face: 'back' }),
    tinyPart('buzzer', 1, [4, 18, 8, 8], { kind: 'motor' }),
  );
  a.fasteners.push(
    tinyScrew('x1', 'back', [3, 3], { face: 'back' }),
    tinyScrew('x2', 'back', [37, 3], { face: 'back' }),
    tinyScrew('r1', 'reader', [6, 62], { face: 'back' }),
  );
});

/** A camera glued into its bay under a glued cover, with a coil on tape beside it. */
export const gluedCamera = made((a) => {
  a.fasteners = a.fasteners.filter((f) => !f.holds.includes('cover'));
  a.bonds = [
    tinyBond('seal', 'tape', ['cover', 'frame'], glued),
    tinyBond('camera-pad', 'tape', ['camera', 'frame'], { softensAt: null, at: { area: { rect: [5, 5, 8, 8] } } }),
  ];
});

/** A cell that is glued in, and nothing else that is. */
export const gluedCell = made((a) => {
  a.bonds = [
    tinyBond('cell-glue', 'glue', ['battery', 'frame'], {
      softensAt: null,
      solvent: true,
      at: { area: { rect: [3, 34, 12, 38] } },
    }),
  ];
});

/** A display with a lens ring at its top, held by a screw, and a shade over its lower half. */
export const ringInDisplay = made((a) => {
  a.parts[1] = { ...a.parts[1]!, kind: 'display', layer: 1 };
  for (const p of a.parts.slice(2)) p.layer += 1;
  a.parts.push(
    tinyPart('shade', 0, [0, 40, 40, 40], { kind: 'cover' }),
    tinyPart('ring', 0, [4, 4, 8, 8], { kind: 'lens', within: 'cover' }),
  );
  a.fasteners.push(tinyScrew('h1', 'shade', [5, 50]), tinyScrew('n1', 'ring', [6, 6], { into: 'cover', head: 1.4 }));
});

/** A plate that is held from the back although it leaves by the front, with another part over its screw there. */
export const heldFromBehind = made((a) => {
  a.parts.push(
    tinyPart('plate', 1, [4, 16, 12, 10], { kind: 'plate' }),
    tinyPart('back', 0, [0, 0, 40, 80], { kind: 'cover', face: 'back' }),
  );
  a.fasteners.push(
    tinyScrew('x1', 'back', [3, 3], { face: 'back' }),
    tinyScrew('y1', 'plate', [8, 20], { face: 'back', drive: 'T5' }),
  );
});

/** A back whose flex is clipped near its edge: opened through a gap before the back is swung. */
export const clippedBack = made((a) => {
  a.parts[1] = {
    ...a.parts[1]!,
    swing: { hinge: 'left', degrees: 90, tether: ['long-flex'], gap: { width: 4, reaches: ['edge-flex'] } },
  };
  a.connectors.push(
    tinyConnector('edge-flex', 'cover', 'board', [36, 36], { kind: 'clipped', layer: 2 }),
    tinyConnector('long-flex', 'cover', 'board', [20, 40], { layer: 2 }),
  );
});

/** A camera flex with two heads, one folded over the screw of the microphone; its flex is stuck to the board. */
export const twoHeads = made((a) => {
  a.parts.push(tinyPart('microphone', 2, [22, 8, 10, 8], { kind: 'sensor' }));
  a.fasteners.push(tinyScrew('n1', 'microphone', [24, 14], { into: 'board' }));
  a.connectors[1] = {
    ...a.connectors[1]!,
    at: [34, 12],
    flex: 'camera',
    liesOver: ['n1', 'microphone'],
    shape: 'folded over the microphone',
  };
  a.connectors.push(tinyConnector('sensor-head', 'camera', 'board', [24, 4], { flex: 'camera', size: [3, 1.6] }));
  a.bonds = [
    tinyBond('flex-tape', 'tape', ['camera', 'board'], {
      softensAt: null,
      flex: 'camera-flex',
      face: 'front',
      layer: 1,
      at: { area: { rect: [26, 10, 3, 4] } },
    }),
  ];
  a.bonds[0]!.joins = ['board', 'camera'];
});

const second = (change: (a: Anatomy) => void): Model =>
  made((a) => {
    a.schema = 'nibrel.anatomy/2';
    change(a);
  });

/** A rated device whose cover is screwed down on a gasket. */
export const screwedGasket = made((a) => {
  a.body.ingress = 'IP67';
  a.bonds = [tinyBond('gasket', 'gasket', ['cover', 'frame'], { softensAt: null })];
});

/** A glued display that bears little: no cup, no solvent, no heat above 55 °C, while its seal gives at 50 °C. */
export const tenderDisplay = second((a) => {
  a.fasteners = a.fasteners.filter((f) => !f.holds.includes('cover'));
  a.parts[1] = {
    ...a.parts[1]!,
    kind: 'display',
    glass: true,
    limits: { hottest: 55, solvent: false, bend: false, suction: false },
  };
  a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'], { softensAt: 50, solvent: true })];
});

/** A port soldered to a board that it travels with, and a microphone soldered in its place beside the cell. */
export const solderedPort = made((a) => {
  a.parts.push(
    tinyPart('port', 0, [24, 42, 8, 6], { kind: 'port', within: 'board', functions: ['charging'] }),
    tinyPart('microphone', 2, [20, 54, 8, 6], { kind: 'sensor', functions: ['sound'] }),
  );
  a.functions.push(
    { id: 'charging', name: 'Charging', test: 'Plug it in.', afterClosing: false },
    { id: 'sound', name: 'Sound', test: 'Record a word.', afterClosing: false },
  );
  a.fasteners.push(tinyScrew('m1', 'microphone', [24, 58]));
  a.connectors.push(
    tinyConnector('port-joint', 'port', 'board', [28, 45], { kind: 'solder', carries: ['charging'] }),
    tinyConnector('microphone-joint', 'microphone', 'board', [22, 50], {
      kind: 'solder',
      carries: ['sound'],
      layer: 2,
    }),
  );
});

/** A cover glued along its rim and on a pad in its middle. */
export const padUnderCover = made((a) => {
  a.fasteners = a.fasteners.filter((f) => !f.holds.includes('cover'));
  a.bonds = [
    tinyBond('seal', 'tape', ['cover', 'frame'], glued),
    tinyBond('pad', 'glue', ['cover', 'board'], { softensAt: 55, at: { area: { rect: [24, 30, 8, 8] } } }),
  ];
});

/**
 * A fold of two halves of 40 by 80 mm: a bending display over both inside, a back and a cell in each, a board in each, joined by a
 * flex over the hinge. Each cell is on a rail of its own; the right one feeds its own half alone.
 */
export const fold = second((a) => {
  a.id = 'tiny-fold';
  a.body = { ...a.body, width: 80 };
  a.bodies = [
    { id: 'left', name: 'left half', outline: { rect: [0, 0, 40, 80] } },
    { id: 'right', name: 'right half', outline: { rect: [40, 0, 40, 80] } },
  ];
  a.rails = [
    { id: 'left', name: 'Left cell', feeds: [] },
    { id: 'right', name: 'Right cell', feeds: ['right'] },
  ];
  a.hinge = {
    line: [
      [40, 0],
      [40, 80],
    ],
    crosses: ['hinge-flex'],
    inner: 'inner',
    radius: 2,
    half: [],
  };
  a.parts = [
    tinyPart('left-frame', 0, [0, 0, 40, 80], { fixed: true, kind: 'frame' }),
    tinyPart('right-frame', 0, [40, 0, 40, 80], { fixed: true, kind: 'frame' }),
    tinyPart('inner', 0, [1, 1, 78, 78], {
      kind: 'display',
      functions: ['picture'],
      limits: { hottest: 60, solvent: false, bend: false, suction: false },
    }),
    tinyPart('left-back', 0, [1, 1, 38, 78], { kind: 'cover', face: 'back', glass: true }),
    tinyPart('right-back', 0, [41, 1, 38, 78], { kind: 'cover', face: 'back', glass: true }),
    tinyPart('left-cell', 2, [4, 40, 16, 36], { kind: 'battery', face: 'back' }),
    tinyPart('right-cell', 2, [58, 40, 16, 36], { kind: 'battery', face: 'back', functions: ['power'] }),
    tinyPart('left-board', 3, [4, 4, 30, 30], { kind: 'board', face: 'back', conductive: true }),
    tinyPart('right-board', 3, [46, 4, 30, 30], { kind: 'board', face: 'back', conductive: true }),
    tinyPart('camera', 1, [60, 34, 8, 6], { kind: 'camera', face: 'back', functions: ['camera'] }),
  ];
  a.functions.push({ id: 'picture', name: 'Picture', test: 'Look at it.', afterClosing: false });
  const back = { face: 'back' } as const;
  a.fasteners = [
    tinyScrew('l1', 'left-board', [6, 6], { ...back, into: 'left-frame' }),
    tinyScrew('r1', 'right-board', [48, 6], { ...back, into: 'right-frame' }),
    tinyScrew('k1', 'camera', [62, 36], { ...back, into: 'right-frame' }),
  ];
  const power = { ...back, isolatesPower: true, carries: ['power'] };
  a.connectors = [
    tinyConnector('left-plug', 'left-cell', 'left-board', [10, 28], { ...power, isolates: 'left' }),
    tinyConnector('right-plug', 'right-cell', 'right-board', [70, 28], { ...power, isolates: 'right' }),
    tinyConnector('camera-plug', 'camera', 'right-board', [62, 20], { ...back, carries: ['camera'] }),
    tinyConnector('inner-plug', 'inner', 'left-board', [20, 20], { ...back, carries: ['picture'] }),
    tinyConnector('hinge-flex', 'left-board', 'right-board', [30, 10], {
      ...back,
      to: 'left-board',
      from: 'right-board',
    }),
  ];
  const seal = { softensAt: 58, solvent: false };
  const tabs = { softensAt: null };
  a.bonds = [
    tinyBond('inner-seal', 'tape', ['inner', 'left-frame', 'right-frame'], { softensAt: 55 }),
    tinyBond('left-seal', 'tape', ['left-back', 'left-frame'], seal),
    tinyBond('right-seal', 'tape', ['right-back', 'right-frame'], seal),
    tinyBond('left-tabs', 'stretch-tab', ['left-cell', 'left-frame'], {
      ...tabs,
      at: { area: { rect: [6, 42, 10, 30] } },
      tabs: [[8, 74]],
    }),
    tinyBond('right-tabs', 'stretch-tab', ['right-cell', 'right-frame'], {
      ...tabs,
      at: { area: { rect: [60, 42, 10, 30] } },
      tabs: [[62, 74]],
    }),
  ];
});
