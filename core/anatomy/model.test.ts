import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { tinyBond, tinyConnector, tinyDevice, tinyLatch, tinyPart, tinyScrew } from '../../demo/tiny.ts';
import { areaOf, regionsOverlap } from './geometry.ts';
import { modelOf, placementsOf, throughExits } from './model.ts';

describe('where an item lies', () => {
  const model = modelOf(
    tinyDevice((a) => {
      a.parts[3]!.exits = [{ face: 'back', layer: 0 }];
      a.parts.push(
        tinyPart('lens', 0, [6, 6, 4, 4], { within: 'camera', face: 'back' }),
        tinyPart('ring', 1, [6, 6, 4, 4], { within: 'camera', face: 'back' }),
        tinyPart('iris', 0, [7, 7, 2, 2], { within: 'ring' }),
      );
      a.fasteners.push(
        tinyScrew('post', 'board', [28, 12], { kind: 'standoff' }),
        tinyScrew('on-post', 'bracket', [28, 24], { into: 'post' }),
        tinyScrew('in-ring', 'iris', [8, 8], { into: 'ring' }),
      );
      a.connectors.push(
        tinyConnector('lens-flex', 'lens', 'camera', [8, 8]),
        tinyConnector('told', 'camera', 'board', [30, 12], { layer: 2 }),
      );
      a.bonds = [
        tinyBond('seal', 'tape', ['cover', 'frame']),
        tinyBond('strip', 'stretch-tab', ['battery', 'frame'], {
          at: {
            line: [
              [4, 40],
              [4, 70],
            ],
            width: 2,
          },
          tabs: [[4, 74]],
        }),
      ];
      a.latches = [tinyLatch('catch', 'cover'), tinyLatch('deep', 'board', { edge: 'left' })];
    }),
  );
  it('layers: a part says its own, a joint lies with the outermost part that it holds', () => {
    expect(['cover', 'c1', 'seal', 'catch', 'k1', 'strip', 'b1', 'deep'].map((id) => model.layerOf(id))).toEqual([
      0, 0, 0, 0, 1, 2, 3, 3,
    ]);
  });
  it('a connector lies on the part it is plugged into, unless it is told', () => {
    expect([model.layerOf('camera-flex'), model.layerOf('told')]).toEqual([3, 2]);
    // Plugged into the assembly itself it is beneath all that travels in it.
    expect(model.layerOf('lens-flex')).toBeGreaterThan(1000);
  });
  it('joints within an assembly belong to the innermost one around them', () => {
    expect(['in-ring', 'lens-flex', 'iris', 'lens', 'on-post', 'camera-flex'].map((id) => model.contextOf(id))).toEqual(
      ['ring', 'camera', 'ring', 'camera', null, null],
    );
    expect(model.familyOf('camera').sort()).toEqual(['camera', 'iris', 'lens', 'ring']);
  });
  it('depth adds up the assemblies that have to come out first', () => {
    // Camera on layer 1, ring on layer 1 within it, iris on layer 0 within that: 1 + (1 + 1) + (1 + 0).
    expect(['cover', 'camera', 'lens', 'ring', 'iris', 'in-ring'].map((id) => model.depthOf(id))).toEqual([
      0, 1, 2, 3, 4, 4,
    ]);
  });
  it('faces: a bond and a catch are worked from that of the outermost part they hold', () => {
    expect([model.faceOf('seal'), model.faceOf('catch'), model.faceOf('lens'), model.faceOf('c1')]).toEqual([
      'front',
      'front',
      'back',
      'front',
    ]);
    expect(placementsOf(model.parts.get('camera')!)).toEqual([
      { face: 'front', layer: 1 },
      { face: 'back', layer: 0 },
    ]);
    const turned = throughExits(model, new Map([['camera', 1]]));
    expect([turned.faceOf('camera'), turned.layerOf('camera')]).toEqual(['back', 0]);
    expect(placementsOf(turned.parts.get('camera')!)).toEqual([
      { face: 'back', layer: 0 },
      { face: 'front', layer: 1 },
    ]);
    expect([model.faceOf('camera'), model.layerOf('camera')]).toEqual(['front', 1]);
  });
  it('access: a head, a plug, a tab, a strip along the edge', () => {
    expect(areaOf(model.accessOf('c1'))).toBeCloseTo(Math.PI, 1);
    expect(areaOf(model.accessOf('camera-flex'))).toBeCloseTo(8, 6);
    expect(areaOf(model.accessOf('strip'))).toBeCloseTo(Math.PI * 1.5 ** 2, 0);
    expect(areaOf(model.accessOf('catch'))).toBeCloseTo(40 * 1.5, 6);
    expect(areaOf(model.accessOf('deep'))).toBeCloseTo(50 * 1.5, 6);
    expect(areaOf(model.accessOf('battery'))).toBeCloseTo(14 * 46, 6);
  });
  it('names: what has none is called by what it is and where', () => {
    expect(['camera', 'camera-flex', 'c1', 'seal', 'strip', 'catch'].map((id) => model.nameOf(id))).toEqual([
      'camera',
      'camera-flex',
      'c1 PH000 1.4 mm',
      'adhesive tape of cover',
      'stretch-release strips of battery',
      '2 catches, top edge',
    ]);
  });
  it('names: what would be called alike is told apart by its id', () => {
    const twice = modelOf(
      tinyDevice((a) => {
        a.bonds = ['wide', 'narrow'].map((id) => tinyBond(id, 'tape', ['cover', 'frame']));
        a.bonds.push(tinyBond('cell', 'glue', ['battery', 'frame']));
      }),
    );
    expect(['wide', 'narrow', 'cell'].map((id) => twice.nameOf(id))).toEqual([
      'adhesive tape of cover (wide)',
      'adhesive tape of cover (narrow)',
      'glue of battery',
    ]);
  });
  it('what an item holds is never in its own way', () => {
    expect(model.ownPartsOf('k1')).toEqual(['bracket']);
    expect(model.ownPartsOf('seal')).toEqual(['cover', 'frame']);
    expect(model.ownPartsOf('camera')).toEqual(['camera']);
    expect(model.ownPartsOf('camera-flex')).toEqual([]);
  });
  it('an id that is not there is an error, with the anatomy and the id', () => {
    expect(() => model.layerOf('nothing')).toThrow('the anatomy tiny has no item "nothing"');
    expect(() => model.contextOf('nothing')).toThrow('no item "nothing"');
  });
});

describe('every demo anatomy', () => {
  it.each(DEVICES)('%s: families part the device, and depths grow inwards', (id) => {
    const model = demoModel(id);
    const roots = model.anatomy.parts.filter((p) => p.within === null);
    expect(roots.flatMap((p) => model.familyOf(p.id)).sort()).toEqual(model.anatomy.parts.map((p) => p.id).sort());
    for (const part of model.anatomy.parts)
      if (part.within !== null) expect(model.depthOf(part.id)).toBeGreaterThan(model.depthOf(part.within));
    for (const item of model.items.keys()) {
      expect(areaOf(model.accessOf(item)), item).toBeGreaterThan(0);
      const context = model.contextOf(item);
      if (context !== null) expect(model.parts.has(context), item).toBe(true);
    }
  });
  it.each(DEVICES)('%s: what overlaps is told as the geometry tells it, whichever is asked of first', (id) => {
    const model = demoModel(id);
    const items = [...model.items.keys()];
    let over = 0;
    // Every seventh pair: a cut takes a millisecond.
    for (let i = 0; i < items.length * items.length; i += 7) {
      const [a, b] = [items[Math.floor(i / items.length)]!, items[i % items.length]!];
      const told = model.overlaps(a, b);
      if (told) over++;
      if (i % 3 === 0) expect(told, `${a} ${b}`).toBe(regionsOverlap(model.accessOf(a), model.accessOf(b)));
      expect(model.overlaps(b, a), `${b} ${a}`).toBe(told);
    }
    expect(over).toBeGreaterThan(20);
  });
});
