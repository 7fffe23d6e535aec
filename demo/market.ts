import {
  versionOf,
  type Anatomy,
  type Bond,
  type Edge,
  type Order,
  type Outline,
  type Part,
  type Point,
  type Rect,
} from '../core/anatomy/index.ts';
import { newEntry } from '../core/draft/index.ts';
import { Bench, corners, inset, middle } from './marketBench.ts';
import type { Draw } from './synthetic.ts';

/**
 * Devices as different as those on a counter, drawn part by part in the order in which a device is put together: frame,
 * innermost parts, boards, cells, what lies over them, panels. Whatever is laid later lies over what was laid before, so that
 * every device of these comes apart again. Dimensions and counts are made up.
 */
export type Build = 'glued-back' | 'glued-front' | 'both-glued' | 'screwed-back' | 'caught-back' | 'tablet';
export const BUILDS: readonly Build[] = [
  'glued-back',
  'glued-front',
  'both-glued',
  'screwed-back',
  'caught-back',
  'tablet',
];

/** A device of a build; left out, of any. */
export function marketAnatomy(draw: Draw, build: Build = BUILDS[draw(BUILDS.length)]!): Anatomy {
  const tablet = build === 'tablet';
  const b = new Bench(draw, build === 'glued-front' || tablet ? 'front' : 'back');
  const [width, height] = tablet ? [b.mm(150, 215), b.mm(210, 280)] : [b.mm(66, 79), b.mm(138, 168)];
  const body: Rect = [0, 0, width, height];
  b.part('frame', 'frame', 6, { rect: body, radius: 8 }, { fixed: true });

  // The room inside, in three stretches: boards above, cells in the middle, a lower board.
  const room = inset(body, tablet ? 8 : 4);
  const [x0, y0, w, h] = room;
  const top = h * (0.28 + draw(12) / 100);
  const low = h * 0.16;
  const cellAt: Rect = [x0, y0 + top, w, h - top - low];

  // Innermost: motor, buttons, a port and jack of their own.
  const board0: Rect = [x0, y0, w * (b.chance(50) ? 1 : 0.62), top - 1];
  const lower: Rect = [x0, y0 + h - low + 1, w, low - 1];
  const late: (() => void)[] = [];
  const orders: Order[] = [];
  const motorAt: Rect = [lower[0] + 1, lower[1] + 1, 11, 8];
  const separateMotor = b.chance(60);
  const subSplit = separateMotor ? 14 : 0;
  const subAt: Rect = [lower[0] + subSplit, lower[1], lower[2] - subSplit, lower[3]];

  // Boards.
  const boardOutline: Outline =
    board0[2] === w && b.chance(40)
      ? {
          polygon: [
            [x0, y0],
            [x0 + w, y0],
            [x0 + w, y0 + top - 1],
            [x0 + w * 0.55, y0 + top - 1],
            [x0 + w * 0.55, y0 + top * 0.5],
            [x0, y0 + top * 0.5],
          ],
        }
      : { rect: board0 };
  const board = b.part('board', 'board', 4, boardOutline, { conductive: true, functions: b.does('starts', 'network') });
  const right = 'polygon' in boardOutline ? x0 + w * 0.55 : x0;
  const boardRight: Rect = [right, y0, 'polygon' in boardOutline ? w * 0.45 : board0[2], top - 1];
  b.screws(board, 'frame', corners(boardRight).slice(0, 2 + draw(3)));
  const sub = b.part('lower-board', 'board', 4, subAt, {
    conductive: true,
    functions: b.does('charging', 'microphone'),
  });
  b.screws(sub, 'frame', corners(subAt).slice(0, 1 + draw(3)));

  // Plugs stand in a row along the foot of the main board; a plate lies over some of them.
  let spot = 0;
  const rowY = boardRight[1] + boardRight[3] - 5;
  const onBoard = (): Point => {
    const across = Math.max(1, Math.floor((boardRight[2] - 12) / 8));
    const rows = Math.max(1, Math.floor((boardRight[3] - 8) / 4.5));
    const [column, row] = [spot % across, Math.floor(spot / across) % rows];
    spot++;
    return [boardRight[0] + 7 + column * 8, rowY - row * 4.5];
  };
  const onSub = (i: number): Point => [subAt[0] + 8 + i * 9, subAt[1] + 4];

  // Under the boards or beside them.
  if (separateMotor) {
    const motor = b.part('motor', 'motor', 4, motorAt, { functions: b.does('vibration') });
    if (b.chance(50)) b.screws(motor, 'frame', [middle(motorAt)]);
    else b.bond(motor, 'frame', 'tape', { area: { rect: inset(motorAt, 2) } });
    if (b.chance(60)) b.plug(motor, sub, onSub(0), { kind: 'contact' });
    else b.plug(motor, sub, onSub(0));
  }
  const buttonsAt: Rect = [width - 5, y0 + top, 3, 30];
  if (b.chance(70)) {
    const buttons = b.part('buttons', 'button', 5, buttonsAt, { functions: b.does('keys') });
    if (b.chance(50))
      b.screws(buttons, 'frame', [
        [width - 3.5, y0 + top + 4],
        [width - 3.5, y0 + top + 26],
      ]);
    else b.bond(buttons, 'frame', 'tape', { area: { rect: inset(buttonsAt, 0.6) } });
    b.plug(buttons, board, onBoard());
  }
  if (b.chance(45)) {
    const portAt: Rect = [width / 2 - 6, height - 11, 12, 8];
    const port = b.part('port', 'port', 5, portAt, { functions: b.does('charging') });
    b.screws(port, 'frame', [
      [width / 2 - 4, height - 5],
      [width / 2 + 4, height - 5],
    ]);
    if (b.chance(35)) b.plug(port, sub, [width / 2, subAt[1] + subAt[3] - 3], { kind: 'solder', size: [8, 2] });
    else b.plug(port, sub, onSub(2));
  }

  // Cells: one, or two side by side, each with a plug of its own or one for both.
  const cells: Part[] = [];
  const two = tablet ? b.chance(70) : b.chance(20);
  const three = tablet && b.chance(30);
  const third = (cellAt[2] - 10) / 3;
  const cellRects: Rect[] = three
    ? [0, 1, 2].map((k): Rect => [cellAt[0] + 1 + k * (third + 1), cellAt[1] + 1, third, cellAt[3] - 2])
    : two
      ? [
          [cellAt[0] + 1, cellAt[1] + 1, cellAt[2] / 2 - 2, cellAt[3] - 2],
          [cellAt[0] + cellAt[2] / 2 + 1, cellAt[1] + 1, cellAt[2] / 2 - 8, cellAt[3] - 2],
        ]
      : [[cellAt[0] + 1, cellAt[1] + 1, cellAt[2] - 9, cellAt[3] - 2]];
  cellRects.forEach((rect, i) => {
    const cell = b.part(i === 0 ? 'battery' : `battery-${i + 1}`, 'battery', 4, rect, {
      functions: i === 0 ? b.does('starts') : [],
    });
    cells.push(cell);
    const kind = b.oneOf(['stretch-tab', 'pull-pouch', 'glue', 'tape'] as const);
    const tabs: Point[] = [
      [rect[0] + rect[2] * 0.3, rect[1] + rect[3] - 2],
      [rect[0] + rect[2] * 0.7, rect[1] + rect[3] - 2],
    ];
    if (build === 'caught-back' && b.chance(60)) return;
    b.bond(
      cell,
      'frame',
      kind,
      { area: { rect: inset(rect, 4) } },
      kind === 'stretch-tab' || kind === 'pull-pouch' ? { tabs } : {},
    );
  });
  const loose = !b.bonds.some((x) => x.joins.includes('battery'));
  b.plug(cells[0]!, board, onBoard(), {
    id: 'battery-flex',
    kind: loose ? 'contact' : b.oneOf(['press', 'press', 'clipped', 'slide-lock'] as const),
    isolatesPower: true,
    carries: ['starts'],
  });
  for (const more of cells.slice(1))
    b.plug(more, board, onBoard(), {
      id: `${more.id}-flex`,
      kind: 'press',
      isolatesPower: true,
      carries: ['starts'],
    });

  // A microphone soldered to the lower board.
  if (b.chance(25)) {
    const at: Rect = [subAt[0] + subAt[2] - 12, subAt[1] + subAt[3] - 7, 4, 4];
    const microphone = b.part('microphone', 'sensor', 0, at, {
      within: 'lower-board',
      functions: b.does('microphone'),
    });
    b.plug(microphone, sub, middle(at), { kind: 'solder', size: [2, 2] });
  }

  // The flex between the boards runs over the cell, under it, or beside it.
  const linkAt: Rect = [cellAt[0] + cellAt[2] * 0.35, cellAt[1], 8, cellAt[3]];
  const over = b.chance(60);
  const link = b.part('link', 'flex', over ? 3 : 5, linkAt, { functions: [] });
  const linkTop = b.plug(link, board, onBoard(), { carries: ['charging'] });
  b.plug(link, sub, onSub(1), { carries: ['microphone'] });
  if (over && b.chance(50)) linkTop.liesOver = [];
  if (b.chance(30))
    b.bond(link, over && !three ? 'battery' : 'frame', 'tape', {
      area: { rect: [linkAt[0] + 1, cellAt[1] + 12, 6, 10] },
    });

  // Cameras beside or above the board, in front of its plugs.
  const cameras = 1 + draw(tablet ? 2 : 4);
  for (let i = 0; i < cameras; i++) {
    const rect: Rect = [x0 + w - 13 - i * 14, y0 + 1.5, 12, 12];
    if (rect[0] < boardRight[0]) break;
    const camera = b.part(i === 0 ? 'camera' : `camera-${i + 1}`, 'camera', 3, rect, {
      functions: b.does(`camera ${i + 1}`.replace(' ', '-')),
    });
    // No camera lies on its own plug.
    const [across, down] = onBoard();
    b.plug(camera, board, [across, Math.max(down, rect[1] + rect[3] + 3)]);
    if (!('polygon' in boardOutline) && rect[0] + rect[2] < board0[0] + board0[2] && b.chance(25))
      b.bond(
        camera,
        'board',
        b.chance(50) ? 'tape' : 'foil',
        { area: { rect: inset(rect, 2.5) } },
        { fate: b.chance(50) ? 'keep' : 'renew' },
      );
  }
  if (cameras > 1 && b.chance(60)) {
    const rect: Rect = [
      Math.max(boardRight[0], x0 + w - 14 * cameras - 1),
      y0 + 0.5,
      Math.min(boardRight[2], 14 * cameras),
      14,
    ];
    const hold = b.part('camera-holder', 'bracket', 2, rect);
    b.screws(hold, 'frame', [
      [rect[0] + 1.6, y0 + 12.6],
      [rect[0] + rect[2] - 1.6, y0 + 12.6],
    ]);
  }
  if (b.chance(50)) {
    const rect: Rect = [boardRight[0] + 3, boardRight[1] + boardRight[3] * 0.42, Math.min(18, boardRight[2] - 6), 9];
    const shield = b.part('shield', 'shield', 3, rect, { conductive: true });
    if (b.chance(60))
      b.latches.push(
        newEntry.latch('shield-rim', {
          joins: ['shield', 'board'],
          edge: 'top',
          count: 4,
          release: 'any',
          mate: 'last',
        }),
      );
    else b.screws(shield, 'board', corners(rect, 1.6).slice(0, 2));
    if (b.chance(60)) b.bond(shield, 'board', 'thermal', { area: { rect: inset(rect, 2.5) } });
  }

  // Loudspeaker over the lower board, earpiece above.
  if (b.chance(80)) {
    const rect: Rect = [lower[0] + w * 0.45, lower[1] + 1, w * 0.5, low - 4];
    const speaker = b.part('speaker', 'speaker', 3, rect, { functions: b.does('loudspeaker') });
    b.screws(speaker, 'frame', corners(rect).slice(0, 2 + draw(3)));
    if (b.chance(70)) b.plug(speaker, sub, [rect[0] + 4, rect[1] + 4], { kind: 'contact' });
    else b.plug(speaker, sub, [subAt[0] + 4, subAt[1] + subAt[3] - 4]);
    if (b.chance(30))
      b.bond(speaker, 'frame', 'tape', { area: { rect: inset(rect, 4) } }, { fate: b.chance(50) ? 'keep' : 'renew' });
  }

  // Plates over the plugs.
  const plateAt: Rect = [boardRight[0] + 1, rowY - 9, boardRight[2] - 2, 13];
  if (b.chance(75)) {
    const plate = b.part('plug-plate', 'plate', 2, plateAt, { conductive: true });
    b.screws(plate, 'board', [
      [plateAt[0] + 2, rowY + 2.4],
      [plateAt[0] + plateAt[2] - 2, rowY + 2.4],
    ]);
    if (b.chance(40))
      b.bond(plate, 'board', 'foil', { area: { rect: [plateAt[0] + plateAt[2] / 2 - 4, plateAt[1] + 1, 8, 4] } });
  }
  if (b.chance(35) && !tablet) {
    const rect: Rect = [x0 + 1, y0 + 16, w - 2, top - 12];
    const cover = b.part('upper-cover', 'cover', 1, rect, { functions: b.does('antenna') });
    b.screws(cover, 'frame', corners(rect, 3));
    late.push(() => b.plug(cover, board, [rect[0] + 8, rect[1] + 5], { kind: 'contact' }));
  }
  if (b.chance(40) && !tablet) {
    const at = middle(cellAt);
    const coil = b.part(
      'coil',
      'coil',
      1,
      { circle: [at[0], at[1], Math.min(cellAt[2] / 2 - 4, 21)] },
      { functions: b.does('charging-pad') },
    );
    b.bond(
      coil,
      b.chance(60) ? 'battery' : 'frame',
      b.chance(50) ? 'tape' : 'foil',
      { area: { circle: [at[0], at[1], 10] } },
      { fate: b.chance(40) ? 'keep' : 'renew' },
    );
    b.plug(coil, board, onBoard());
  }
  for (const more of late) more();

  // Panels.
  const panel: Outline = { rect: inset(body, 0.8), radius: 7 };
  const tape = (part: Part, kind: Bond['kind'] = 'tape', rest: Partial<Bond> = {}) =>
    b.bond(part, 'frame', kind, { perimeterOf: part.id, inset: 0.5, width: b.mm(1, tablet ? 6 : 2.4), gaps: [] }, rest);
  const display = b.part('display', 'display', 0, panel, {
    face: 'front',
    glass: true,
    curved: b.chance(15),
    functions: b.does('picture', 'touch'),
    pairing: [],
  });
  if (b.chance(40))
    b.part('front-camera', 'camera', 0, [width / 2 - 4, 4, 8, 6], {
      within: 'display',
      face: 'back',
      functions: b.does('front-camera'),
    });
  if (b.chance(20))
    display.limits = {
      hottest: b.chance(50) ? 60 + draw(20) : null,
      solvent: b.chance(50),
      bend: b.chance(60),
      suction: b.chance(60),
    };
  const flexes = [b.plug(display, board, onBoard(), { carries: ['picture'] })];
  if (b.chance(50)) flexes.push(b.plug(display, board, onBoard(), { carries: ['touch'] }));
  if (b.parts.some((p) => p.id === 'front-camera')) {
    const own = b.parts.find((p) => p.id === 'front-camera')!;
    if (b.chance(50)) b.screws(own, 'display', [[width / 2 + 2.5, 7]], { face: 'back' });
    else b.bond(own, 'display', 'tape', { area: { rect: [width / 2 - 3, 5, 6, 4] } });
    flexes.push(b.plug(own, board, onBoard()));
  }
  if (b.inner === 'front')
    display.swing = {
      hinge: b.oneOf<Edge>(['left', 'right', 'top', 'bottom']),
      degrees: b.oneOf([90, 90, 75, 120]),
      tether: flexes.map((c) => c.id),
      gap: null,
    };
  tape(display);

  if (build === 'glued-back' || build === 'both-glued' || build === 'screwed-back' || build === 'caught-back') {
    const back = b.part('back', 'cover', 0, panel, {
      face: 'back',
      glass: build !== 'caught-back' && build !== 'screwed-back' && b.chance(70),
      functions: [],
    });
    if (build === 'screwed-back') {
      const rim: Point[] = [...corners(body, 5), [3.5, height / 2], [width - 3.5, height / 2]];
      b.screws(back, 'frame', rim);
      if (b.chance(80)) {
        const gasket = tape(back, 'gasket', { fate: b.chance(50) ? 'keep' : 'renew', solvent: false });
        if (b.chance(50)) gasket.compressedBy = b.fasteners.filter((f) => f.holds.includes('back')).map((f) => f.id);
      }
      // Rubber caps over two of its screws.
      if (b.chance(40))
        b.fasteners
          .filter((f) => f.holds.includes('back'))
          .slice(0, 2)
          .forEach((screw) => {
            b.screws(back, 'frame', [[screw.at[0], screw.at[1] + 0.2]], {
              kind: 'cap',
              drive: 'none',
              threadlock: false,
            });
            orders.push({ first: b.fasteners.at(-1)!.id, then: screw.id, because: 'Its cap lies over it.' });
          });
    } else if (build === 'caught-back') {
      for (const edge of ['left', 'right', 'bottom'] as const)
        b.latches.push(
          newEntry.latch(`back-${edge}`, {
            joins: ['back', 'frame'],
            edge,
            count: 3 + draw(4),
            release: 'any',
            mate: 'last',
          }),
        );
    } else {
      tape(back);
      // A pad in the middle holds it to what lies beneath.
      if (b.chance(20)) {
        const [x, y] = middle(cellAt);
        b.bond(back, b.chance(50) ? 'battery' : 'frame', b.chance(50) ? 'glue' : 'tape', {
          area: { rect: [x - 9, y + 4, 18, 14] },
        });
      }
    }
    if (b.chance(30) && build !== 'caught-back') {
      const lens = b.part(
        'lens-ring',
        'lens',
        0,
        { circle: [width - 14, 14, 8] },
        { within: 'back', face: 'back', glass: true },
      );
      b.bond(lens, 'back', 'tape', { perimeterOf: 'lens-ring', inset: 0.5, width: 1.2, gaps: [] });
    }
    if (b.chance(30)) {
      const reader = b.part('finger-reader', 'reader', 0, [width / 2 - 6, 30, 12, 12], {
        within: 'back',
        face: 'front',
        functions: b.does('fingerprint'),
      });
      b.bond(reader, 'back', 'tape', { area: { rect: [width / 2 - 4, 32, 8, 8] } });
      const flex = b.plug(reader, board, onBoard());
      back.swing = { hinge: b.oneOf<Edge>(['left', 'right']), degrees: 90, tether: [flex.id], gap: null };
    }
  }
  if (b.chance(70) && !tablet) b.part('tray', 'tray', 0, [width - 14, y0 + top + 34, 14, 18], { face: 'edge' });

  const functions = [...b.functions].map(([id, afterClosing]) => ({
    id,
    name: id.replaceAll('-', ' '),
    test: `Try ${id}.`,
    afterClosing,
  }));
  const anatomy: Anatomy = {
    schema: 'nibrel.anatomy/1',
    id: `market-${build}`,
    name: `Market ${build}`,
    maker: 'Nobody',
    kind: tablet ? 'tablet' : 'phone',
    body: { width, height, thickness: tablet ? 7 : 8.2, cornerRadius: 8, ingress: b.chance(50) ? 'IP67' : null },
    battery: { volts: 3.85, milliampHours: tablet ? 8000 : 4200, cells: cells.length },
    parts: b.parts,
    fasteners: b.fasteners,
    connectors: b.connectors,
    bonds: b.bonds,
    latches: b.latches,
    orders,
    mateOrder: b.mateOrder,
    functions,
    spares: [],
  };
  return { ...anatomy, schema: versionOf(anatomy) };
}
