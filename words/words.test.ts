import { IntlMessageFormat } from 'intl-messageformat';
import { describe, expect, it } from 'vitest';
import { modelOf } from '../core/anatomy/index.ts';
import {
  ALL_TOOLS,
  chainOf,
  consumablesOf,
  DEFAULT_RULES,
  planDive,
  type HouseRules,
  type Plan,
} from '../core/dive/index.ts';
import { marketAnatomy } from '../demo/market.ts';
import { foldAnatomy } from '../demo/marketFold.ts';
import { DEVICES, demoModel } from '../demo/models.ts';
import { seededDraw } from '../demo/synthetic.ts';
import {
  BY_ID,
  english,
  explain,
  explainAll,
  ruleText,
  tell,
  tellAction,
  tellAll,
  toolName,
  type Language,
  type Said,
} from './index.ts';

const quill = demoModel('velmora-quill-5');

describe('codes in words', () => {
  const cases: [Said, string][] = [
    [{ code: 'torque', torques: [6, 8] }, 'Torque 6 and 8 N·cm.'],
    [
      { code: 'new-threadlock', duration: 600 },
      'New screws with activator and one drop of threadlocker; it sets in about 10 min.',
    ],
    [{ code: 'gap-first', width: 4, flexes: 1 }, 'Only a gap of 4 mm at first: a flex is still mated inside.'],
    [{ code: 'gap-first', width: 4.5, flexes: 2 }, 'Only a gap of 4.5 mm at first: flexes are still mated inside.'],
    [{ code: 'out-rotate', place: 'top-left', degrees: 30 }, 'Turn it out about the top left corner, by about 30°.'],
    [{ code: 'out-tilt', place: null, degrees: null }, 'Tilt it up at one side, then draw it out.'],
    [{ code: 'at-a-pinch', tool: 'driver-SL1', caution: 'It slips.' }, 'At a pinch slotted driver, 1 mm: It slips.'],
    [{ code: 'at-a-pinch', tool: 'pick', caution: '' }, 'At a pinch opening pick.'],
    [{ code: 'snap-edges', edges: [] }, 'Press along the edge until every catch has snapped.'],
    [
      { code: 'snap-edges', edges: ['top', 'left'] },
      'Press along the edges top and left until every catch has snapped.',
    ],
    [{ code: 'move-across', items: ['camera'] }, 'Lay old and new side by side; camera moves across.'],
    [{ code: 'move-across', items: ['camera', 'lens'] }, 'Lay old and new side by side; camera and lens move across.'],
    [{ code: 'reheat', times: 1, seconds: 90 }, 'It cools while it is cut: reheat about once, 90 s.'],
    [{ code: 'reheat', times: 3, seconds: 90 }, 'It cools while it is cut: reheat about 3 times, 90 s each.'],
    [
      { code: 'cut-cold', item: 'seal', why: { code: 'source-too-weak', source: 'mat', most: 80, softensAt: 120 } },
      'seal is cut cold: the heat mat at 80 °C does not bring the whole seam to 120 °C',
    ],
    [
      {
        code: 'press-weight',
        load: { code: 'load-panel', kilograms: 31.4, bonds: 2, share: 0.94 },
        weights: [10, 5],
      },
      '94 % of 31 kg over the 2 bonds of the panel, at once: 10 + 5 kg on foam over the bond.',
    ],
    [
      { code: 'rule-not-kept', rule: 'R8', item: 'cover' },
      'a rule of good work is not kept, at cover: nothing lies loose when the device is turned over (R8)',
    ],
    [
      { code: 'volts-cannot-be', value: 7.4, layout: { code: 'layout-one' }, series: 1, most: 5 },
      '7.4 V cannot be: one cell has 0 to 5; measure again',
    ],
    [
      { code: 'measured-of', measure: 'rest', finding: { code: 'rest-dead', volts: 2.4 } },
      'Measured, rest: 2.40 V at rest: drawn so far that it is never charged again.',
    ],
    [
      { code: 'self-read-again', low: 0.12, high: 20.04, hours: 47 },
      'it loses 0.1 to 20.0 % a month by itself: that tells nothing; with this meter read again after 47 h at the least',
    ],
    [
      {
        code: 'wanted-pack',
        volts: 7.7,
        milliampHours: 3900,
        wattHours: 30.03,
        layout: { code: 'layout-row', cells: 2 },
      },
      '7.7 V, 3900 mAh, 30.0 Wh, 2 cells in a row',
    ],
    [{ code: 'quoted', words: 'As it stands, {braces} and all' }, 'As it stands, {braces} and all'],
    [{ code: 'warn-outside', at: [-4.25, 12] }, '-4.3, 12 mm lies outside the body; the place is not used.'],
  ];
  it.each(cases)('%o', (said, words) => expect(tell(BY_ID, said)).toBe(words));

  it('items are called by their names', () => {
    expect(tell(quill, { code: 'paired', part: 'battery', item: 'board' })).toBe(
      `${quill.nameOf('battery')} is paired with ${quill.nameOf('board')}`,
    );
    expect(explain(quill, { why: 'relation', relation: 'covers', item: 'battery-flex' })).toBe(
      `covers ${quill.nameOf('battery-flex')}`,
    );
  });
  it('a rule is told with its name, an order and a quotation as they were written', () => {
    expect(explain(quill, { why: 'rule', rule: 'A4' })).toBe(
      'power is isolated before other connectors are opened (A4)',
    );
    expect(explain(quill, { why: 'houseRules' })).toBe('by the house rules');
    expect(explain(quill, { why: 'order', first: 'tray', then: 'board', words: 'The tray locks it.' })).toBe(
      'The tray locks it',
    );
    expect(ruleText('G4')).toBe('proved before it is sealed');
    expect(ruleText('toString')).toBe('toString');
  });
  it('reasons that read the same are told once, and others keep their order', () => {
    const cap = (then: string) => ({ why: 'order' as const, first: 'cap', then, words: 'Its cap lies over it.' });
    expect(explainAll(quill, [cap('s1'), { why: 'houseRules' }, cap('s2'), { why: 'rule', rule: 'A4' }])).toEqual([
      'Its cap lies over it',
      'by the house rules',
      'power is isolated before other connectors are opened (A4)',
    ]);
  });
  it('sentences follow one another, each with its capital and its stop', () => {
    expect(
      tellAll(BY_ID, [
        { code: 'heat-at-once', heats: 90 },
        { code: 'quoted', words: 'note of hers' },
        { code: 'snug' },
      ]),
    ).toBe('90 s. note of hers Snug, no more.');
  });
  it('every tool has a name of its own', () => {
    expect(new Set(ALL_TOOLS.map((tool) => toolName(tool.id))).size).toBe(ALL_TOOLS.length);
    expect(toolName('driver-Y000')).toBe('Y000 tri-point driver');
    expect(toolName(null)).toBe('hands');
    expect(toolName('hammer')).toBe('hammer');
  });
  it('what lacks something, or is no code, is told by its code, and nothing stops', () => {
    const odd = [undefined, null, 7, Number.NaN, '', 'x', '{', [], [null], ['a'], {}, { code: 'none' }, true];
    const names = [
      'item',
      'items',
      'edges',
      'zone',
      'turns',
      'load',
      'why',
      'degrees',
      'at',
      'price',
      'circle',
      'function',
    ];
    for (const code of [...Object.keys(english.messages), 'quoted', 'toString', 'none'])
      for (const value of odd) {
        const said = { code, ...Object.fromEntries(names.map((name) => [name, value])) } as unknown as Said;
        expect(typeof tell(quill, said), code).toBe('string');
      }
    expect(tell(quill, { code: 'torque' } as unknown as Said)).toBe('torque');
    expect(tell(quill, { code: 'toString' } as unknown as Said)).toBe('toString');
  });
  it('every message is well-formed', () => {
    for (const [code, text] of Object.entries(english.messages))
      expect(() => new IntlMessageFormat(text, 'en-GB', undefined, { ignoreTag: true }), code).not.toThrow();
  });
});

/** A language in which everything is said by its code, and what it is about. */
const coded = (table: Record<string, unknown>, path: string): unknown =>
  Object.fromEntries(
    Object.entries(table).map(([key, value]) => [
      key,
      typeof value === 'string' ? `${path}${key}` : coded(value as Record<string, unknown>, `${path}${key}/`),
    ]),
  );
const CODED = { ...(coded(english as never, '') as Language), tag: 'en-GB' };

const HOUSES: HouseRules[] = [
  DEFAULT_RULES,
  { ...DEFAULT_RULES, seal: 'liquid-glue', pressing: 'weight', heat: 'gun', gluedBattery: 'solvent' },
  {
    ...DEFAULT_RULES,
    seal: 'strips',
    firstGap: 'thin-blade',
    pressing: 'by-hand',
    lacks: ['mat', 'clips', 'solvent-dropper'],
  },
  {
    ...DEFAULT_RULES,
    firstGap: 'cup-clamp',
    trySpare: 'at-once',
    gluedBattery: 'heat-and-pry',
    isolation: 'as-it-comes',
  },
];

describe('everything that plans say', () => {
  const plans: [ReturnType<typeof modelOf>, Plan][] = [];
  const models = [
    ...DEVICES.map(demoModel),
    ...Array.from({ length: 4 }, (_, k) => modelOf(marketAnatomy(seededDraw(90 + k)))),
    ...Array.from({ length: 3 }, (_, k) => modelOf(foldAnatomy(seededDraw(190 + k)))),
  ];
  for (const [m, model] of models.entries())
    for (const [p, part] of model.anatomy.parts.entries()) {
      if (part.fixed || p % 3 !== m % 3) continue;
      const condition = { crackedGlass: p % 2 === 0, charge: p % 4 === 1 ? 20 : null, dark: p % 5 === 4 };
      const options = { budget: 0, heat: m < 2 && p < 5 ? 'computed' : 'usual' } as const;
      plans.push([model, planDive(model, { replace: [part.id], condition }, HOUSES[(m + p) % HOUSES.length], options)]);
    }
  const said = plans.flatMap(([model, plan]) => [
    ...plan.steps.flatMap((s) => s.hint.map((hint): [typeof model, Said] => [model, hint])),
    ...plan.changes.map((change): [typeof model, Said] => [model, change]),
    ...plan.losses.flatMap((l): [typeof model, Said][] => [
      [model, l.because],
      [model, l.remedy],
    ]),
    ...consumablesOf(model, plan).map((c): [typeof model, Said] => [model, c.what]),
  ]);

  it('has words, with nothing left open in them', () => {
    const codes = new Set<string>();
    for (const [model, one] of said) {
      codes.add(one.code);
      const words = tell(model, one);
      expect(words, JSON.stringify(one)).not.toMatch(/undefined|NaN|null|Infinity|\[object|[{}]|\bnone\b/);
      expect(words.trim(), JSON.stringify(one)).not.toBe('');
    }
    // Most of what there is to say is said by these plans.
    expect(codes.size).toBeGreaterThan(100);
  });
  it('reasons and their chains have words', () => {
    for (const [model, plan] of plans.slice(0, 24))
      for (const step of plan.steps) {
        for (const reason of step.because)
          expect(explain(model, reason), JSON.stringify(reason)).not.toMatch(/undefined|[{}]/);
        for (const link of chainOf(model, plan, step)) expect(tellAction(model, link.action)).toMatch(/^[a-z]/);
      }
  });
  it('in another language nothing is left in this one', () => {
    for (const [model, one] of said) {
      if (one.code === 'quoted') continue;
      expect(tell(model, one, CODED), JSON.stringify(one)).toBe(`messages/${one.code}`);
    }
  });
});
