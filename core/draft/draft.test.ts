import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fold } from '../../demo/benchDevices.ts';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { seededDraw, type Draw } from '../../demo/synthetic.ts';
import { tinyDevice, tinyScrew } from '../../demo/tiny.ts';
import { faultsOf, modelOf, type Anatomy, type Fastener, type Part } from '../anatomy/index.ts';
import {
  applied,
  Clash,
  differences,
  editBetween,
  GROUPS,
  inverseEdit,
  mentionsOf,
  merged,
  NO_HISTORY,
  placeIn,
  redone,
  REFERENCES,
  relationsOf,
  same,
  undone,
  withDone,
  workable,
  type Change,
  type Edit,
  type History,
} from './index.ts';

let counter = 0;
const edit = (...changes: Change[]): Edit => ({ id: `e${++counter}`, label: 'Edit', changes });
const setOf = (anatomy: Anatomy, group: (typeof GROUPS)[number], id: string, field: string, to: unknown): Change => {
  const entry = anatomy[group].find((e) => e.id === id) as unknown as Record<string, unknown>;
  return { do: 'set', group, id, field, from: entry[field], to };
};

/** One act of a hand at random: what it leaves need not be sound. */
function randomEdit(anatomy: Anatomy, draw: Draw): Edit {
  const pick = <T>(list: readonly T[]): T | undefined => list[draw(Math.max(1, list.length))];
  const group = GROUPS[draw(5)]!;
  const entry = pick(anatomy[group] as { id: string }[]);
  switch (draw(6)) {
    case 0: {
      const f = pick(anatomy.fasteners);
      return edit(...(f ? [setOf(anatomy, 'fasteners', f.id, 'at', [f.at[0] + draw(20) / 10 - 1, f.at[1]])] : []));
    }
    case 1: {
      const p = pick(anatomy.parts);
      if (!p) return edit();
      const layer = setOf(anatomy, 'parts', p.id, 'layer', draw(6));
      return edit(layer, setOf(applied(anatomy, { changes: [layer] }), 'parts', p.id, 'name', `Part ${draw(99)}`));
    }
    case 2: {
      const held = pick(anatomy.parts);
      const made = tinyScrew(`new-${++counter}`, held?.id ?? 'nothing', [draw(40), draw(70)]);
      return edit({ do: 'add', group: 'fasteners', entry: made, index: draw(anatomy.fasteners.length + 1) });
    }
    case 3:
      return edit(
        ...(entry
          ? [{ do: 'remove', group, entry, index: (anatomy[group] as { id: string }[]).indexOf(entry) } as Change]
          : []),
      );
    case 4:
      return edit(...(entry ? [{ do: 'rename', group, from: entry.id, to: `renamed-${++counter}` } as Change] : []));
    default:
      return edit({
        do: 'device',
        field: 'body',
        from: anatomy.body,
        to: { ...anatomy.body, thickness: anatomy.body.thickness + 0.1 },
      });
  }
}

describe('edits', () => {
  test('any sequence of edits, taken back, is the document before; done again, it is the document after', () => {
    fc.assert(
      fc.property(
        fc.nat(),
        fc.integer({ min: 1, max: 25 }),
        fc.nat({ max: DEVICES.length - 1 }),
        (seed, count, device) => {
          const draw = seededDraw(seed);
          const before = demoModel(DEVICES[device]!).anatomy;
          let anatomy = before;
          let history: History = NO_HISTORY;
          for (let i = 0; i < count; i++) {
            const one = randomEdit(anatomy, draw);
            anatomy = applied(anatomy, one);
            history = withDone(history, one);
          }
          const after = anatomy;
          for (let i = 0; i < count; i++) {
            const step = undone(anatomy, history, `u${i}`)!;
            // What takes it back leads there by itself, as it goes to the server.
            expect(applied(anatomy, step.edit)).toEqual(step.anatomy);
            ({ anatomy, history } = step);
          }
          expect(undone(anatomy, history, 'x')).toBeNull();
          expect(same(anatomy, before)).toBe(true);
          for (let i = 0; i < count; i++) ({ anatomy, history } = redone(anatomy, history, `d${i}`)!);
          expect(same(anatomy, after)).toBe(true);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('what an edit does not touch stays the same object', () => {
    const before = demoModel('velmora-quill-5').anatomy;
    const f = before.fasteners[3]!;
    const after = applied(before, edit(setOf(before, 'fasteners', f.id, 'length', 9)));
    expect(after.parts).toBe(before.parts);
    expect(after.fasteners.filter((g, i) => g !== before.fasteners[i])).toHaveLength(1);
  });

  test('an edit that was made on something else is refused whole', () => {
    const before = tinyDevice();
    const moved = edit(setOf(before, 'fasteners', 'c1', 'at', [4, 77]));
    const longer = edit(setOf(before, 'fasteners', 'c1', 'at', [5, 77]), setOf(before, 'fasteners', 'c2', 'length', 2));
    const there = applied(before, moved);
    expect(() => applied(there, longer)).toThrow(Clash);
    expect(() => applied(there, longer)).toThrow(/at of c1 was changed meanwhile/);
  });

  test('an id that is taken, or only mentioned, is no new name', () => {
    const before = tinyDevice((a) => {
      a.fasteners[0]!.holds = ['lid'];
    });
    for (const to of ['camera', 'lid'])
      expect(() => applied(before, edit({ do: 'rename', group: 'parts', from: 'cover', to }))).toThrow(
        /taken or mentioned/,
      );
  });

  test('what leads from one document to another does', () => {
    for (const a of DEVICES)
      for (const b of DEVICES) {
        const [from, to] = [demoModel(a).anatomy, demoModel(b).anatomy];
        const made = applied(from, editBetween(from, to, 'x', ''));
        for (const group of GROUPS) {
          const byId = (list: { id: string }[]) => Object.fromEntries(list.map((e) => [e.id, e]));
          expect(same(byId(made[group]), byId(to[group]))).toBe(true);
        }
        expect(same(applied(made, inverseEdit(editBetween(from, to, 'x', ''), 'y')), from)).toBe(true);
      }
  });
});

describe('what only the second format says', () => {
  test('an edit that says it makes the document say its version, and one that takes it back says the first again', () => {
    const first = tinyDevice();
    const limits = { hottest: 60, solvent: false, bend: true, suction: true };
    const marked = edit(setOf(first, 'parts', 'cover', 'limits', limits));
    const second = applied(first, marked);
    expect([first.schema, second.schema]).toEqual(['nibrel.anatomy/1', 'nibrel.anatomy/2']);
    expect(faultsOf(second)).toEqual([]);
    expect(applied(second, inverseEdit(marked, 'back'))).toEqual(first);
    const rails = [{ id: 'main', name: 'Battery', feeds: [] }];
    const railed = applied(first, edit({ do: 'device', field: 'rails', from: undefined, to: rails }));
    expect(railed).toMatchObject({ schema: 'nibrel.anatomy/2', rails });
    expect(faultsOf({ ...railed, schema: 'nibrel.anatomy/1' })).toMatchObject([{ path: 'rails' }]);
  });
  test('what presses a gasket, what crosses a hinge and what holds a cell are renamed with it', () => {
    const device = { ...fold.anatomy, bonds: fold.anatomy.bonds.map((b) => ({ ...b })) };
    const named = applied(device, edit({ do: 'rename', group: 'connectors', from: 'hinge-flex', to: 'spine-flex' }));
    expect(named.hinge!.crosses).toEqual(['spine-flex']);
    expect(mentionsOf(device).filter((m) => m.path.startsWith('hinge'))).toHaveLength(2);
    const display = applied(device, edit({ do: 'rename', group: 'parts', from: 'inner', to: 'leaf' }));
    expect(display.hinge!.inner).toBe('leaf');
    expect(faultsOf(display)).toEqual([]);
  });
});

describe('two hands', () => {
  const before = tinyDevice();
  const theirs = applied(before, edit(setOf(before, 'fasteners', 'c1', 'length', 1.6)));
  test('different items, and different fields of one item, are merged', () => {
    const mine = [
      edit(setOf(before, 'fasteners', 'c2', 'length', 1.8)),
      edit(setOf(before, 'fasteners', 'c1', 'at', [4, 76])),
    ];
    const { anatomy, clashes } = merged(theirs, mine);
    expect(clashes).toEqual([]);
    expect(anatomy.fasteners.slice(0, 2)).toMatchObject([{ length: 1.6, at: [4, 76] }, { length: 1.8 }]);
  });
  test('the same field is a clash that names its item; the rest is kept', () => {
    const clash = edit(setOf(before, 'fasteners', 'c1', 'length', 2));
    const { kept, clashes } = merged(theirs, [clash, edit(setOf(before, 'parts', 'cover', 'name', 'Lid'))]);
    expect(kept).toHaveLength(1);
    expect(clashes).toMatchObject([{ item: 'c1', why: 'length of c1 was changed meanwhile' }]);
  });
});

describe('references', () => {
  test('every mention of an id in the made-up devices stands in the table', () => {
    for (const device of DEVICES) {
      const { anatomy } = demoModel(device);
      const ids = new Set(GROUPS.flatMap((group) => (anatomy[group] as { id: string }[]).map((e) => e.id)));
      const known = new Set(mentionsOf(anatomy).map((m) => m.path));
      const strangers: string[] = [];
      const look = (at: unknown, path: string) => {
        if (typeof at === 'string') {
          // Words that happen to be an id as well are told by what their field holds.
          const plain =
            /(^|\.)(id|name|kind|schema|maker|test|note|because|remedy|shape|drive|caution|edge|face|hinge|from|material|ingress)$/;
          if (ids.has(at) && !known.has(path) && !plain.test(path)) strangers.push(path);
        } else if (Array.isArray(at)) at.forEach((v, i) => look(v, `${path}[${i}]`));
        else if (at && typeof at === 'object')
          for (const [key, v] of Object.entries(at)) look(v, path === '' ? key : `${path}.${key}`);
      };
      look(anatomy, '');
      expect(strangers).toEqual([]);
    }
    expect(new Set(REFERENCES.map(([path]) => path)).size).toBe(REFERENCES.length);
  });

  test('a renamed part is renamed everywhere: the device is as sound as it was, and plans the same', () => {
    for (const device of DEVICES) {
      const before = demoModel(device).anatomy;
      let renamed = before;
      for (const group of GROUPS)
        for (const { id } of before[group] as { id: string }[])
          renamed = applied(renamed, edit({ do: 'rename', group, from: id, to: `x-${group.slice(0, 2)}-${id}` }));
      expect(faultsOf(renamed)).toEqual([]);
      const back = JSON.stringify(renamed).replaceAll(/"x-(pa|fa|co|bo|la|fu|sp)-/g, '"');
      expect(JSON.parse(back)).toEqual(JSON.parse(JSON.stringify(before)));
    }
  });
});

describe('a draft with faults', () => {
  test('whatever is taken away, what is left can be computed with, and says no more than was drawn', () => {
    fc.assert(
      fc.property(fc.nat(), fc.nat({ max: DEVICES.length - 1 }), (seed, device) => {
        const draw = seededDraw(seed);
        let anatomy = demoModel(DEVICES[device]!).anatomy;
        for (let i = 0; i < 12; i++) anatomy = applied(anatomy, randomEdit(anatomy, draw));
        const model = modelOf(workable(anatomy));
        for (const id of model.items.keys()) {
          expect(() => [model.layerOf(id), model.faceOf(id), model.contextOf(id), model.accessOf(id)]).not.toThrow();
        }
        for (const group of GROUPS) expect(model.anatomy[group].length).toBeLessThanOrEqual(anatomy[group].length);
      }),
      { numRuns: 40 },
    );
  });
  test('parts within each other, and standoffs in each other, do not hang it', () => {
    const anatomy = tinyDevice((a) => {
      a.parts[1]!.within = 'bracket';
      a.parts[2]!.within = 'cover';
      a.fasteners[0]!.into = 'c2';
      a.fasteners[1]!.into = 'c1';
    });
    expect(workable(anatomy).parts.map((p) => p.within)).toEqual([null, null, null, null, null, null]);
  });
  test('a sound device is given back as it is', () => {
    for (const device of DEVICES) {
      const { anatomy } = demoModel(device);
      expect(workable(anatomy)).toBe(anatomy);
    }
  });
  test.each([
    ['fasteners[4].at', { group: 'fasteners', index: 4 }],
    ['parts[0].swing.tether[1]', { group: 'parts', index: 0 }],
    ['orders', null],
    ['(document)', null],
  ])('the fault at %s lies at its item', (path, place) => expect(placeIn(path)).toEqual(place));
});

describe('relations', () => {
  test('after any edits the kept relations are the full ones', () => {
    fc.assert(
      fc.property(fc.nat(), fc.nat({ max: DEVICES.length - 1 }), (seed, device) => {
        const draw = seededDraw(seed);
        let anatomy = demoModel(DEVICES[device]!).anatomy;
        for (let i = 0; i < 6; i++) {
          anatomy = applied(anatomy, randomEdit(anatomy, draw));
          // A copy shares no object with it, so that nothing that was kept is used.
          expect(relationsOf(anatomy)).toEqual(relationsOf(structuredClone(anatomy)));
        }
      }),
      { numRuns: 12 },
    );
  });
  test('a bracket over a plug: what covers it, what it covers, what holds it', () => {
    const relations = relationsOf(tinyDevice());
    expect(relations.get('battery-flex')!.coveredBy).toEqual(['cover', 'bracket']);
    expect(relations.get('bracket')!.covers).toContain('battery-flex');
    expect(relations.get('bracket')!.heldBy).toEqual(['k1', 'k2']);
    expect(relations.get('k1')!).toMatchObject({ holds: ['bracket'], coveredBy: ['cover'] });
  });
});

describe('differences in words', () => {
  const before = tinyDevice();
  const after = (change: (a: Anatomy) => void) => {
    const next = structuredClone(before);
    change(next);
    return differences(before, next).map((d) => d.text);
  };
  test.each<[string, (a: Anatomy) => void, string[]]>([
    ['a longer screw', (a) => Object.assign(a.fasteners[0] as Fastener, { length: 1.5 }), ['c1: length 1.4 → 1.5 mm']],
    [
      'a moved screw',
      (a) => Object.assign(a.fasteners[0] as Fastener, { at: [4, 76] }),
      ['c1: place 3, 77 → 4, 76 mm'],
    ],
    ['what it holds', (a) => void a.fasteners[0]!.holds.push('camera'), ['c1: holds + camera']],
    [
      'another outline',
      (a) => Object.assign(a.parts[3] as Part, { outline: { rect: [4, 4, 11, 10] } }),
      ['camera: outline 10 × 10 mm at 4, 4 → 11 × 10 mm at 4, 4'],
    ],
    ['a part taken out', (a) => void a.parts.splice(2, 1), ['bracket: part removed']],
    [
      'a new screw',
      (a) => void a.fasteners.push(tinyScrew('n1', 'camera', [5, 5])),
      ['n1: new screw, PH000, 1.4 mm, holds camera'],
    ],
    ['a thicker body', (a) => void Object.assign(a.body, { thickness: 8.4 }), ['body: thickness 8 → 8.4 mm']],
    [
      'an order',
      (a) => void a.orders.push({ first: 'camera', then: 'board', because: 'It locks it.' }),
      ['order: camera before board, It locks it.'],
    ],
    ['nothing', () => {}, []],
  ])('%s', (_, change, words) => expect(after(change)).toEqual(words));
});
