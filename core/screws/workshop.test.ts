import { describe, expect, it } from 'vitest';
import { modularAnatomy, seededDraw } from '../../demo/synthetic.ts';
import { tinyDevice, tinyScrew } from '../../demo/tiny.ts';
import { COLOURS, modelOf } from '../anatomy/index.ts';
import { torqueUnits } from '../units/index.ts';
import { calledOut } from './classes.ts';
import { fastenersCsv, readFasteners } from './csv.ts';
import { CHECK_BAR, pageSvg } from '../paper/index.ts';
import { screwMap } from './sheet.ts';
import { equivalentsOf, type StockItem } from './stock.ts';
import { judgeTorque, pitchOf, torqueTarget, type TorqueSample } from './torque.ts';

describe('torque', () => {
  it.each([
    [1.0, 2.2],
    [1.2, 5],
    [1.4, 8],
    [1.3, 5],
    [2.2, 20],
  ])('M%s without a value takes the default of its thread or the next thinner: %s N·cm', (thread, ncm) => {
    expect(torqueTarget({ thread, torque: null })).toMatchObject({ target: ncm, from: 'default' });
  });
  // Least breaking torques of class 8.8, N·cm (ISO 898-7, from memory).
  it.each([
    [1.0, 3.3],
    [1.2, 7.5],
    [1.4, 12],
    [1.6, 16],
    [2.0, 37],
    [2.5, 82],
  ])('M%s is never driven near the %s N·cm at which it may break', (thread, breaks) => {
    const t = torqueTarget({ thread, torque: null });
    expect(t.breaks).toBe(breaks);
    expect(t.high).toBeLessThan(0.8 * breaks);
  });
  it.each([0.6, 0.8, 0.9, 0.99])('below M1, at M%s, it is an estimate with a band, and no standard is claimed', (d) => {
    const t = torqueTarget({ thread: d, torque: null });
    expect(t).toMatchObject({ from: 'estimate', breaks: null });
    expect(t.low).toBeLessThan(t.target);
    expect(t.target).toBeLessThan(t.high);
    expect(t.high / torqueTarget({ thread: 1, torque: null }).target).toBeCloseTo(d ** 3, 2);
    expect(torqueTarget({ thread: d, torque: 1.1 }).from).toBe('anatomy');
  });
  it('what the maker says comes first', () => {
    expect(torqueTarget({ thread: 1.4, torque: 11 })).toMatchObject({ target: 11, from: 'anatomy' });
  });
  // Coarse pitches of ISO 261 (from memory).
  it.each([
    [1, 0.25],
    [1.2, 0.25],
    [1.4, 0.3],
    [1.6, 0.35],
    [2, 0.4],
  ])('M%s has a pitch of %s mm', (thread, pitch) => expect(pitchOf(thread)).toBe(pitch));
  // 1 kgf·cm = 9.80665 N·cm; 1 lbf·in = 11.29848 N·cm (NIST SP 811, Appendix B.8).
  it('is shown in every unit', () => {
    const units = torqueUnits(9.80665);
    expect(units.kgfcm).toBeCloseTo(1, 6);
    expect(units.mNm).toBeCloseTo(98.0665, 4);
    expect(units.lbfin).toBeCloseTo(9.80665 / 11.29848, 4);
  });
  const screw = { length: 3, thread: 1.4, torque: 9 };
  const run = (peak: number, early = 0, turns = 10): TorqueSample[] =>
    Array.from({ length: 20 }, (_, i) => ({
      turns: (turns * (i + 1)) / 20,
      torque: i === 19 ? peak : i > 8 ? early : 0.6,
    }));
  it.each<[string, TorqueSample[], string]>([
    ['in its limits', run(9.2, 0.8), 'good'],
    ['too little', run(7, 0.8), 'under'],
    ['too much', run(11, 0.8), 'over'],
    ['torque long before the seat', run(9, 5), 'cross-threaded'],
    ['stuck after a few turns', run(9, 0.8, 4), 'cross-threaded'],
  ])('%s', (_, samples, verdict) => expect(judgeTorque(screw, samples).verdict).toBe(verdict));
  it('nothing read is no judgement', () => expect(() => judgeTorque(screw, [])).toThrow(/no torque/));
});

describe('what is called out', () => {
  it.each<[string, Parameters<typeof tinyScrew>[3], string[]]>([
    ['an ordinary screw', {}, []],
    ['one that falls off the driver', { magnetic: false }, ['not magnetic']],
    ['a captive one', { kind: 'captive' }, ['captive: loosen only']],
    ['a standoff', { kind: 'standoff' }, ['standoff']],
    ['a threadlocked one', { threadlock: true }, ['threadlocked: a new one goes back']],
    ['one that never goes back', { fate: 'renew' }, ['single use']],
  ])('%s', (_, rest, tags) => {
    expect(
      calledOut(
        modelOf(
          tinyDevice((a) => {
            a.fasteners.push(tinyScrew('x', 'camera', [8, 8], rest));
          }),
        ),
        'x',
      ),
    ).toEqual(tags);
  });
  it('the odd one among like screws of one part', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.fasteners.push(tinyScrew('c3', 'cover', [20, 77], { length: 1.7 }));
      }),
    );
    expect([calledOut(model, 'c3'), calledOut(model, 'c1')]).toEqual([['the odd one'], []]);
  });
});

describe('stock', () => {
  const model = modelOf(tinyDevice());
  const item = (id: string, rest: Partial<StockItem> = {}): StockItem => ({
    id,
    kind: 'screw',
    drive: 'PH000',
    length: 1.4,
    thread: 1.2,
    head: 2,
    magnetic: true,
    revision: 1,
    count: 3,
    ...rest,
  });
  it('ranks what fits without harm, the likest first', () => {
    const found = equivalentsOf(model, 'b1', [
      item('other-drive', { drive: 'T4' }),
      item('longer', { length: 1.6 }),
      item('same'),
      item('far-too-long', { length: 3 }),
      item('thicker', { thread: 1.4 }),
      item('none-left', { revision: 1, count: 0 }),
    ]);
    expect(found.map((e) => e.item.id)).toEqual(['same', 'longer', 'other-drive']);
    expect(found.find((e) => e.item.id === 'other-drive')!.note).toMatch(/T4 instead of PH000/);
  });
  it('names a screw that is not there', () => expect(() => equivalentsOf(model, 'zz', [])).toThrow(/no fastener/));
});

describe('the screw map', () => {
  const model = modelOf(
    tinyDevice((a) => {
      a.fasteners.push(tinyScrew('x1', 'cover', [10, 70], { face: 'back' }));
    }),
  );
  it('has a page for each face, the back mirrored', () => {
    const sheet = screwMap(model, 'A4');
    expect(sheet.pages.map((p) => p.title)).toEqual([
      expect.stringContaining('front'),
      expect.stringContaining('back'),
    ]);
    // 40 mm wide, in the middle of 190 mm: from 85 to 125; mirrored, x = 10 lies at 125 − 10.
    const hole = sheet.pages[1]!.marks.find((m) => m.type === 'path' && m.scale === 1)!;
    expect(hole).toBeDefined();
    expect(sheet.pages[1]!.marks.some((m) => m.type === 'path' && Math.abs(m.x - 115) < 1e-6)).toBe(true);
  });
  it('a device larger than the paper is tiled, with crosses on both sides of each join', () => {
    const large = modelOf(modularAnatomy(60));
    expect(large.anatomy.body.width).toBeGreaterThan(190);
    const sheet = screwMap(large, 'Letter');
    expect(sheet.pages.length).toBeGreaterThan(1);
    const crosses = sheet.pages.map((p) => p.marks.filter((m) => m.type === 'path' && m.scale === 1.5).length);
    expect(Math.min(...crosses)).toBeGreaterThan(0);
    const holes = sheet.pages.flatMap((p) =>
      p.marks.filter((m) => m.type === 'text' && m.bold && m.size === 2.6),
    ).length;
    expect(holes).toBeGreaterThanOrEqual(large.anatomy.fasteners.length);
  });
  it('as SVG is in millimetres', () => {
    const sheet = screwMap(model, 'A4');
    const svg = pageSvg(sheet, sheet.pages[0]!);
    expect(svg).toContain('width="210mm" height="297mm" viewBox="0 0 210 297"');
    expect(svg).toContain(`d="M0 0H${CHECK_BAR}" transform="translate(10 27)`);
  });
});

describe('fasteners in and out', () => {
  it('come back as they went out', () => {
    const draw = seededDraw(2);
    const model = modelOf(
      tinyDevice((a) => {
        for (const f of a.fasteners)
          Object.assign(f, {
            torque: draw(2) ? 7 : null,
            magnetic: draw(2) === 0,
            colour: COLOURS[draw(3)],
            fate: draw(2) ? 'renew' : 'keep',
            order: draw(2) ? 1 + draw(4) : null,
          });
      }),
    );
    const reading = readFasteners(fastenersCsv(model));
    expect(reading).toEqual({ ok: true, value: model.anatomy.fasteners });
  });
  it.each<[string, string, RegExp]>([
    ['a missing column', 'id,drive\na,PH000', /row 1: the column "length" is missing/],
    [
      'no number',
      'id,drive,length,thread,head,holds,into,x,y,holeDepth\na,PH000,long,1.2,2,cover,frame,1,2,3',
      /row 2, column length: "long" is not a number/,
    ],
    [
      'an unknown face',
      'id,drive,length,thread,head,holds,into,x,y,holeDepth,face\na,PH000,2,1.2,2,cover,frame,1,2,3,side',
      /row 2, column face/,
    ],
    [
      'an unknown colour',
      'id,drive,length,thread,head,holds,into,x,y,holeDepth,colour\na,PH000,2,1.2,2,cover,frame,1,2,3,pink',
      /row 2, column colour: "pink" is not one of bright, black, yellow/,
    ],
    [
      'nothing held',
      'id,drive,length,thread,head,holds,into,x,y,holeDepth\na,PH000,2,1.2,2,,frame,1,2,3',
      /row 2, column holds/,
    ],
  ])('%s is a fault with its row and column', (_, text, words) => {
    const reading = readFasteners(text);
    expect(reading.ok ? '' : reading.faults.map((f) => `${f.path}: ${f.message}`).join('\n')).toMatch(words);
  });
});
