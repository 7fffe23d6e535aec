import { describe, expect, it } from 'vitest';
import { heldFromBehind } from '../../demo/benchDevices.ts';
import { DEVICES, demoModel } from '../../demo/models.ts';
import { tinyBond, tinyConnector, tinyDevice, tinyPart } from '../../demo/tiny.ts';
import { completed } from './complete.ts';
import { faultsOf } from './faults.ts';
import { modelOf } from './model.ts';
import { readAnatomy } from './read.ts';
import type { Anatomy } from './types.ts';
import { warningsOf, worthFilling } from './warnings.ts';

const warned = (change: (a: Anatomy) => void) => warningsOf(modelOf(tinyDevice(change)));

describe('what a sound anatomy says without meaning it', () => {
  it('a screw that a mounted part hides, with the remedy', () => {
    const model = modelOf({
      ...heldFromBehind.anatomy,
      parts: [...heldFromBehind.anatomy.parts, tinyPart('shim', 1, [4, 16, 12, 10], { face: 'back' })],
    });
    expect(warningsOf(model)).toMatchObject(
      [
        { path: 'fasteners[7].layer', message: /beneath back, shim; give it the layer/ },
        { path: expect.stringContaining('parts[') },
      ].slice(0, 1),
    );
    const said = structuredClone(model.anatomy);
    said.fasteners.find((f) => f.id === 'y1')!.layer = 1;
    expect(warningsOf(modelOf(said)).some((w) => w.path.startsWith('fasteners'))).toBe(false);
  });
  it('a tether mated through a full swing from the far side', () => {
    const swing = { hinge: 'left' as const, degrees: 90, tether: ['far'], gap: null };
    const found = warned((a) => {
      a.parts[1] = { ...a.parts[1]!, swing };
      a.connectors.push(tinyConnector('far', 'cover', 'board', [36, 36], { layer: 2 }));
    });
    expect(found).toMatchObject([
      { path: 'parts[1].swing.tether[0]', message: /give the swing a gap/ },
      { path: 'connectors[2].carries', message: expect.stringContaining('carries no function') },
    ]);
  });
  it('a swing that uncovers nothing, glue that nothing softens, adhesive that is kept, a part that nothing holds', () => {
    const found = warned((a) => {
      a.parts[1] = { ...a.parts[1]!, swing: { hinge: 'left', degrees: 30, tether: [], gap: null } };
      a.parts.push(tinyPart('cap', 0, [0, 0, 40, 80], { face: 'back' }));
      a.bonds = [
        tinyBond('stone', 'glue', ['camera', 'frame'], { softensAt: null }),
        tinyBond('again', 'tape', ['bracket', 'board'], { fate: 'keep' }),
      ];
    });
    expect(found.map((w) => w.path)).toEqual([
      'parts[1].swing.degrees',
      'bonds[0].softensAt',
      'bonds[1].fate',
      `parts[${tinyDevice().parts.length}]`,
    ]);
  });
  it('a plug that is drawn beside what it mates with, and speaks of both by name', () => {
    const found = warned((a) => {
      const board = a.parts.find((p) => p.id === 'board')!;
      board.name = 'Main board';
      const plug = tinyConnector('lost', 'camera', 'board', [-300, -300]);
      plug.name = 'Camera plug';
      plug.carries = ['camera'];
      a.connectors.push(plug);
    });
    expect(found.map((w) => w.message)).toContainEqual(
      expect.stringMatching(/^Camera plug \(lost\) is drawn where nothing of Main board \(board\) lies under it/),
    );
  });
  it.each(DEVICES)('%s is drawn without such things', (name) => {
    expect(warningsOf(demoModel(name))).toEqual([]);
  });
  it('says which new fields would be worth filling', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.connectors[1]!.under = ['battery'];
      }),
    );
    expect(worthFilling(model)).toMatchObject([{ path: 'connectors[1].shape', message: /in which shape it must lie/ }]);
  });
});

describe('documents from before the new fields', () => {
  it('are read with their defaults, and mean the same', () => {
    const now = tinyDevice((a) => {
      a.parts[1] = { ...a.parts[1]!, swing: { hinge: 'left', degrees: 90, tether: [], gap: null } };
      a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
    });
    const old = JSON.parse(
      JSON.stringify(now, (key, value: unknown) =>
        ['curved', 'leaves', 'enters', 'pryAt', 'gap', 'alternatives', 'flex', 'liesOver', 'shape', 'staysOn'].includes(
          key,
        )
          ? undefined
          : value,
      ),
    ) as Anatomy;
    expect(faultsOf(old)).toEqual([]);
    expect(completed(old)).toEqual(now);
    expect(readAnatomy(structuredClone(old))).toEqual({ ok: true, value: now });
    expect(completed(now)).toBe(now);
  });
  it('what the new fields name has to be there', () => {
    const paths = faultsOf(
      tinyDevice((a) => {
        a.parts[1]!.swing = { hinge: 'left', degrees: 90, tether: [], gap: { width: 4, reaches: ['nothing'] } };
        a.connectors[1]!.liesOver = ['camera'];
        a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'], { flex: 'none', staysOn: 'board' })];
        a.spares = [{ id: 's', name: 's', replaces: 'cover', includes: ['cover'], brings: ['glue'] }];
      }),
    ).map((f) => f.path);
    expect(paths).toEqual([
      'parts[1].swing.gap.reaches[0]',
      'connectors[1].liesOver[0]',
      'bonds[0].flex',
      'bonds[0].staysOn',
      'spares[0].brings[0]',
    ]);
  });
});
