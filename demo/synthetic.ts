import type { Anatomy, Bond, Connector, Edge, Fastener, Latch, Order, Part, Rect } from '../core/anatomy/index.ts';
import { tinyConnector, tinyPart, tinyScrew } from './tiny.ts';

/** Draws a whole number from 0 to `below` − 1. */
export type Draw = (below: number) => number;

/** A repeatable draw (xorshift32). */
export function seededDraw(seed: number): Draw {
  let x = (seed * 2654435761 + 1013904223) >>> 0 || 1;
  return (below) => {
    x ^= x << 13;
    x >>>= 0;
    x ^= x >>> 17;
    x ^= x << 5;
    x >>>= 0;
    return x % below;
  };
}

const WIDTH = 64;
const HEIGHT = 128;
const EDGES: Edge[] = ['top', 'right', 'bottom', 'left'];

/**
 * A made-up device of about `parts` parts, each with its screws, connectors, bonds and catches.
 * Always well-shaped; not always one that can be taken apart.
 */
export function syntheticAnatomy(draw: Draw, parts: number): Anatomy {
  const list: Part[] = [];
  const fasteners: Fastener[] = [];
  const connectors: Connector[] = [];
  const bonds: Bond[] = [];
  const latches: Latch[] = [];
  const orders: Order[] = [];
  const part = (id: string, kind: Part['kind'], rect: Rect, rest: Partial<Part> = {}): Part => {
    const made = tinyPart(id, 0, rect, { kind, ...rest });
    list.push(made);
    return made;
  };
  const rectOf = (p: Part): Rect => (p.outline as { rect: Rect }).rect;
  const pointIn = (p: Part): [number, number] => {
    const [x, y, w, h] = rectOf(p);
    return [x + 1.5 + draw(Math.max(1, Math.floor(w - 3))), y + 1.5 + draw(Math.max(1, Math.floor(h - 3)))];
  };
  const screw = (p: Part, into: string): void => {
    const length = 1 + draw(12) / 4;
    const kind = draw(8) === 0 ? 'captive' : 'screw';
    const drive = (['PH000', 'Y000', 'T4', 'P2'] as const)[draw(4)]!;
    const at = pointIn(p);
    const fate = draw(12) === 0 ? 'renew' : 'keep';
    fasteners.push(
      tinyScrew(`s${fasteners.length + 1}`, p.id, at, {
        kind,
        drive,
        length,
        into,
        face: p.face,
        holeDepth: length + 0.5,
        fate,
      }),
    );
  };
  const connect = (from: Part, to: Part, rest: Partial<Connector> = {}): Connector => {
    const kind = draw(6) === 0 ? 'contact' : (['press', 'flip-lock', 'coax'] as const)[draw(3)]!;
    const at = pointIn(to);
    const carries = [['one', 'two', 'three'][draw(3)]!];
    const size: [number, number] = [3, 1.6];
    const made = tinyConnector(`c${connectors.length + 1}`, from.id, to.id, at, {
      kind,
      size,
      face: to.face,
      carries,
      ...rest,
    });
    connectors.push(made);
    return made;
  };

  part('frame', 'frame', [0, 0, WIDTH, HEIGHT], { fixed: true });
  const board = part('board', 'board', [24, 8, 36, 72], { layer: 4, conductive: true });
  const battery = part('battery', 'battery', [4, 40, 18, 76], { layer: 3 });
  connect(battery, board, { isolatesPower: true, kind: draw(4) === 0 ? 'contact' : 'press', carries: ['one'] });
  bonds.push({
    id: 'cell',
    kind: draw(2) ? 'stretch-tab' : 'glue',
    joins: ['battery', 'frame'],
    at: { area: { rect: [6, 44, 14, 66] } },
    tabs: [
      [8, 118],
      [18, 118],
    ],
    softensAt: 70,
    solvent: true,
    fate: 'renew',
    face: null,
    layer: null,
    flex: null,
    staysOn: null,
  });
  screw(board, 'frame');
  screw(board, 'frame');
  for (let i = 0; i < parts; i++) {
    const w = 8 + draw(30);
    const h = 8 + draw(50);
    const face = draw(4) === 0 ? 'back' : 'front';
    const kind = (['cover', 'bracket', 'camera', 'speaker', 'shield', 'display'] as const)[draw(6)]!;
    const p = part(`p${i + 1}`, kind, [draw(WIDTH - w), draw(HEIGHT - h), w, h], {
      face,
      layer: draw(4),
      fate: draw(10) === 0 ? 'renew' : 'keep',
      functions: draw(3) === 0 ? ['four'] : [],
    });
    for (let k = draw(4); k > 0; k--) screw(p, 'frame');
    const tether: string[] = [];
    for (let k = draw(3) === 0 ? 1 : 0; k > 0; k--) tether.push(connect(p, board).id);
    if (draw(3) === 0) {
      bonds.push({
        id: `b${bonds.length + 1}`,
        kind: (['tape', 'foil', 'thermal', 'gasket'] as const)[draw(4)]!,
        joins: [p.id, 'frame'],
        at: { perimeterOf: p.id, inset: 0.5, width: 1.2, gaps: [] },
        tabs: [],
        softensAt: draw(2) ? 60 : null,
        solvent: draw(2) === 0,
        fate: draw(5) ? 'renew' : 'keep',
        face: null,
        layer: null,
        flex: null,
        staysOn: null,
      });
    }
    if (draw(5) === 0)
      latches.push({
        id: `l${latches.length + 1}`,
        joins: [p.id, 'frame'],
        edge: EDGES[draw(4)]!,
        count: 2,
        release: draw(2) ? 'last' : 'any',
        mate: draw(2) ? 'first' : 'last',
        notch: null,
        alsoAt: [],
        letsGo: 'pried',
      });
    if (draw(3) === 0 && p.face === 'front') p.swing = { hinge: EDGES[draw(4)]!, degrees: 90, tether, gap: null };
    if (draw(4) === 0 && w > 12 && h > 12) {
      const [x, y] = rectOf(p);
      const child = part(`${p.id}-child`, 'sensor', [x + 1, y + 1, 8, 8], {
        within: p.id,
        face: draw(3) ? (p.face === 'front' ? 'back' : 'front') : p.face,
        layer: draw(2),
        functions: ['two'],
      });
      screw(child, p.id);
      if (draw(2)) connect(child, board, { kind: 'press' });
    }
    if (draw(10) === 0)
      orders.push({ first: list[1 + draw(list.length - 1)]!.id, then: p.id, because: 'It locks it.' });
    if (draw(8) === 0 && connectors.length > 2) {
      const [a, b] = [connectors[connectors.length - 1]!, connectors[1 + draw(connectors.length - 2)]!];
      if (a.id !== b.id && a.kind !== 'contact' && b.kind !== 'contact') a.beneath = [b.id];
    }
    if (draw(8) === 0 && connectors.length > 1)
      connectors[connectors.length - 1]!.under = [draw(2) ? 'battery' : p.id].filter(
        (id) => id !== connectors.at(-1)!.from,
      );
  }
  const acyclic = orders.filter(
    (o) => o.first !== o.then && Number(o.first.replace(/\D/g, '') || 0) < Number(o.then.replace(/\D/g, '') || 0),
  );
  return {
    schema: 'nibrel.anatomy/1',
    id: 'synthetic',
    name: 'Synthetic',
    maker: 'Nobody',
    kind: 'phone',
    body: { width: WIDTH, height: HEIGHT, thickness: 8, cornerRadius: 0, ingress: null },
    battery: { volts: 3.8, milliampHours: 3000, cells: 1 },
    parts: list,
    fasteners,
    connectors,
    bonds,
    latches,
    orders: acyclic,
    mateOrder: connectors.length > 3 && draw(2) ? [[connectors[2]!.id, connectors[1]!.id]] : [],
    functions: ['one', 'two', 'three', 'four'].map((id, i) => ({
      id,
      name: id,
      test: `Try ${id}.`,
      afterClosing: i === 3,
    })),
    spares: [],
  };
}

/**
 * A made-up tablet of a regular build, for seeing how planning grows: under one display a board with as many
 * modules as asked, each a part with two screws whose flex lies under a bracket with two more. Drives change from
 * module to module. About seven items a module.
 */
export function modularAnatomy(modules: number): Anatomy {
  const columns = Math.ceil(Math.sqrt(modules));
  const rows = Math.ceil(modules / columns);
  const [width, height] = [columns * 24 + 8, rows * 20 + 8];
  const part = (id: string, kind: Part['kind'], layer: number, rect: Rect, rest: Partial<Part> = {}): Part =>
    tinyPart(id, layer, rect, { kind, ...rest });
  const screw = (id: string, holds: string, into: string, at: [number, number], drive: Fastener['drive']): Fastener =>
    tinyScrew(id, holds, at, { drive, length: 2, head: 1.8, into, holeDepth: 2.5 });
  const flex = (id: string, from: string, at: [number, number], rest: Partial<Connector> = {}): Connector =>
    tinyConnector(id, from, 'board', at, { size: [3, 1.6], carries: ['one'], ...rest });
  const drives = ['PH000', 'Y000', 'T4', 'T5'] as const;
  const parts = [
    part('frame', 'frame', 0, [0, 0, width, height], { fixed: true }),
    part('display', 'display', 0, [1, 1, width - 2, height - 2], {
      swing: { hinge: 'right', degrees: 90, tether: ['display-flex'], gap: null },
    }),
    part('board', 'board', 4, [3, 3, width - 6, height - 6]),
  ];
  const fasteners: Fastener[] = [];
  const connectors = [flex('display-flex', 'display', [width - 5, 5])];
  for (let i = 0; i < modules; i++) {
    const [x, y] = [4 + (i % columns) * 24, 4 + Math.floor(i / columns) * 20];
    parts.push(
      part(`m${i}`, i === 0 ? 'battery' : 'camera', 3, [x, y, 22, 9]),
      part(`k${i}`, 'bracket', 1, [x, y + 10, 22, 7]),
    );
    fasteners.push(
      screw(`m${i}a`, `m${i}`, 'board', [x + 2, y + 2], drives[i % 4]!),
      screw(`m${i}b`, `m${i}`, 'board', [x + 20, y + 7], drives[i % 4]!),
    );
    fasteners.push(
      screw(`k${i}a`, `k${i}`, 'board', [x + 2, y + 12], drives[(i + 1) % 4]!),
      screw(`k${i}b`, `k${i}`, 'board', [x + 20, y + 15], drives[(i + 1) % 4]!),
    );
    connectors.push(flex(`c${i}`, `m${i}`, [x + 11, y + 13], i === 0 ? { isolatesPower: true } : {}));
  }
  return {
    schema: 'nibrel.anatomy/1',
    id: 'modular',
    name: 'Modular',
    maker: 'Nobody',
    kind: 'tablet',
    body: { width, height, thickness: 9, cornerRadius: 0, ingress: null },
    battery: { volts: 3.8, milliampHours: 5000, cells: 1 },
    parts,
    fasteners,
    connectors,
    bonds: [
      {
        id: 'seal',
        kind: 'tape',
        joins: ['display', 'frame'],
        at: { perimeterOf: 'display', inset: 0.5, width: 1.5, gaps: [] },
        tabs: [],
        softensAt: 60,
        solvent: true,
        fate: 'renew',
        face: null,
        layer: null,
        flex: null,
        staysOn: null,
      },
    ],
    latches: [],
    orders: [],
    mateOrder: [],
    functions: [{ id: 'one', name: 'One', test: 'Try it.', afterClosing: false }],
    spares: [],
  };
}
