import { describe, expect, expectTypeOf, it } from 'vitest';
import {
  asOf,
  boundsOf,
  choice,
  choicesOf,
  completed,
  either,
  filled,
  isWithin,
  keyed,
  laterThan,
  list,
  maybe,
  number,
  optional,
  orNone,
  place,
  readAs,
  record,
  row,
  since,
  table,
  text,
  yes,
  type Of,
} from './index.ts';

const kinds = table<{ since: number }>('thing')({ nut: { since: 1 }, bolt: { since: 2 } });
const thing = record({
  id: text({ written: [/^[a-z]+$/, 'small letters'] }),
  kind: choice(kinds, (kind) => kinds.of(kind).since),
  at: row(number({ unit: 'mm' }), number({ unit: 'mm' })),
  width: maybe(number({ above: 0, most: 60, unit: 'mm' })),
  count: filled(number({ whole: true, least: 1, most: 9 }), 1),
  tags: filled(list(text({ most: 8 }), { once: true, most: 2 }), []),
  shape: either(
    [record({ round: number({ above: 0 }) }), record({ square: number(), fixed: filled(yes, false) })],
    'must be round or square',
  ),
  limits: since(2, orNone(record({ hottest: maybe(number({ least: 30 })) }))),
  note: optional(text({ blank: true, trimmed: true })),
});
const box = record({ things: list(thing, { least: 1 }), names: filled(keyed(text({ most: 4 }), number()), {}) });
const nut = { id: 'a', kind: 'nut', at: [1, 2], shape: { round: 3 } };
const faultsOf = (document: unknown) => {
  const read = readAs(box, document);
  return read.ok ? [] : read.faults.map((f) => `${f.path} ${f.message}`);
};

describe('one description of a format', () => {
  it('is its type', () => {
    type Thing = Of<typeof thing>;
    expectTypeOf<Thing['kind']>().toEqualTypeOf<'nut' | 'bolt'>();
    expectTypeOf<Thing['at']>().toEqualTypeOf<[number, number]>();
    expectTypeOf<Thing['width']>().toEqualTypeOf<number | null>();
    expectTypeOf<Thing['tags']>().toEqualTypeOf<string[]>();
    expectTypeOf<Thing>().toMatchTypeOf<{ note?: string; limits?: { hottest: number | null } | null }>();
    expectTypeOf<
      Thing['shape'] extends { round: number } | { square: number; fixed: boolean } ? 'fits' : 'not'
    >().toEqualTypeOf<'fits'>();
  });

  it('is its reader, which fills in what is left out and turns nothing into something else', () => {
    expect(readAs(box, { things: [nut] })).toEqual({
      ok: true,
      value: { things: [{ ...nut, width: null, count: 1, tags: [] }], names: {} },
    });
    expect(readAs(thing, { ...nut, shape: { square: 2 } })).toMatchObject({ value: { shape: { fixed: false } } });
  });

  it.each([
    [{ id: 'A' }, /^things\[0\]\.id .*small letters/],
    [{ kind: 'nail' }, /^things\[0\]\.kind must be one of \[nut, bolt\]/],
    [{ at: [1] }, /^things\[0\]\.at/],
    [{ at: [1, 2, 3] }, /^things\[0\]\.at/],
    [{ width: 0 }, /^things\[0\]\.width must be a positive number/],
    [{ width: '3' }, /^things\[0\]\.width must be a number/],
    [{ count: 1.5 }, /^things\[0\]\.count must be an integer/],
    [{ tags: ['x', 'x'] }, /^things\[0\]\.tags\[1\] .*duplicate/],
    [{ shape: { flat: 1 } }, /^things\[0\]\.shape must be round or square/],
    [{ colour: 'red' }, /^things\[0\]\.colour unknown field "colour"/],
    [{ note: ' x' }, /^things\[0\]\.note/],
    [{ limits: { hottest: 20 } }, /^things\[0\]\.limits\.hottest/],
  ])('%j is a fault with its path', (change, said) => {
    const faults = faultsOf({ things: [{ ...nut, ...change }] });
    expect(faults.length).toBeGreaterThan(0);
    expect(faults[0]).toMatch(said);
  });

  it('is the limits and choices of a form', () => {
    expect(boundsOf(place(box, 'things', 'width'))).toEqual({ above: 0, most: 60, unit: 'mm' });
    expect(boundsOf(place(box, 'things', 'at', '1'))).toEqual({ unit: 'mm' });
    expect(boundsOf(place(box, 'things', 'shape', 'round'))).toEqual({ above: 0 });
    expect(boundsOf(list(number({ least: 1 })))).toEqual({ least: 1 });
    expect(choicesOf(place(box, 'things', 'kind'))).toEqual(['nut', 'bolt']);
    expect(() => place(box, 'things', 'colour')).toThrow(RangeError);
    for (const [value, fits] of [
      [0, false],
      [0.1, true],
      [60, true],
      [60.1, false],
    ] as const)
      expect(isWithin(boundsOf(place(box, 'things', 'width')), value)).toBe(fits);
    expect(isWithin({ whole: true }, 1.5)).toBe(false);
  });

  it('knows its versions: what came later, and what a stored document lacks', () => {
    const first = asOf(box, 1);
    expect(choicesOf(place(first, 'things', 'kind'))).toEqual(['nut']);
    expect(readAs(first, { things: [{ ...nut, limits: null }] }).ok).toBe(false);
    const later = { things: [nut, { ...nut, kind: 'bolt', limits: { hottest: null } }] };
    expect(laterThan(box, 1, later)).toEqual(['things[1].kind', 'things[1].limits']);
    expect(laterThan(box, 2, later)).toEqual([]);
    const full = completed(box, { things: [nut as never] });
    expect(full).toEqual({ things: [{ ...nut, width: null, count: 1, tags: [] }], names: {} });
    expect(completed(box, full)).toBe(full);
    // Nobody writes into what stands for another.
    completed(thing, nut as never).tags.push('x');
    expect(completed(thing, nut as never).tags).toEqual([]);
  });
});

describe('a table of kinds', () => {
  it('takes one more through its door, and readers know it from then on', () => {
    const washer = { things: [{ ...nut, kind: 'washer' }] };
    expect(faultsOf(washer)).toHaveLength(1);
    const away = kinds.add('washer', { since: 1 });
    expect(faultsOf(washer)).toEqual([]);
    expect(kinds.where((facts) => facts.since === 1)).toEqual(['nut', 'washer']);
    expect(() => kinds.add('washer', { since: 1 })).toThrow(/already/);
    away();
    expect(faultsOf(washer)).toHaveLength(1);
    expect(() => kinds.of('washer' as 'nut')).toThrow(/washer is no kind of thing: nut, bolt/);
  });
});
