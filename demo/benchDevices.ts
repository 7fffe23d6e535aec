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
