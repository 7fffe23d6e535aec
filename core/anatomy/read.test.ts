import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { tinyBond, tinyConnector, tinyDevice, tinyLatch, tinyPart, tinyScrew } from '../../demo/tiny.ts';
import { modelOf } from './model.ts';
import { readAnatomy, readAnatomyText } from './read.ts';
import type { Anatomy } from './types.ts';

const faultsOf = (change: (a: Anatomy) => void) => {
  const reading = readAnatomy(tinyDevice(change));
  return reading.ok ? [] : reading.faults;
};

describe('an anatomy is read with clear faults', () => {
  it('takes the tiny device without a fault', () => {
    expect(readAnatomy(tinyDevice())).toMatchObject({ ok: true });
  });

  const cases: [name: string, change: (a: Anatomy) => void, path: string, message: RegExp][] = [
    [
      'an unknown id',
      (a) => {
        a.fasteners[0]!.holds = ['lid'];
      },
      'fasteners[0].holds[0]',
      /no part "lid"/,
    ],
    [
      'an unknown function',
      (a) => {
        a.connectors[1]!.carries = ['video'];
      },
      'connectors[1].carries[0]',
      /no function "video"/,
    ],
    [
      'a circle of assemblies',
      (a) => {
        a.parts[2]!.within = 'camera';
        a.parts[3]!.within = 'bracket';
      },
      'parts',
      /circle: .*bracket/,
    ],
    [
      'a circle of orders',
      (a) => {
        a.orders = [
          { first: 'cover', then: 'board', because: 'x' },
          { first: 'board', then: 'cover', because: 'y' },
        ];
      },
      'orders',
      /circle/,
    ],
    [
      'connectors beneath each other',
      (a) => {
        a.connectors[0]!.beneath = ['camera-flex'];
        a.connectors[1]!.beneath = ['battery-flex'];
      },
      'connectors',
      /circle/,
    ],
    [
      'a fastener outside its part',
      (a) => {
        a.fasteners[2]!.at = [4, 70];
      },
      'fasteners[2].at',
      /lies outside bracket/,
    ],
    [
      'a hole shorter than its screw',
      (a) => {
        a.fasteners[1]!.holeDepth = 1;
      },
      'fasteners[1].holeDepth',
      /1 mm deep but c2 is 1.4 mm long/,
    ],
    [
      'an id used twice',
      (a) => {
        a.fasteners[1]!.id = 'c1';
      },
      'fasteners[1].id',
      /used already at fasteners\[0\].id/,
    ],
    [
      'a part outside the body',
      (a) => {
        a.parts[3]!.outline = { rect: [36, 4, 10, 10] };
      },
      'parts[3].outline',
      /outside the body/,
    ],
    [
      'a child outside its assembly',
      (a) => {
        a.parts.push(tinyPart('lens', 0, [30, 60, 4, 4], { within: 'camera' }));
      },
      'parts[6].outline',
      /outside the assembly/,
    ],
    [
      'a connector beside its board',
      (a) => {
        a.connectors[1]!.at = [4, 60];
      },
      'connectors[1].at',
      /does not lie on board/,
    ],
    [
      'a tether that joins nothing',
      (a) => {
        a.parts[1]!.swing = { hinge: 'left', degrees: 90, tether: ['camera-flex'], gap: null };
      },
      'parts[1].swing.tether[0]',
      /cannot be its tether/,
    ],
    [
      'a stretch strip without tabs',
      (a) => {
        a.bonds = [tinyBond('strips', 'stretch-tab', ['battery', 'frame'])];
      },
      'bonds[0].tabs',
      /where it is gripped/,
    ],
    [
      'a device that cannot be isolated',
      (a) => {
        a.connectors[0]!.isolatesPower = false;
      },
      'connectors',
      /isolates the power/,
    ],
    [
      'a screw that holds what it is driven into',
      (a) => {
        a.fasteners[0]!.into = 'cover';
      },
      'fasteners[0].into',
      /also held/,
    ],
    [
      'a bond beside its part',
      (a) => {
        a.bonds = [tinyBond('tape', 'tape', ['camera', 'board'])];
      },
      'bonds[0].at',
      /does not touch board/,
    ],
    [
      'a reach by a part that does not swing',
      (a) => {
        a.connectors.push(tinyConnector('x', 'camera', 'board', [30, 40], { reachedBy: { swing: 'board' } }));
      },
      'connectors[2].reachedBy.swing',
      /has no swing/,
    ],
    [
      'a spare without what it replaces',
      (a) => {
        a.spares = [{ id: 's', name: 'S', replaces: 'camera', includes: ['cover'], brings: [] }];
      },
      'spares[0].includes',
      /must include/,
    ],
    [
      'a route outside the body',
      (a) => {
        a.connectors[1]!.route = {
          line: [
            [22, 10],
            [22, 90],
          ],
          width: 1,
        };
      },
      'connectors[1].route.line[1]',
      /22, 90 lies outside the body of 40 × 80 mm/,
    ],
    [
      'a route that leads to no plug',
      (a) => {
        a.connectors[1]!.route = {
          line: [
            [10, 60],
            [10, 70],
          ],
          width: 1,
        };
      },
      'connectors[1].route.line',
      /ends 51\.4 mm from camera-flex/,
    ],
    [
      'a function told twice',
      (a) => {
        a.functions.push(a.functions[0]!);
      },
      'functions[2].id',
      /used twice/,
    ],
    [
      'a spare told twice',
      (a) => {
        a.spares = [1, 2].map(() => ({ id: 's', name: 'S', replaces: 'camera', includes: ['camera'], brings: [] }));
      },
      'spares[1].id',
      /used twice/,
    ],
    [
      'a spare with what does not travel with it',
      (a) => {
        a.spares = [{ id: 's', name: 'S', replaces: 'camera', includes: ['camera', 'cover'], brings: [] }];
      },
      'spares[0].includes[1]',
      /does not travel within "camera"/,
    ],
    [
      'a connector to itself',
      (a) => {
        a.connectors[1]!.to = 'camera';
      },
      'connectors[1].to',
      /joins "camera" to itself/,
    ],
    [
      'a frame that swings',
      (a) => {
        a.parts[0]!.swing = { hinge: 'left', degrees: 90, tether: [], gap: null };
      },
      'parts[0].fixed',
      /neither travels within another nor swings/,
    ],
    [
      'no frame at all',
      (a) => {
        a.parts[0]!.fixed = false;
      },
      'parts',
      /one part must be fixed/,
    ],
    [
      'a circle of mating',
      (a) => {
        a.mateOrder = [
          ['battery-flex', 'camera-flex'],
          ['camera-flex', 'battery-flex'],
        ];
      },
      'mateOrder',
      /circle/,
    ],
    [
      'standoffs in each other',
      (a) => {
        a.fasteners[0] = { ...a.fasteners[0]!, kind: 'standoff', into: 'c2' };
        a.fasteners[1] = { ...a.fasteners[1]!, kind: 'standoff', into: 'c1' };
      },
      'fasteners',
      /driven into each other in a circle/,
    ],
    [
      'a head smaller than its thread',
      (a) => {
        a.fasteners[0]!.head = 1;
      },
      'fasteners[0].head',
      /\(1 mm\) is smaller than the thread \(1\.2 mm\)/,
    ],
    [
      'a bond that is all gap',
      (a) => {
        a.bonds = [
          tinyBond('seal', 'tape', ['cover', 'frame'], {
            at: {
              perimeterOf: 'cover',
              inset: 0,
              width: 1,
              gaps: [
                { edge: 'top', from: 0, to: 40 },
                { edge: 'bottom', from: 0, to: 40 },
                { edge: 'left', from: 0, to: 80 },
                { edge: 'right', from: 0, to: 80 },
              ],
            },
          }),
        ];
      },
      'bonds[0].at',
      /leave no adhesive/,
    ],
    [
      'a connector outside the body',
      (a) => {
        a.connectors[1] = { ...a.connectors[1]!, kind: 'contact', at: [60, 10] };
      },
      'connectors[1].at',
      /outside the body/,
    ],
  ];
  /** One reference of each kind, bent to an id that is not there. */
  const strays: [path: string, bend: (a: Anatomy) => void][] = [
    [
      'parts[3].within',
      (a) => {
        a.parts[3]!.within = 'x';
      },
    ],
    [
      'parts[1].swing.tether[0]',
      (a) => {
        a.parts[1]!.swing = { hinge: 'left', degrees: 90, tether: ['x'], gap: null };
      },
    ],
    [
      'parts[3].pairing[0].with',
      (a) => {
        a.parts[3]!.pairing = [{ with: 'x', loses: [], remedy: '' }];
      },
    ],
    [
      'parts[3].pairing[0].loses[0]',
      (a) => {
        a.parts[3]!.pairing = [{ with: 'board', loses: ['x'], remedy: '' }];
      },
    ],
    [
      'parts[3].functions[0]',
      (a) => {
        a.parts[3]!.functions = ['x'];
      },
    ],
    [
      'fasteners[0].into',
      (a) => {
        a.fasteners[0]!.into = 'x';
      },
    ],
    [
      'connectors[1].from',
      (a) => {
        a.connectors[1]!.from = 'x';
      },
    ],
    [
      'connectors[1].beneath[0]',
      (a) => {
        a.connectors[1]!.beneath = ['x'];
      },
    ],
    [
      'connectors[1].under[0]',
      (a) => {
        a.connectors[1]!.under = ['x'];
      },
    ],
    [
      'connectors[1].reachedBy.swing',
      (a) => {
        a.connectors[1]!.reachedBy = { swing: 'x' };
      },
    ],
    [
      'connectors[1].after[0]',
      (a) => {
        a.connectors[1]!.after = ['x'];
      },
    ],
    [
      'bonds[0].joins[0]',
      (a) => {
        a.bonds = [
          tinyBond('t', 'tape', ['x', 'frame'], { at: { perimeterOf: 'cover', inset: 1, width: 1, gaps: [] } }),
        ];
      },
    ],
    [
      'bonds[0].at.perimeterOf',
      (a) => {
        a.bonds = [
          tinyBond('t', 'tape', ['cover', 'frame'], { at: { perimeterOf: 'x', inset: 1, width: 1, gaps: [] } }),
        ];
      },
    ],
    [
      'latches[0].joins[0]',
      (a) => {
        a.latches = [tinyLatch('l', 'x')];
      },
    ],
    [
      'orders[0].first',
      (a) => {
        a.orders = [{ first: 'x', then: 'board', because: 'x' }];
      },
    ],
    [
      'orders[0].then',
      (a) => {
        a.orders = [{ first: 'board', then: 'x', because: 'x' }];
      },
    ],
    [
      'mateOrder[0][1]',
      (a) => {
        a.mateOrder = [['camera-flex', 'x']];
      },
    ],
    [
      'spares[0].replaces',
      (a) => {
        a.spares = [{ id: 's', name: 'S', replaces: 'x', includes: ['camera'], brings: [] }];
      },
    ],
    [
      'spares[0].includes[1]',
      (a) => {
        a.spares = [{ id: 's', name: 'S', replaces: 'camera', includes: ['camera', 'x'], brings: [] }];
      },
    ],
  ];
  it.each(strays)('a stray id at %s', (path, bend) => {
    expect(faultsOf(bend)).toContainEqual({
      path,
      message: expect.stringMatching(/^there is no \w+ "x"; add it or correct the id$/),
    });
  });
  it.each(cases)('%s', (_, change, path, message) => {
    expect(faultsOf(change)).toContainEqual({ path, message: expect.stringMatching(message) });
  });

  it('names an unknown field', () => {
    const reading = readAnatomy({ ...tinyDevice(), colour: 'blue' });
    expect(reading).toEqual({
      ok: false,
      faults: [{ path: 'colour', message: expect.stringContaining('unknown field "colour"') }],
    });
  });

  it('gives the path of a wrong type deep inside', () => {
    const device = structuredClone(tinyDevice()) as unknown as { fasteners: { at: unknown }[] };
    device.fasteners[3]!.at = [1, 'two'];
    expect(readAnatomy(device)).toMatchObject({ ok: false, faults: [{ path: 'fasteners[3].at[1]' }] });
  });

  it('gives the line of a syntax error', () => {
    expect(readAnatomyText('{\n  "schema": \n}')).toMatchObject({
      ok: false,
      faults: [{ path: expect.stringMatching(/^line 3/), message: expect.stringContaining('not JSON') }],
    });
  });

  it('fills in defaults', () => {
    const { fate: _, ...bare } = tinyScrew('n1', 'cover', [10, 10]);
    const reading = readAnatomy({ ...tinyDevice(), fasteners: [...tinyDevice().fasteners, bare] });
    expect(reading.ok && reading.value.fasteners.at(-1)!.fate).toBe('keep');
  });
});

describe('what only nibrel.anatomy/2 says', () => {
  const second = (change: (a: Anatomy) => void) =>
    readAnatomy(
      tinyDevice((a) => {
        a.schema = 'nibrel.anatomy/2';
        change(a);
      }),
    );
  it.each<[string, (a: Anatomy) => void, string]>([
    [
      'in a document that says /1',
      (a) => {
        a.schema = 'nibrel.anatomy/1';
        a.parts[1]!.limits = { hottest: 60, solvent: true, bend: true, suction: true };
      },
      'parts[1].limits',
    ],
    [
      'a rail that is not there',
      (a) => {
        a.connectors[0]!.isolates = 'left';
      },
      'connectors[0].isolates',
    ],
    [
      'a cell in what is no battery',
      (a) => {
        a.cells = [{ part: 'board', volts: 3.8, milliampHours: 900, series: 1, parallel: 1, rail: 'main' }];
      },
      'cells[0].part',
    ],
    [
      'a cell of 7.6 V that is one',
      (a) => {
        a.cells = [{ part: 'battery', volts: 7.6, milliampHours: 900, series: 1, parallel: 1, rail: 'main' }];
      },
      'cells[0].volts',
    ],
    [
      'a screw that presses nothing',
      (a) => {
        a.bonds = [tinyBond('rim', 'gasket', ['cover', 'frame'], { softensAt: null, compressedBy: ['k1'] })];
      },
      'bonds[0].compressedBy[0]',
    ],
    [
      'a hinge without bodies',
      (a) => {
        a.hinge = {
          line: [
            [20, 0],
            [20, 80],
          ],
          crosses: [],
          inner: null,
          radius: null,
          half: [],
        };
      },
      'bodies',
    ],
    [
      'a part of a body that is not there',
      (a) => {
        a.parts[1]!.body = 'left';
      },
      'parts[1].body',
    ],
  ])('%s is a fault with its path', (_, change, path) => {
    expect(second(change)).toMatchObject({ ok: false, faults: [{ path }] });
  });
  it('is taken in as it was written', () => {
    const reading = second((a) => {
      a.rails = [{ id: 'main', name: 'Battery', feeds: [] }];
      a.connectors[0]!.isolates = 'main';
    });
    expect(reading).toMatchObject({ ok: true, value: { schema: 'nibrel.anatomy/2', rails: [{ id: 'main' }] } });
  });
});

describe('the model', () => {
  it('places a screw on the smallest layer that it holds', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.fasteners.push(tinyScrew('x', 'board', [22, 24], { holds: ['board', 'bracket'] }));
      }),
    );
    expect(model.layerOf('x')).toBe(1);
  });
  it('gives the joints within an assembly that assembly as their context', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(tinyPart('lens', 0, [6, 6, 4, 4], { within: 'camera', face: 'back' }));
        a.fasteners.push(tinyScrew('x', 'lens', [8, 8], { into: 'camera', face: 'back' }));
      }),
    );
    expect(model.contextOf('x')).toBe('camera');
    expect(model.contextOf('c1')).toBeNull();
    expect(model.familyOf('camera')).toEqual(['camera', 'lens']);
  });
});

describe('the demo anatomies', () => {
  it.each(['velmora-quill-5', 'tannbrook-field-3'])('%s has no fault', (name) => {
    expect(
      readAnatomyText(readFileSync(new URL(`../../demo/anatomies/${name}.json`, import.meta.url), 'utf8')),
    ).toMatchObject({ ok: true });
  });
  it('the sealed phone has at least 35 fasteners of at least 4 drives', () => {
    const reading = readAnatomyText(
      readFileSync(new URL('../../demo/anatomies/velmora-quill-5.json', import.meta.url), 'utf8'),
    );
    if (!reading.ok) throw new Error('faults');
    expect(reading.value.fasteners.length).toBeGreaterThanOrEqual(35);
    expect(new Set(reading.value.fasteners.map((f) => f.drive)).size).toBeGreaterThanOrEqual(4);
  });
});

describe('the cells of a battery', () => {
  it.each([
    [{ volts: 3.87, milliampHours: 8200, cells: 2 }, null],
    [{ volts: 7.58, milliampHours: 6120, cells: 2 }, null],
    [{ volts: 3.87, milliampHours: 8200, series: 1, parallel: 2 }, null],
    [{ volts: 7.6, milliampHours: 8200, cells: 4, series: 2 }, null],
    [{ volts: 5, milliampHours: 8200, cells: 2 }, /5 V do not go with 2 cells/],
    [{ volts: 3.87, milliampHours: 8200, cells: 2, series: 2 }, /2 in a row/],
    [{ volts: 3.87, milliampHours: 8200, cells: 3, parallel: 2 }, /cannot be joined/],
    [{ volts: 7.6, milliampHours: 8200, cells: 3, series: 2, parallel: 2 }, /are 4 cells, not 3/],
  ])('%j goes with its volts, or the fault says why', (battery, fault) => {
    const said = faultsOf((a) => void Object.assign(a, { battery }));
    if (fault === null) expect(said).toEqual([]);
    else expect(said.map((f) => `${f.path}: ${f.message}`).join()).toMatch(fault);
  });
});
