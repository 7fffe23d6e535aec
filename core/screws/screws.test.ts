import { amountOf, isTried } from '../../demo/thorough.ts';
import munkres from 'munkres-js';
import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { seededDraw } from '../../demo/synthetic.ts';
import { tinyDevice, tinyPart, tinyScrew } from '../../demo/tiny.ts';
import { modelOf, type Anatomy, type Model } from '../anatomy/index.ts';
import { planDive } from '../dive/index.ts';
import { assign, costIfRestricted } from './assign.ts';
import { classesOf } from './classes.ts';
import { fastenersCsv, parseCsv, readPieces } from './csv.ts';
import { dangerTable, fitOf, lookAlikes } from './fit.ts';
import { misfit, readAgain, READING, sortSpill, type Piece } from './sort.ts';
import { screwMap } from './sheet.ts';
import { planLots, trayCost, trayPlan, type Lot, type Pairs } from './tray.ts';

const tiny = (change: (a: Anatomy) => void = () => {}) => modelOf(tinyDevice(change));

describe('what happens in a hole', () => {
  const model = tiny((a) => {
    a.parts.push(tinyPart('coil', 4, [18, 40, 20, 20]));
    a.fasteners = [
      tinyScrew('b1', 'board', [20, 48], { length: 2, holeDepth: 2.4 }),
      tinyScrew('c1', 'cover', [24, 46], { length: 2, holeDepth: 2.4, into: 'board' }),
    ];
  });
  const [b1, c1] = [model.fasteners.get('b1')!, model.fasteners.get('c1')!];
  it.each<[string, Parameters<typeof fitOf>[1], typeof b1, string, RegExp]>([
    ['the right one', b1, b1, 'fits', /^fits$/],
    ['a tenth longer', { ...b1, length: 2.1 }, b1, 'fits', /0.1 mm longer/],
    ['a little past the hole', { ...b1, length: 2.7 }, b1, 'too-long', /0.3 mm too long: bottoms out/],
    [
      'well past it, over something',
      { ...c1, length: 3.2 },
      c1,
      'comes-through',
      /0.8 mm too long: comes through into/,
    ],
    ['too short to hold', { ...b1, length: 0.9 }, b1, 'too-short', /0.7 mm of thread holds, 0.96 mm is the least/],
    ['a thicker thread', { ...b1, thread: 1.4 }, b1, 'wrong-thread', /tears/],
    ['a thinner thread', { ...b1, thread: 1 }, b1, 'wrong-thread', /does not hold/],
    ['a wider head', { ...b1, head: 2.6 }, b1, 'wrong-head', /stands proud/],
    ['a standoff', { ...b1, kind: 'standoff' }, b1, 'wrong-kind', /does not go/],
  ])('%s', (_, screw, hole, kind, words) => {
    const fit = fitOf(model, screw, hole);
    expect(fit.kind).toBe(kind);
    expect(fit.text).toMatch(words);
    expect(fit.harmful).toBe(!['fits', 'wrong-kind'].includes(kind));
  });
});

describe('classes and danger', () => {
  it.each(DEVICES)('%s: every fastener is in one class, and a class fits its own holes', (name) => {
    const model = demoModel(name);
    const classes = classesOf(model);
    expect(classes.flatMap((c) => c.fasteners).sort()).toEqual(model.anatomy.fasteners.map((f) => f.id).sort());
    for (const c of classes)
      for (const id of c.fasteners) expect(fitOf(model, c.shape, model.fasteners.get(id)!).kind).toBe('fits');
    expect(dangerTable(model, classes)).toHaveLength(classes.length * (classes.length - 1));
  });
  it('the sealed phone has look-alikes that do harm, told with what happens', () => {
    const found = lookAlikes(demoModel('velmora-quill-5'));
    expect(found.length).toBeGreaterThan(2);
    expect(found[0]!.dangers[0]!.worst.text).toMatch(/too long|too short|comes through/);
  });
});

describe('assignment', () => {
  // npm munkres-js solves the same matrices by another method.
  it('costs the same as munkres-js on a thousand random matrices, square and rectangular', () => {
    const draw = seededDraw(12);
    for (let k = 0; k < 1000; k++) {
      const n = 1 + draw(9);
      const m = n + (k % 2 ? draw(5) : 0);
      const costs = Float64Array.from({ length: n * m }, () => draw(1000) / 10);
      const ours = assign(costs, n, m);
      const matrix = Array.from({ length: n }, (_, i) => [...costs.slice(i * m, i * m + m)]);
      const theirs = munkres(matrix).reduce((sum, [i, j]) => sum + matrix[i]![j]!, 0);
      expect(ours.cost).toBeCloseTo(theirs, 6);
      expect(new Set(ours.columns).size).toBe(n);
      // The prices prove it: no pair is cheaper than its prices, and the chosen ones meet them.
      for (let i = 0; i < n; i++)
        for (let j = 0; j < m; j++)
          expect(costs[i * m + j]! - ours.rowPrice[i]! - ours.columnPrice[j]!).toBeGreaterThan(-1e-9);
    }
  });
  it('what if not: equal to trying every assignment, up to 7', () => {
    const draw = seededDraw(4);
    for (let k = 0; k < 40; k++) {
      const m = 2 + draw(6);
      const n = m;
      // Some rows are mere filling, as they stand for holes that stay empty.
      const filling = draw(3);
      const costs = Float64Array.from({ length: n * m }, (_, k) => (k >= (n - filling) * m ? 0 : draw(100)));
      const optimum = assign(costs, n, m);
      const row = draw(n);
      const taken = optimum.columns[row]!;
      const brute = (i: number, used: number[], sum: number): number =>
        i === n
          ? sum
          : Math.min(
              ...Array.from({ length: m }, (_, j) =>
                used.includes(j) || (i === row && j === taken)
                  ? Number.POSITIVE_INFINITY
                  : brute(i + 1, [...used, j], sum + costs[i * m + j]!),
              ),
            );
      expect(costIfRestricted(costs, n, m, optimum, row, (j) => j !== taken)).toBe(brute(0, [], 0));
    }
  });
  it.each<[string, () => unknown, RegExp]>([
    ['more rows than columns', () => assign(new Float64Array(6), 3, 2), /3 rows cannot/],
    ['a wrong size', () => assign(new Float64Array(5), 2, 3), /has 6 costs/],
    ['no number', () => assign(Float64Array.from([Number.NaN]), 1, 1), /not a number/],
    [
      'a question about a matrix that is not square',
      () => costIfRestricted(new Float64Array(2), 1, 2, assign(new Float64Array(2), 1, 2), 0, (j) => j === 1),
      /square/,
    ],
    ['all forbidden', () => assign(Float64Array.from([Number.POSITIVE_INFINITY]), 1, 1), /forbidden/],
  ])('%s is refused', (_, work, message) => expect(work).toThrow(message));
});

/** Two draws of a normal deviate from uniform ones (Box and Muller). */
function normal(draw: (n: number) => number): number {
  const [u, v] = [(draw(1_000_000) + 1) / 1_000_001, draw(1_000_000) / 1_000_000];
  return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * v);
}
function spill(model: Model, ids: readonly string[], draw: (n: number) => number): Piece[] {
  return ids.map((id) => {
    const f = model.fasteners.get(id)!;
    const near = (v: number) => Math.round((v + READING.caliper * normal(draw)) * 100) / 100;
    return {
      id,
      length: near(f.length!),
      thread: null,
      head: near(f.head),
      drive: f.drive,
      magnetic: null,
      colour: null,
      uncertainty: null,
    };
  });
}

describe('a spilt tray', () => {
  it('pieces go back to their class, strangers and lost ones are named', () => {
    const model = demoModel('velmora-quill-5');
    const holes = ['d1', 'd5', 'd6', 'm1', 'e1', 'u1'];
    const pieces = spill(model, ['d1', 'd5', 'm1', 'u1', 'e1'], () => 999_999).map((p) => ({
      ...p,
      length: model.fasteners.get(p.id)!.length,
      head: model.fasteners.get(p.id)!.head,
    }));
    pieces.push({
      id: 'odd',
      length: 9.4,
      thread: null,
      head: 4.1,
      drive: 'SL2',
      magnetic: null,
      colour: null,
      uncertainty: null,
    });
    const sorted = sortSpill(model, pieces, holes);
    const of = (id: string) => sorted.pieces.find((p) => p.piece === id)!;
    for (const id of ['d1', 'm1', 'u1', 'e1']) expect(of(id).fastener).toBe(id);
    expect(['d5', 'd6']).toContain(of('d5').fastener);
    expect(of('odd').fastener).toBeNull();
    expect(sorted.lost).toHaveLength(1);
  });
  it('probabilities agree with enumerating every explanation, where one dominates', () => {
    const model = tiny((a) => {
      a.fasteners = [
        tinyScrew('x', 'cover', [3, 77], { length: 1.4 }),
        tinyScrew('y', 'board', [20, 48], { length: 1.6, holeDepth: 2.1 }),
      ];
    });
    const piece = (id: string, length: number): Piece => ({
      id,
      length,
      thread: null,
      head: null,
      drive: null,
      magnetic: null,
      colour: null,
      uncertainty: 0.05,
    });
    const pieces = [piece('p', 1.46), piece('q', 1.58)];
    const sorted = sortSpill(model, pieces, ['x', 'y']);
    const like = (i: number, f: string) => Math.exp(-misfit(pieces[i]!, model.fasteners.get(f)!));
    // Two explanations weigh anything: straight, and crossed; strangers and losses are thousands of times less likely.
    const straight = like(0, 'x') * like(1, 'y');
    const crossed = like(0, 'y') * like(1, 'x');
    expect(sorted.pieces[0]!.chances[0]!.p).toBeCloseTo(straight / (straight + crossed), 3);
  });
  it('the ambiguous and harmful is held back, with what tells it apart', () => {
    const model = tiny((a) => {
      a.fasteners = [
        tinyScrew('short', 'cover', [3, 77], { length: 1.4, holeDepth: 1.5, head: 2 }),
        tinyScrew('long', 'board', [20, 48], { length: 1.7, holeDepth: 2.2, head: 2.6 }),
      ];
    });
    const [p] = sortSpill(
      model,
      [
        {
          id: 'p',
          length: 1.54,
          thread: null,
          head: null,
          drive: 'PH000',
          magnetic: null,
          colour: null,
          uncertainty: 0.1,
        },
      ],
      ['short', 'long'],
    ).pieces;
    expect(p).toMatchObject({
      heldBack: true,
      measureNext: 'head',
      danger: { text: expect.stringMatching(/too long/) },
    });
  });
  it('what cannot be told by size is told by colour, and colour is asked for when it tells most', () => {
    const model = tiny((a) => {
      a.fasteners = [
        tinyScrew('bright', 'cover', [3, 77], { length: 1.4, holeDepth: 1.45, thread: 1.2 }),
        tinyScrew('black', 'board', [20, 48], { length: 1.45, holeDepth: 1.9, thread: 1.4, colour: 'black' }),
      ];
    });
    const piece = (colour: Piece['colour']): Piece => ({
      id: 'p',
      length: 1.43,
      thread: null,
      head: 2,
      drive: 'PH000',
      magnetic: null,
      colour,
      uncertainty: 0.2,
    });
    const [unseen, seen] = [null, 'black' as const].map(
      (colour) => sortSpill(model, [piece(colour)], ['bright', 'black']).pieces[0]!,
    );
    const blackness = (s: typeof seen) =>
      s!.chances.find((c) => c.letter === classesOf(model).find((k) => k.shape.colour === 'black')!.letter)!.p;
    expect(unseen!.heldBack).toBe(true);
    expect(blackness(unseen)).toBeLessThan(0.7);
    // By Bayes' rule the odds are multiplied by how much more often black is noted of a black screw than of a bright one.
    const [before, after] = [unseen, seen].map(
      (s) => blackness(s) / s!.chances.filter((c) => c.letter !== null).reduce((sum, c) => sum + c.p, 0),
    );
    expect(after! / (1 - after!) / (before! / (1 - before!))).toBeCloseTo(
      (1 - READING.wrongColour) / (READING.wrongColour / 2),
      1,
    );
    // A coarse caliper tells the threads apart worse than a glance does; a good one, better.
    expect(unseen!.measureNext).toBe('colour');
    expect(sortSpill(model, [{ ...piece(null), uncertainty: 0.05 }], ['bright', 'black']).pieces[0]!.measureNext).toBe(
      'thread',
    );
    expect(lookAlikes(model)).toEqual([]);
  });
  it('measuring again narrows it down: the mean of n readings, its uncertainty by the root of n', () => {
    const once: Piece = {
      id: 'p',
      length: 1.39,
      thread: null,
      head: null,
      drive: null,
      magnetic: null,
      colour: null,
      uncertainty: null,
    };
    const twice = readAgain(once, 'length', 1.31, 1);
    expect(twice).toMatchObject({ length: 1.35, uncertainties: { length: READING.caliper / Math.SQRT2 } });
    expect(readAgain(twice, 'length', 1.29, 2).length).toBeCloseTo(1.33, 6);
    expect(readAgain(once, 'head', 2, 1).head).toBe(2);
  });
  const spills = amountOf(10_000, 14);
  it(`no harmful error without a flag in ${spills} spills, with caliper noise of 0.05 mm`, () => {
    const draw = seededDraw(2026);
    const models = DEVICES.map(demoModel);
    let right = 0;
    let pieces = 0;
    let held = 0;
    const unflagged: string[] = [];
    for (let seed = 0; seed < spills; seed++) {
      const model = models[seed % models.length]!;
      const all = model.anatomy.fasteners.filter((f) => f.kind !== 'captive').map((f) => f.id);
      const ids = Array.from({ length: 3 + draw(5) }, () => all[draw(all.length)]!).filter(
        (id, i, list) => list.indexOf(id) === i,
      );
      const found = draw(4) === 0 ? ids.slice(1) : ids;
      for (const s of sortSpill(model, spill(model, found, draw), ids).pieces) {
        const truth = model.fasteners.get(s.piece)!;
        pieces++;
        if (s.heldBack) held++;
        if (s.fastener === null) continue;
        const hole = model.fasteners.get(s.fastener)!;
        if (fitOf(model, truth, hole).kind === 'fits') right++;
        if (fitOf(model, truth, hole).harmful && !s.heldBack) unflagged.push(`${seed}: ${s.piece} → ${s.fastener}`);
      }
    }
    console.log(
      `spilt trays: ${((100 * right) / pieces).toFixed(2)} % of ${pieces} pieces back where ` +
        `they fit, ${((100 * held) / pieces).toFixed(1)} % held back to be measured again`,
    );
    expect(unflagged).toEqual([]);
    expect(right / pieces).toBeGreaterThan(0.95);
  }, 120_000);
});

describe('the tray', () => {
  const size = { rows: 2, columns: 3, trays: 1 };
  const letters = ['A', 'B', 'C', 'D'];
  it('costs the same as the best of all placements on small cases', () => {
    const draw = seededDraw(31);
    for (let k = 0; k < 40; k++) {
      const lots: Lot[] = [];
      for (let step = 1; lots.length < 2 + draw(3); step++)
        for (let i = 1 + draw(2); i > 0; i--)
          lots.push({ step, letter: letters[draw(4)]!, fasteners: [`f${lots.length}`] });
      const pairs: Pairs = new Map(
        letters.flatMap((a) =>
          letters.flatMap((b): [string, 'harm'][] =>
            a < b && draw(2)
              ? [
                  [`${a} ${b}`, 'harm'],
                  [`${b} ${a}`, 'harm'],
                ]
              : [],
          ),
        ),
      );
      const found = planLots(lots, pairs, size, undefined, 1_000_000);
      let best = Number.POSITIVE_INFINITY;
      const visit = (wells: number[]): void => {
        if (wells.length === lots.length) best = Math.min(best, trayCost(lots, wells, pairs, size));
        else for (let w = 0; w < 6; w++) visit([...wells, w]);
      };
      visit([]);
      expect([k, found.cost]).toEqual([k, best]);
      expect(found.proved).toBe(true);
    }
  }, 60_000);
  it.each(DEVICES.filter((_, d) => isTried(d, 3)))(
    '%s: harmful look-alikes are never mixed or side by side, or it says so',
    (name) => {
      const model = demoModel(name);
      for (const part of model.anatomy.parts.filter((p) => !p.fixed)) {
        const plan = trayPlan(model, planDive(model, { replace: [part.id] }, undefined, { budget: 0, heat: 'usual' }), {
          rows: 4,
          columns: 6,
          trays: 1,
        });
        const harmful = new Set(lookAlikes(model).flatMap(({ a, b }) => [`${a} ${b}`, `${b} ${a}`]));
        const clash = plan.lots.some((a, i) =>
          plan.lots.some((b, j) => i < j && harmful.has(`${a.letter} ${b.letter}`) && plan.wells[i] === plan.wells[j]),
        );
        expect(clash && plan.conflicts.length === 0, part.id).toBe(false);
        if (plan.cost < 100) expect(plan.conflicts).toEqual([]);
      }
    },
  );
  it('a tray that is too small says what had to share', () => {
    const pairs: Pairs = new Map([
      ['A B', 'harm'],
      ['B A', 'harm'],
    ]);
    const { conflicts } = planLots(
      [
        { step: 1, letter: 'A', fasteners: ['a'] },
        { step: 1, letter: 'B', fasteners: ['b'] },
      ],
      pairs,
      { rows: 1, columns: 1, trays: 1 },
    );
    expect(conflicts[0]).toMatch(/A and B share well A1/);
  });
});

describe('files', () => {
  it('fasteners go out as CSV, a row each', () => {
    const model = demoModel('velmora-quill-5');
    const rows = parseCsv(fastenersCsv(model));
    expect(rows).toHaveLength(model.anatomy.fasteners.length + 1);
    expect(rows[1]!.slice(0, 4)).toEqual(['e1', 'screw', 'P2', '6.8']);
  });
  it('quotes, semicolons and line ends are read', () => {
    expect(parseCsv('a;b\r\n"x, ""y""";2\n\n')).toEqual([
      ['a', 'b'],
      ['x, "y"', '2'],
    ]);
  });
  it.each<[string, string, RegExp]>([
    ['an unknown column', 'id,size\n1,2', /row 1, column 2.*"size" is not a column/],
    ['no measurement', 'id,length,drive\n1,,', /row 2.*nothing was measured/],
    ['a length that is none', 'length\nlong', /row 2, column length.*"long"/],
    ['an unknown drive', 'length,drive\n1.2,T99', /row 2, column drive.*T99/],
    ['the same id twice', 'id,length\na,1\na,2', /row 3, column id.*row 2/],
    ['an empty file', '', /row 1.*empty/],
    ['too many cells', 'length\n1,2', /row 2.*has 2 cells/],
  ])('%s is a fault with its row', (_, text, words) => {
    const reading = readPieces(text);
    expect(reading.ok).toBe(false);
    if (!reading.ok) expect(reading.faults.map((f) => `${f.path}: ${f.message}`).join('\n')).toMatch(words);
  });
});

describe('a screw that nobody has measured', () => {
  const model = modelOf(
    tinyDevice((a) => {
      a.fasteners = [
        tinyScrew('a', 'cover', [6, 6], { length: null }),
        tinyScrew('b', 'cover', [34, 6], { length: null }),
        tinyScrew('c', 'cover', [6, 70], { length: 1.4 }),
        tinyScrew('d', 'cover', [34, 70], { length: 1.4 }),
      ];
    }),
  );
  it('is kept by its own place: it is taken for like no other', () => {
    expect(classesOf(model).map((c) => c.fasteners)).toEqual([['c', 'd'], ['a'], ['b']]);
    expect(model.nameOf('a')).toContain('? mm');
    expect(model.nameOf('a')).not.toMatch(/null|2 mm/);
  });
  it('is sure in its own hole only', () => {
    const [a, c] = [model.fasteners.get('a')!, model.fasteners.get('c')!];
    expect(fitOf(model, a, c)).toMatchObject({ kind: 'not-measured', harmful: true });
    expect(fitOf(model, c, a)).toMatchObject({ kind: 'not-measured', harmful: true });
  });
  it('stays unknown on the printed map', () => {
    const words = screwMap(model, 'A4').pages.flatMap((p) =>
      p.marks.flatMap((m) => (m.type === 'text' ? [m.text] : [])),
    );
    expect(words.filter((w) => w.startsWith('?'))).toHaveLength(2);
    expect(words.join(' ')).not.toMatch(/null/);
  });
});
