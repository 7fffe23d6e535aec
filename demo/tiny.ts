import type { Anatomy, Bond, Connector, Fastener, Latch, Part, Point, Rect } from '../core/anatomy/index.ts';
import { newEntry } from '../core/draft/index.ts';

/** Small made-up devices in few words, for rehearsing one rule at a time. */
export const tinyPart = (id: string, layer: number, rect: Rect, rest: Partial<Part> = {}): Part =>
  newEntry.part(id, { layer, outline: { rect }, ...rest });

export const tinyScrew = (id: string, holds: string, at: [number, number], rest: Partial<Fastener> = {}): Fastener =>
  newEntry.fastener(id, { length: 1.4, holds: [holds], into: 'frame', at, holeDepth: 1.9, ...rest });

export const tinyConnector = (
  id: string,
  from: string,
  to: string,
  at: [number, number],
  rest: Partial<Connector> = {},
): Connector => newEntry.connector(id, { from, to, at, size: [4, 2], ...rest });

export const tinyBond = (id: string, kind: Bond['kind'], joins: string[], rest: Partial<Bond> = {}): Bond =>
  newEntry.bond(id, {
    kind,
    joins,
    at: { perimeterOf: joins[0]!, inset: 0.5, width: 1.2, gaps: [] },
    softensAt: 60,
    ...rest,
  });

export const tinyLatch = (id: string, part: string, rest: Partial<Latch> = {}): Latch =>
  newEntry.latch(id, { joins: [part, 'frame'], edge: 'top', ...rest });

/**
 * A cover with two screws over a board, a battery with its flex under a bracket, and a camera: 40 by 80 mm.
 * @param change edits the device before it is used
 */
export function tinyDevice(change: (a: Anatomy) => void = () => {}): Anatomy {
  const anatomy: Anatomy = {
    schema: 'nibrel.anatomy/1',
    id: 'tiny',
    name: 'Tiny',
    maker: 'Bench',
    kind: 'phone',
    body: { width: 40, height: 80, thickness: 8, cornerRadius: 0, ingress: null },
    battery: { volts: 3.8, milliampHours: 1000, cells: 1 },
    parts: [
      tinyPart('frame', 0, [0, 0, 40, 80], { fixed: true, kind: 'frame' }),
      tinyPart('cover', 0, [0, 0, 40, 80], { kind: 'cover' }),
      tinyPart('bracket', 1, [20, 20, 16, 8], { kind: 'bracket' }),
      tinyPart('camera', 1, [4, 4, 10, 10], { kind: 'camera', functions: ['camera'] }),
      tinyPart('battery', 2, [2, 30, 14, 46], { kind: 'battery', functions: ['power'] }),
      tinyPart('board', 3, [18, 2, 20, 50], { kind: 'board', conductive: true }),
    ],
    fasteners: [
      tinyScrew('c1', 'cover', [3, 77]),
      tinyScrew('c2', 'cover', [37, 77]),
      tinyScrew('k1', 'bracket', [22, 22], { drive: 'Y000' }),
      tinyScrew('k2', 'bracket', [34, 26], { drive: 'Y000' }),
      tinyScrew('b1', 'board', [20, 48]),
      tinyScrew('b2', 'board', [36, 4]),
    ],
    connectors: [
      tinyConnector('battery-flex', 'battery', 'board', [28, 24], { isolatesPower: true, carries: ['power'] }),
      tinyConnector('camera-flex', 'camera', 'board', [22, 10], { carries: ['camera'] }),
    ],
    bonds: [],
    latches: [],
    orders: [],
    mateOrder: [],
    functions: [
      { id: 'power', name: 'Power', test: 'It starts.', afterClosing: false },
      { id: 'camera', name: 'Camera', test: 'Take a picture.', afterClosing: false },
    ],
    spares: [],
  };
  change(anatomy);
  return anatomy;
}

/** A sound device that no dive can be planned for: its cover stands open on its flex while the device has to be turned over. */
export const deadlockedDevice = (): Anatomy =>
  tinyDevice((a) => {
    a.id = 'deadlocked';
    a.parts[1]!.swing = { hinge: 'left', degrees: 90, tether: ['cover-flex'], gap: null };
    a.parts.push(tinyPart('back', 0, [0, 0, 40, 80], { face: 'back' }));
    a.fasteners.push(tinyScrew('r1', 'back', [20, 60], { layer: 1 }));
    a.connectors.push(tinyConnector('cover-flex', 'cover', 'board', [20, 10], { face: 'back', layer: 1 }));
  });

/** The tiny device with one bond that is hard to cut: a zigzag of `corners` corners. */
export function zigzagDevice(corners: number): Anatomy {
  const line = Array.from({ length: corners }, (_, i): Point => [5 + (i % 2) * 28, 4 + (i * 70) / corners]);
  return tinyDevice((a) => {
    a.id = `zigzag-${corners}`;
    a.bonds = [{ ...tinyBond('glue', 'glue', ['cover', 'frame']), at: { line, width: 2 } }];
  });
}
