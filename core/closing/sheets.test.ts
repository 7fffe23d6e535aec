import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { CHECK_BAR, pageSvg, sheetSvg, PAPERS, type Mark } from '../paper/index.ts';
import { CLOSING_BENCH, cutDay, cutSheet, stripsOf, type StripPlan } from './index.ts';

const seal = (device: string, bond: string): StripPlan => {
  const model = demoModel(device);
  return stripsOf(model, model.bonds.get(bond)!);
};
const paths = (marks: readonly Mark[]) => marks.flatMap((m) => (m.type === 'path' ? [m] : []));
/** Corners of a path of straight lines, mm of the page. */
const corners = ({ d, x, y, scale }: Extract<Mark, { type: 'path' }>): [number, number][] =>
  [...d.matchAll(/[ML]([-\d.]+) ([-\d.]+)/g)].map(([, px, py]) => [x + scale * Number(px), y + scale * Number(py)]);

describe('the template at 1:1', () => {
  const model = demoModel('velmora-quill-5');
  it.each(['A4', 'Letter'] as const)('on %s has its bar, its strips by number and what stays free', (paper) => {
    const plan = seal('velmora-quill-5', 'display-seal');
    const sheet = cutSheet(model, plan, paper);
    expect(sheet.paper).toEqual(PAPERS[paper]);
    expect(sheet.pages).toHaveLength(1);
    const { marks } = sheet.pages[0]!;
    expect(paths(marks).some((m) => m.d === `M0 0H${CHECK_BAR}`)).toBe(true);
    const words = marks.flatMap((m) => (m.type === 'text' ? [m.text] : []));
    for (const s of plan.strips) expect(words).toContain(String(s.n));
    const drawn = paths(marks).flatMap(corners);
    for (const [x, y] of drawn) {
      expect(x).toBeGreaterThan(0);
      expect(x).toBeLessThan(sheet.paper.width);
      expect(y).toBeGreaterThan(0);
      expect(y).toBeLessThan(sheet.paper.height);
    }
    // The outline is as wide as the body, wherever it lies.
    const across = paths(marks)
      .filter((m) => m.x === 0 && m.d.includes('L'))
      .flatMap((m) => corners(m).map(([x]) => x));
    expect(Math.max(...across) - Math.min(...across)).toBeCloseTo(70.4, 1);
    expect(pageSvg(sheet, sheet.pages[0]!)).toContain(`width="${PAPERS[paper].width}mm"`);
  });
  it('of a tablet is tiled, and its tiles share crosses', () => {
    const tablet = demoModel('osterleigh-broadleaf-12');
    const sheet = cutSheet(tablet, seal('osterleigh-broadleaf-12', 'display-seal'));
    expect(sheet.pages).toHaveLength(2);
    const crosses = sheet.pages.map(({ marks }) =>
      paths(marks)
        .filter((m) => m.d === 'M-3 0H3M0 -3V3')
        .map((m) => [m.x, m.y]),
    );
    expect(crosses[0]!.length).toBeGreaterThan(0);
    // The drawing holds all of them, one under the other.
    const svg = sheetSvg(sheet);
    for (const { title } of sheet.pages) expect(svg).toContain(`<title>${title}</title>`);
    expect(svg).toContain(`height="${2 * sheet.paper.height}mm"`);
    // The same cross on both, moved by the way from one tile to the next.
    const shift = crosses[0]![0]![0]! - crosses[1]![0]![0]!;
    crosses[0]!.forEach(([x, y], i) => {
      expect(x! - crosses[1]![i]![0]!).toBeCloseTo(shift, 6);
      expect(y).toBeCloseTo(crosses[1]![i]![1]!, 6);
    });
  });
});

describe('cutting for a whole day', () => {
  const jobs = [
    { job: 1, plan: seal('velmora-quill-5', 'display-seal') },
    { job: 2, plan: seal('pellworth-nacre-2', 'display-seal') },
    { job: 3, plan: seal('pellworth-nacre-2', 'back-seal') },
    { job: 4, plan: seal('dunvey-pip-61', 'window-tape') },
    { job: 5, plan: seal('tannbrook-field-3', 'display-bond') },
  ];
  const day = cutDay(jobs, CLOSING_BENCH);
  it('cuts every strip once, each lane and sheet no fuller than it is', () => {
    const keys = [
      ...day.sheets.flatMap((s) => s.lanes.flatMap((l) => l.pieces)),
      ...day.rolls.flatMap((r) => r.pieces),
    ].map((p) => `${p.job}/${p.strip}`);
    expect(new Set(keys).size).toBe(keys.length);
    expect(keys.length).toBe(jobs.reduce((s, j) => s + j.plan.strips.length, 0));
    for (const { size, lanes, across } of day.sheets) {
      expect(lanes.reduce((s, l) => s + l.width, 0)).toBeLessThanOrEqual(Math.min(...size));
      expect(across).toBeGreaterThanOrEqual(0);
      for (const l of lanes)
        expect(l.pieces.reduce((s, p) => s + p.length, 0) + l.left).toBeLessThanOrEqual(Math.max(...size) + 1e-6);
    }
  });
  it('takes no more lanes than the jobs one by one', () => {
    const lanes = (of: typeof jobs) => cutDay(of, CLOSING_BENCH).sheets.reduce((s, sheet) => s + sheet.lanes.length, 0);
    expect(lanes(jobs)).toBeLessThanOrEqual(jobs.reduce((s, j) => s + lanes([j]), 0));
    expect(day.proved).toBe(true);
  });
  it('what comes off a roll has no waste, and what is longer than a sheet is named', () => {
    expect(day.rolls).toHaveLength(1);
    expect(day.rolls[0]!.length).toBeCloseTo(jobs[4]!.plan.covered, 1);
    const small = cutDay(jobs, { sheets: [[60, 90]] });
    expect(small.tooLong.length).toBeGreaterThan(0);
    expect(small.tooLong.every((p) => p.length > 90)).toBe(true);
  });
  it('of nothing is nothing', () => {
    expect(cutDay([], CLOSING_BENCH)).toMatchObject({ sheets: [], rolls: [], waste: 0 });
  });
});

describe('every bond of every device has a template', () => {
  it.each(DEVICES)('%s', (id) => {
    const model = demoModel(id);
    for (const bond of model.anatomy.bonds) {
      const plan = stripsOf(model, bond);
      for (const page of cutSheet(model, plan).pages)
        for (const m of page.marks) {
          if (m.type !== 'path') continue;
          expect(m.d, bond.id).not.toMatch(/NaN|Infinity/);
        }
      expect(plan.laying.length > 0).toBe(plan.strips.length > 0);
    }
  });
});
