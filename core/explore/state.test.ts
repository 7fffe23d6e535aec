import { describe, expect, it } from 'vitest';
import { countsOf, openDevice, warningsFor, type Act, type ActKind, type Sight } from './index.ts';
import { wellFor } from './state.ts';

let n = 0;
const act = (kind: ActKind, item: string | null, seen: Sight = {}): Act => ({
  id: `a${++n}`,
  act: kind,
  item,
  note: '',
  seen,
  at: '2026-01-05T09:00:00.000Z',
});
const BENCH = { device: { width: 70, height: 140 }, thermometer: true, marks: [] };
const screw = (item: string, x: number, rest: Sight = {}) =>
  act('screw-out', item, { at: [x, 10], face: 'front', drive: 'PH000', length: null, ...rest });

describe('an open device that nobody has drawn', () => {
  it('counts what is out, open and off, and knows when it is isolated', () => {
    const open = openDevice([
      act('powered-off', null),
      screw('s1', 10),
      act('part-swung', 'p1', { face: 'front' }),
      act('connector-opened', 'c1', { isolates: true, at: [5, 5] }),
    ]);
    expect(countsOf(open)).toEqual({ screwsOut: 1, plugsOpen: 1, partsOff: 1 });
    expect(open.isolated).toBe(true);
    expect(open.bare.front).toBe(1);
    expect(open.photoDue).toBe(true);
  });

  it('is live again when the battery is mated, and when it is said that the plug was another', () => {
    const isolating = [act('connector-opened', 'c1', { isolates: true })];
    expect(openDevice([...isolating, act('connector-seated', 'c1')]).isolated).toBe(false);
    expect(openDevice([...isolating, act('told', 'c1', { isolates: false })]).isolated).toBe(false);
  });

  it('an act that was taken back has not been', () => {
    const acts = [screw('s1', 10), screw('s2', 20)];
    expect(countsOf(openDevice(acts.toSpliced(1, 1))).screwsOut).toBe(1);
  });

  it.each<[string, Act[], RegExp]>([
    ['a screw that is out already', [screw('s1', 1), screw('s1', 1)], /off or open already/],
    ['a plug that is a screw', [screw('s1', 1), act('connector-opened', 's1')], /is a fastener, not a connector/],
    ['back in what never was out', [act('screw-in', 's9')], /not undone before/],
    ['a part that stands open twice', [act('part-swung', 'p', {}), act('part-swung', 'p', {})], /stands open already/],
    ['a thing without a name', [act('part-off', null)], /does not say what/],
    ['words on what was never met', [act('told', 'x', { name: 'Lid' })], /nothing is known/],
  ])('sets aside %s, with a word', (_, acts, words) => {
    const open = openDevice(acts);
    expect(open.oddities).toHaveLength(1);
    expect(open.oddities[0]!.words).toMatch(words);
    expect(open.acts).toHaveLength(acts.length - 1);
  });
});

describe('wells', () => {
  it('screws of one class that come out in one go share a well; what is done between parts them', () => {
    const open = openDevice([
      screw('s1', 1),
      screw('s2', 2),
      screw('s3', 3, { drive: 'Y000' }),
      act('connector-opened', 'c', {}),
      screw('s4', 4, { drive: 'Y000' }),
      screw('s5', 5, { drive: 'Y000', length: 2.4 }),
    ]);
    const { wells } = open;
    expect(wells.get('s1')).toBe(wells.get('s2'));
    expect(new Set(wells.values()).size).toBe(4);
    expect(wells.get('s5')).not.toBe(wells.get('s4'));
  });

  it('a captive screw lies in none, and a well that is empty again is used again', () => {
    const open = openDevice([screw('s1', 1, { fastener: 'captive' }), screw('s2', 2)]);
    expect(open.wells.has('s1')).toBe(false);
    expect(wellFor(openDevice([screw('s1', 1), act('screw-in', 's1')]), { drive: 'T5' })).toBe('A1');
  });
});

describe('what a colleague says', () => {
  const off = act('powered-off', null);
  const cases: [string, Act[], Act, string | null, Partial<typeof BENCH>?][] = [
    ['a plug is opened live', [off], act('connector-opened', 'c', { at: [1, 1] }), 'live-plug'],
    ['the battery’s plug first', [off], act('connector-opened', 'c', { at: [1, 1], isolates: true }), null],
    ['nothing says that it is off', [], screw('s', 1), 'not-off'],
    [
      'steel inside while live',
      [off, act('part-off', 'lid', { face: 'front' })],
      act('peeled', 'b', { tool: 'thin-blade' }),
      'live-steel',
    ],
    ['a driver inside is no such steel', [off, act('part-off', 'lid', {})], screw('s', 1, { tool: 'driver-T5' }), null],
    ['an iron on a live board', [off], act('connector-opened', 'c', { connector: 'solder' }), 'live-solder'],
    ['heat that nobody watches', [off], act('heated', 'b'), 'heat-blind', { thermometer: false }],
    ['heat before the charge was looked at', [off], act('heated', 'b'), 'charge'],
    ['a look-alike beside', [off, screw('s1', 1), act('bent-aside', 'c')], screw('s2', 2), 'look-alike-well'],
    [
      'a screw that lies in another hole',
      [off, screw('s1', 1, { length: 1.4 })],
      act('screw-in', 's1', { length: 2.2 }),
      'other-hole',
    ],
    ['a part that hangs when it is turned', [off, act('part-swung', 'p', {})], act('turned-over', null), 'turned-open'],
    ['a place beside the device', [off], screw('s', 1, { at: [90, 10] }), 'outside'],
    ['the other side', [off], screw('s', 1, { face: 'back' }), 'other-side'],
    ['what has left already', [off, screw('s', 1)], screw('s', 1), 'contradiction'],
    ['work on a part that is shut', [off], screw('s', 1, { on: 'lid' }), 'contradiction'],
  ];
  it.each(cases)('%s', (_, before, now, kind, bench = {}) => {
    const said = warningsFor(openDevice(before), now, { ...BENCH, ...bench }).map((w) => w.kind);
    if (kind === null) expect(said).toEqual([]);
    else expect(said).toContain(kind);
  });

  it('a part is lifted with a plug still in: one that leads to it, and one that was seen on it', () => {
    const lift = act('part-off', 'p', {
      face: 'front',
      outline: [
        [10, 10],
        [40, 10],
        [40, 40],
        [10, 40],
      ],
    });
    const led = [
      off,
      act('connector-opened', 'c', { leads: { part: 'p' } }),
      act('connector-seated', 'c', { leads: { part: 'p' } }),
    ];
    expect(warningsFor(openDevice(led), lift, BENCH).map((w) => w.kind)).toContain('plug-still-in');
    const marks = [{ type: 'connector' as const, at: [25, 25] as [number, number], face: 'front' as const, on: null }];
    expect(warningsFor(openDevice([off]), lift, { ...BENCH, marks }).map((w) => w.kind)).toContain('plug-still-in');
    const opened = openDevice([off, act('connector-opened', 'c', { at: [25.5, 24.5], isolates: true })]);
    expect(warningsFor(opened, lift, { ...BENCH, marks }).map((w) => w.kind)).not.toContain('plug-still-in');
  });
});
