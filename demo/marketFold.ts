import type { Anatomy, Connector, Part, Point, Rect } from '../core/anatomy/index.ts';
import { Bench, corners, inset, middle } from './marketBench.ts';
import type { Draw } from './synthetic.ts';

/** What one half of a fold is made of, for what is joined to it later. */
interface HalfMade {
  rect: Rect;
  frame: Part;
  board: Part;
  /** Where the next plug may stand on its board. */
  spot: () => Point;
}

/**
 * A fold with two halves side by side: a bending display over both inside, a cell or two in each half under a back or an outer
 * display, boards joined over the hinge. Dimensions and counts are made up; what is laid later lies over what was laid before.
 */
export function foldAnatomy(draw: Draw): Anatomy {
  const b = new Bench(draw, 'back');
  const [half, height] = [b.mm(64, 76), b.mm(142, 166)];
  const split = b.chance(50);
  const left = fill(b, 'left', [0, 0, half, height], split);
  const right = fill(b, 'right', [half, 0, half, height], split);

  // Over the hinge: one or two flexes that lie deep in both halves.
  const crosses: string[] = [];
  for (let k = 0; k < 1 + draw(2); k++) {
    const y = height * (0.3 + k * 0.25);
    const flex = b.part(`hinge-flex-${k + 1}`, 'flex', 5, [half - 22, y, 44, 6], { functions: [] });
    for (const side of [left, right])
      crosses.push(b.plug(flex, side.board, side.spot(), { carries: k === 0 ? ['charging'] : [] }).id);
    if (b.chance(40)) b.bond(flex, left.frame.id, 'tape', { area: { rect: [half - 14, y + 1, 8, 4] } });
  }

  const inner = b.part(
    'inner-display',
    'display',
    0,
    { rect: inset([0, 0, 2 * half, height], 1), radius: 6 },
    {
      face: 'front',
      functions: b.does('picture', 'touch'),
      limits: { hottest: 60 + draw(15), solvent: false, bend: false, suction: b.chance(20) },
    },
  );
  b.plug(inner, right.board, right.spot(), { carries: ['picture'] });
  if (b.chance(50)) b.plug(inner, right.board, right.spot(), { carries: ['touch'] });
  b.bonds.push({
    ...b.bond(inner, left.frame.id, 'tape', { perimeterOf: inner.id, inset: 0.6, width: b.mm(1, 2.4), gaps: [] }),
  });
  const seal = b.bonds.pop()!;
  Object.assign(seal, { joins: [inner.id, left.frame.id, right.frame.id], softensAt: 50 + draw(9), solvent: false });

  for (const side of [left, right]) close(b, side, side === right && b.chance(60));

  const cutting = b.connectors.filter((c) => c.isolatesPower);
  return {
    schema: 'nibrel.anatomy/2',
    id: 'market-fold',
    name: 'Market fold',
    maker: 'Nobody',
    kind: 'phone',
    body: { width: 2 * half, height, thickness: 6.4, cornerRadius: 6, ingress: b.chance(40) ? 'IPX8' : null },
    battery: { volts: 3.87, milliampHours: 4400, cells: cutting.length, parallel: cutting.length, series: 1 },
    cells: cutting.map((c) => ({
      part: c.from,
      volts: 3.87,
      milliampHours: 2200,
      series: 1,
      parallel: 1,
      rail: c.isolates!,
    })),
    rails: split
      ? [
          { id: 'left', name: 'Left cells', feeds: b.chance(50) ? [] : ['left'] },
          { id: 'right', name: 'Right cells', feeds: b.chance(50) ? [] : ['right'] },
        ]
      : [{ id: 'main', name: 'All cells', feeds: [] }],
    bodies: [
      { id: 'left', name: 'left half', outline: { rect: left.rect } },
      { id: 'right', name: 'right half', outline: { rect: right.rect } },
    ],
    hinge: {
      line: [
        [half, 0],
        [half, height],
      ],
      crosses,
      inner: inner.id,
      radius: b.mm(1.5, 3),
      half: [],
    },
    parts: b.parts,
    fasteners: b.fasteners,
    connectors: b.connectors,
    bonds: b.bonds,
    latches: b.latches,
    orders: [],
    mateOrder: [],
    functions: [...b.functions].map(([id, afterClosing]) => ({ id, name: id, test: `Try ${id}.`, afterClosing })),
    spares: [],
  };
}

/** Board, cell and small parts of one half, all worked from its back. */
function fill(b: Bench, name: string, rect: Rect, split: boolean): HalfMade {
  const [x0, y0, w, h] = inset(rect, 4);
  const frame = b.part(`${name}-frame`, 'frame', 6, { rect, radius: 6 }, { fixed: true });
  const boardAt: Rect = [x0, y0, w, h * 0.36];
  const board = b.part(`${name}-board`, 'board', 4, boardAt, {
    conductive: true,
    functions: b.does('starts', ...(name === 'left' ? ['network'] : ['charging'])),
  });
  b.screws(board, frame.id, corners(boardAt).slice(0, 2 + b.draw(3)));
  let spots = 0;
  const spot = (): Point => {
    const across = Math.floor((w - 12) / 9);
    const [column, row] = [spots % across, Math.floor(spots / across)];
    spots++;
    return [x0 + 7 + column * 9, y0 + boardAt[3] - 5 - row * 4.5];
  };
  const cellAt: Rect = [x0 + 1, y0 + boardAt[3] + 2, w - 8, h - boardAt[3] - 4];
  const cell = b.part(`${name}-cell`, 'battery', 4, cellAt, { functions: name === 'right' ? b.does('starts') : [] });
  const kind = b.oneOf(['stretch-tab', 'glue', 'tape'] as const);
  const foot: Point = [cellAt[0] + cellAt[2] / 2, cellAt[1] + cellAt[3] - 2];
  b.bond(cell, frame.id, kind, { area: { rect: inset(cellAt, 4) } }, kind === 'stretch-tab' ? { tabs: [foot] } : {});
  const power: Partial<Connector> = { isolatesPower: true, isolates: split ? name : 'main', carries: ['starts'] };
  b.plug(cell, board, spot(), { id: `${name}-cell-flex`, kind: b.oneOf(['press', 'clipped'] as const), ...power });
  if (b.chance(60)) {
    const at: Rect = [x0 + w - 14, y0 + 2, 12, 11];
    const camera = b.part(`${name}-camera`, 'camera', 3, at, { functions: b.does(`${name}-camera`) });
    b.plug(camera, board, spot());
    if (b.chance(50)) b.screws(camera, frame.id, [[at[0] + 2, at[1] + 2]]);
    else b.bond(camera, frame.id, 'tape', { area: { rect: inset(at, 3) } }, { fate: b.chance(50) ? 'keep' : 'renew' });
  }
  if (b.chance(50)) {
    const at: Rect = [x0 + 2, y0 + 2, 8, 6];
    const port = b.part(`${name}-port`, 'port', 3, at, { within: board.id, functions: b.does('charging') });
    port.face = 'back';
    port.layer = 0;
    b.plug(port, board, middle(at), { kind: 'solder', size: [6, 2] });
  }
  if (b.chance(70)) {
    const at: Rect = [x0 + 1, y0 + boardAt[3] - 14, w - 2, 13];
    const plate = b.part(`${name}-plate`, 'plate', 2, at, { conductive: true });
    b.screws(plate, board.id, [
      [at[0] + 2, at[1] + 2],
      [at[0] + at[2] - 2, at[1] + 2],
    ]);
  }
  if (b.chance(40)) {
    const at: Rect = [cellAt[0] + 4, cellAt[1] + 20, Math.min(30, cellAt[2] - 8), 30];
    const coil = b.part(`${name}-coil`, 'coil', 1, at, { functions: b.does('charging-pad') });
    b.bond(coil, cell.id, 'tape', { area: { rect: inset(at, 6) } }, { fate: b.chance(50) ? 'keep' : 'renew' });
    b.plug(coil, board, spot());
  }
  return { rect, frame, board, spot };
}

/** The outer face of a half: a back of glass, or an outer display. */
function close(b: Bench, { rect, frame, board, spot }: HalfMade, isDisplay: boolean): void {
  const name = frame.id.replace('-frame', '');
  const panel = b.part(
    isDisplay ? `${name}-outer-display` : `${name}-back`,
    isDisplay ? 'display' : 'cover',
    0,
    { rect: inset(rect, 1), radius: 5 },
    { face: 'back', glass: true, functions: isDisplay ? b.does('outer-picture') : [] },
  );
  if (isDisplay) {
    const flex = b.plug(panel, board, spot(), { carries: ['outer-picture'] });
    panel.swing = { hinge: name === 'right' ? 'right' : 'left', degrees: 90, tether: [flex.id], gap: null };
  }
  b.bond(
    panel,
    frame.id,
    'tape',
    { perimeterOf: panel.id, inset: 0.5, width: b.mm(1, 2), gaps: [] },
    { softensAt: 56 + b.draw(14) },
  );
}
