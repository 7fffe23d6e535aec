import { execFile } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { modelOf, readAnatomyText } from '../core/anatomy/index.ts';
import type { Quote } from '../core/counter/index.ts';
import { checkPlan, type Plan } from '../core/dive/index.ts';
import { demoModel } from '../demo/models.ts';
import { photograph, type Photograph } from '../demo/photograph.ts';
import { deadlockedDevice, tinyDevice } from '../demo/tiny.ts';
import { openDb } from '../server/db/open.ts';
import { nibrel as command } from './nibrel.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'nibrel-cli-'));
const nibrel = (...args: string[]) => command(args);
/** The same as a program of its own. */
const spawned = (...args: string[]) =>
  new Promise<{ code: number; out: string; err: string }>((resolve) => {
    execFile(
      process.execPath,
      ['--import', 'tsx', 'cli/main.ts', ...args],
      { cwd: root, maxBuffer: 1 << 24 },
      (error, out, err) => resolve({ code: error ? Number(error.code) : 0, out, err }),
    );
  });
const file = (name: string, content: unknown): string => {
  const path = join(folder, name);
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content));
  return path;
};
const QUILL = 'demo/anatomies/velmora-quill-5.json';
const FIELD = 'demo/anatomies/tannbrook-field-3.json';

describe('the program', () => {
  it.each([[['check', FIELD]], [['check', file('none.json', {}), '--json']], [['cut', FIELD]]])(
    'ends and prints as its command does: %j',
    async (args) => {
      expect(await spawned(...args)).toEqual(await nibrel(...args));
    },
  );
  it('prints all of a long answer', async () => {
    const { code, out } = await spawned('cut', QUILL, '--bond', 'display-seal', '--json');
    expect(code).toBe(0);
    expect(JSON.parse(out).clearance.length).toBeGreaterThan(700);
  });
});

describe('nibrel check', () => {
  it.each(readdirSync(join(root, 'demo/anatomies')).map((name) => `demo/anatomies/${name}`))(
    '%s passes',
    async (path) => {
      expect(await nibrel('check', path)).toMatchObject({
        code: 0,
        out: expect.stringContaining('every part can be reached and refitted'),
      });
    },
  );
  it('prints each fault with its path, and ends with 1', async () => {
    const bad = file(
      'bad.json',
      tinyDevice((a) => {
        a.fasteners[0]!.holds = ['lid'];
        a.connectors[0]!.to = 'nowhere';
      }),
    );
    const { code, err } = await nibrel('check', bad);
    expect(code).toBe(1);
    expect(err).toContain('fasteners[0].holds[0]: there is no part "lid"');
    expect(err).toContain('connectors[0].to: there is no part "nowhere"');
  });
  it('takes a sound device whose dives cannot all be planned, and warns', async () => {
    const { code, out } = await nibrel('check', file('deadlocked.json', deadlockedDevice()));
    expect(code).toBe(0);
    expect(out).toContain('warning: parts[6]: back cannot be planned yet');
    expect(out).toContain('3 of its parts cannot be planned yet');
    expect((await nibrel('depth', file('deadlocked.json', deadlockedDevice()))).out).toMatch(
      /^back +cannot be planned yet/m,
    );
  });
  it('finds a connector that cannot be reached', async () => {
    const bad = file(
      'reach.json',
      tinyDevice((a) => {
        a.connectors[1]!.after = ['board'];
      }),
    );
    const { code, err } = await nibrel('check', bad);
    expect(code).toBe(1);
    expect(err).toMatch(/parts\[3\]: camera cannot be reached/);
  });
});

describe('nibrel plan', () => {
  it.each([
    [QUILL, 'battery'],
    [QUILL, 'display,dock'],
    [FIELD, 'main-camera'],
    [FIELD, 'port,display'],
  ])('%s --replace %s is a sound nibrel.plan/2', async (path, parts) => {
    const { code, out } = await nibrel('plan', path, '--replace', parts, '--json');
    expect(code).toBe(0);
    const plan = JSON.parse(out) as Plan;
    expect(plan).toMatchObject({ schema: 'nibrel.plan/2', replace: parts.split(',') });
    const reading = readAnatomyText(readFileSync(join(root, path), 'utf8'));
    expect(reading.ok && checkPlan(modelOf(reading.value), plan)).toBeNull();
  });
  it('follows house rules from a file', async () => {
    const rules = file('rules.json', { openedDisplay: 'take-off', heat: 'gun' });
    const plan = JSON.parse(
      (await nibrel('plan', QUILL, '--replace', 'battery', '--rules', rules, '--json')).out,
    ) as Plan;
    expect(plan.steps.some((s) => s.do === 'lift' && s.items.includes('display'))).toBe(true);
    expect(plan.steps.find((s) => s.do === 'heat')!.tool).toBe('gun');
  });
  it('takes the spare that is named', async () => {
    const full = JSON.parse(
      (await nibrel('plan', QUILL, '--replace', 'display', '--spare', 'display-full', '--json')).out,
    ) as Plan;
    const bare = JSON.parse(
      (await nibrel('plan', QUILL, '--replace', 'display', '--spare', 'display-bare', '--json')).out,
    ) as Plan;
    expect(full.transfers).toEqual([]);
    expect(bare.transfers.map((t) => t.part).sort()).toEqual(['earpiece', 'sensor-plate', 'sensors']);
  });
  it('names wrong house rules, and a part that is not there', async () => {
    expect(
      await nibrel('plan', QUILL, '--replace', 'battery', '--rules', file('wrong.json', { heat: 'candle' })),
    ).toMatchObject({ code: 1, err: expect.stringContaining('heat: must be one of') });
    expect(await nibrel('plan', QUILL, '--replace', 'engine')).toMatchObject({
      code: 1,
      err: expect.stringContaining('has no part "engine"'),
    });
  });
});

describe('nibrel depth', () => {
  it('gives every part its steps, screws and seconds', async () => {
    const table = JSON.parse((await nibrel('depth', FIELD, '--json')).out) as {
      part: string;
      steps: number;
      screws: number;
      seconds: number;
    }[];
    expect(table).toHaveLength(16);
    expect(table.find((d) => d.part === 'back-cover')).toMatchObject({ screws: 0, steps: 6 });
    expect(table.find((d) => d.part === 'board')!.steps).toBeGreaterThan(
      table.find((d) => d.part === 'battery')!.steps,
    );
  });
});

describe('wrong usage ends with 2', () => {
  it.each([
    [[]],
    [['dance', QUILL]],
    [['plan', QUILL]],
    [['check', 'nothing-there.json']],
    [['check', QUILL, '--loud']],
  ])('%j', async (args) => {
    expect(await nibrel(...args)).toMatchObject({ code: 2, out: '' });
  });
});

describe('nibrel screws, tray, sort', () => {
  it('screws tells classes, dangers and the worst look-alikes', async () => {
    const { code, out } = await nibrel('screws', QUILL, '--json');
    expect(code).toBe(0);
    const told = JSON.parse(out) as {
      classes: { letter: string; fasteners: string[] }[];
      danger: unknown[];
      lookAlikes: { dangers: { worst: { harmful: boolean } }[] }[];
    };
    expect(told.classes.flatMap((c) => c.fasteners)).toHaveLength(41);
    expect(told.danger).toHaveLength(told.classes.length * (told.classes.length - 1));
    expect(told.lookAlikes.every((l) => l.dangers.every((d) => d.worst.harmful))).toBe(true);
  });
  it('tray gives the plan with its objective and whether it is proved', async () => {
    const { code, out } = await nibrel('tray', QUILL, '--replace', 'battery', '--wells', '3x5', '--json');
    expect(code).toBe(0);
    const tray = JSON.parse(out) as {
      lots: unknown[];
      labels: string[];
      cost: number;
      lowerBound: number;
      proved: boolean;
      conflicts: string[];
    };
    expect(tray.labels).toHaveLength(tray.lots.length);
    expect(tray.cost).toBeGreaterThanOrEqual(tray.lowerBound);
    expect(typeof tray.proved).toBe('boolean');
    expect((await nibrel('tray', QUILL, '--replace', 'battery', '--wells', 'many')).code).toBe(2);
  });
  it('sort puts pieces back, holds back what may do harm, and names the rows of bad input', async () => {
    const { code, out } = await nibrel(
      'sort',
      QUILL,
      file('spill.csv', 'id,length,head,drive\na,6.82,1.81,P2\nb,1.52,2.0,PH000\n'),
      '--json',
    );
    expect(code).toBe(0);
    const { pieces } = JSON.parse(out) as {
      pieces: { piece: string; fastener: string; heldBack: boolean; measureNext: string | null }[];
    };
    expect(['e1', 'e2']).toContain(pieces[0]!.fastener);
    expect(pieces[0]!.heldBack).toBe(false);
    expect(pieces[1]).toMatchObject({ heldBack: true, measureNext: 'length' });
    const bad = await nibrel('sort', QUILL, file('bad.csv', 'id,length\na,short\n'));
    expect(bad).toMatchObject({ code: 1, err: expect.stringContaining('row 2, column length') });
    expect((await nibrel('sort', QUILL)).code).toBe(2);
  });
});

describe('nibrel heat and cut', () => {
  it('heat prints the curves, when the seam is soft, how long it stays so, and what is exceeded', async () => {
    const { code, out } = await nibrel(
      'heat',
      QUILL,
      '--bond',
      'display-seal',
      '--set',
      '85',
      '--minutes',
      '6',
      '--room',
      '20',
      '--json',
    );
    expect(code).toBe(0);
    const told = JSON.parse(out) as {
      softAt: number;
      staysSoft: number;
      exceeded: { zone: string; level: string; at: number }[];
      seam: { softAt: number; peak: number }[];
      curves: { time: number; coldest: number; warmest: number; cell: number; panel: number }[];
    };
    expect(told.curves[0]).toMatchObject({ time: 0, coldest: 20, cell: 20 });
    expect(told.softAt).toBeGreaterThan(60);
    // The whole seam is soft when its last stretch is.
    expect(Math.abs(Math.max(...told.seam.map((s) => s.softAt)) - told.softAt)).toBeLessThan(10);
    expect(told.staysSoft).toBeGreaterThan(30);
    expect(told.exceeded.some((e) => e.zone === 'cell' && e.level === 'caution')).toBe(true);
    for (const row of told.curves) expect(row.warmest).toBeGreaterThanOrEqual(row.coldest);
  });
  it.each(['gun', 'gel'])('heat takes the source %s', async (source) => {
    const { code, out } = await nibrel('heat', FIELD, '--bond', 'display-bond', '--source', source);
    expect(code).toBe(0);
    expect(out).toMatch(/computed, no promise: follow the thermometer/);
  });
  it('heat --recipe prints the quickest safe one, or what stands against it and what else would do', async () => {
    expect((await nibrel('heat', QUILL, '--bond', 'display-seal', '--recipe')).out).toMatch(
      /^heat mat at \d+ °C: [\d.]+ min\nsoft at 60 °C/,
    );
    const none = await nibrel('heat', QUILL, '--bond', 'display-seal', '--source', 'gun', '--recipe');
    expect(none).toMatchObject({
      code: 0,
      out: expect.stringMatching(/^none: the panel would pass 83 °C.*\ninstead: /s),
    });
  });
  it('cut prints the clearance, the marks, the stretches and what is left uncut and why', async () => {
    const { code, out } = await nibrel(
      'cut',
      QUILL,
      '--bond',
      'display-seal',
      '--marks',
      '2',
      '--margin',
      '0.5',
      '--json',
    );
    expect(code).toBe(0);
    const told = JSON.parse(out) as {
      marks: number[];
      runs: { edge: string; depth: number; clear: number; left: number; behind: string[] }[];
      clearance: { s: number; clear: number; need: number }[];
    };
    expect(told.marks).toEqual([1.4, 1.9]);
    expect(told.clearance.length).toBeGreaterThan(700);
    expect(told.runs.find((r) => r.behind.includes('buttons'))).toMatchObject({ edge: 'left', depth: 1.4 });
    expect((await nibrel('cut', QUILL, '--bond', 'display-seal')).out).toMatch(
      /top {4} {1,4}64\.5 mm {2}not cut: slid out of its hooks/,
    );
  });
  it('wrong usage ends with 2, what the anatomy does not say with 1 and its path', async () => {
    const wrong = [
      ['heat', QUILL],
      ['heat', QUILL, '--bond', 'display-seal', '--source', 'toaster'],
      ['heat', QUILL, '--bond', 'display-seal', '--minutes', 'long'],
      ['cut', QUILL],
      ['cut', QUILL, '--bond', 'display-seal', '--marks', '99'],
    ];
    const codes = await Promise.all(wrong.map(async (args) => (await nibrel(...args)).code));
    expect(codes).toEqual(wrong.map(() => 2));
    expect(await nibrel('heat', QUILL, '--bond', 'camera-foam')).toMatchObject({
      code: 1,
      err: expect.stringContaining('bonds.camera-foam.softensAt: '),
    });
    expect(await nibrel('heat', QUILL, '--bond', 'display-seal', '--set', '200')).toMatchObject({
      code: 1,
      err: expect.stringContaining('set of the mat must be 40 to 90 °C'),
    });
    expect(await nibrel('cut', QUILL, '--bond', 'nope')).toMatchObject({
      code: 1,
      err: expect.stringContaining('has no bond "nope"'),
    });
  }, 90_000);
});

describe('backup and restore', () => {
  it('take all data into one file and put them back, what was there kept beside', async () => {
    const data = join(folder, 'shop');
    const zip = join(folder, 'shop.zip');
    expect(await nibrel('backup', zip, '--data', data)).toMatchObject({
      code: 1,
      err: expect.stringContaining('no shop'),
    });
    const { db, close } = openDb(join(data, 'nibrel.sqlite'));
    db.$client.prepare("INSERT INTO settings VALUES ('shop-name', '\"Quay\"')").run();
    // As while the server runs: the database is open elsewhere.
    expect(await nibrel('backup', zip, '--data', data)).toMatchObject({
      code: 0,
      out: expect.stringContaining('0 photographs'),
    });
    db.$client.prepare('UPDATE settings SET value = \'"Pier"\'').run();
    close();
    const restored = await nibrel('restore', zip, '--data', data, '--json');
    expect(restored.code).toBe(0);
    const { kept } = JSON.parse(restored.out) as { kept: string };
    const nameIn = (at: string) => {
      const opened = openDb(join(at, 'nibrel.sqlite'));
      const value = opened.db.$client.prepare('SELECT value FROM settings').pluck().get();
      opened.close();
      return value;
    };
    expect([nameIn(data), nameIn(kept)]).toEqual(['"Quay"', '"Pier"']);
    expect(await nibrel('verify', '--data', data)).toMatchObject({
      code: 0,
      out: expect.stringContaining('as written'),
    });
    expect(await nibrel('verify', zip)).toMatchObject({ code: 0, out: expect.stringContaining('0 jobs, 0 events') });
    const harmed = openDb(join(data, 'nibrel.sqlite'));
    harmed.db.$client.exec(`PRAGMA foreign_keys = OFF;
      INSERT INTO jobs (id, number, anatomy, revision, customer, complaint, outside, cracked_glass, triage, created_at)
      VALUES ('j', 7, 'none', 1, '', '', '', 0, '[]', '');
      INSERT INTO events (job, seq, id, at, by, type, body, hash) VALUES ('j', 1, 'e', '', '', 'note', '{}', 'other')`);
    harmed.close();
    expect(await nibrel('verify', '--data', data)).toMatchObject({
      code: 1,
      out: expect.stringMatching(/job 7: event 1 \(note\) is not what was written/),
    });
    expect(await nibrel('verify', join(folder, 'none.zip'))).toMatchObject({ code: 1 });
    expect(await nibrel('restore', file('no.zip', 'nothing'), '--data', data)).toMatchObject({
      code: 1,
      err: expect.stringContaining('no backup of Nibrel'),
    });
  });
});

describe('nibrel straighten, propose, draft, svg', () => {
  const photo = join(folder, 'back.jpg');
  const model = demoModel('tannbrook-field-3');
  const { width, height } = model.anatomy.body;
  const body = `${width}x${height}`;
  let taken: Photograph;
  beforeAll(async () => {
    taken = await photograph({ model, face: 'back', opened: 1, seed: 3, side: 1400, tilt: 6, harshness: 0.2 });
    writeFileSync(photo, taken.jpeg);
    writeFileSync(join(folder, 'edges.json'), JSON.stringify(taken.edges));
  }, 60_000);
  const edges = () => ['--edges', join(folder, 'edges.json'), '--face', 'back'];

  it('straightens to exactly the body, and says how well', async () => {
    const out = join(folder, 'plate.png');
    const told = await nibrel('straighten', photo, '--body', body, ...edges(), '--out', out, '--scale', '10', '--json');
    expect(told.code).toBe(0);
    const report = JSON.parse(told.out) as { width: number; height: number; expectedError: { radius95: number } };
    expect(report).toMatchObject({
      width: width * 10,
      height: height * 10,
      snapped: ['top', 'right', 'bottom', 'left'],
    });
    expect(report.expectedError.radius95).toBeLessThan(0.3);
    expect(await sharp(out).metadata()).toMatchObject({ format: 'png', width: width * 10 });
  });
  it('proposes the screws that are there, in mm of the body', async () => {
    const told = await nibrel('propose', photo, '--body', body, ...edges(), '--depth', '0.4', '--json');
    const { screws } = JSON.parse(told.out) as { screws: { at: [number, number]; diameter: number; score: number }[] };
    const found = taken.screws.filter(({ at }) =>
      screws.some((s) => Math.hypot(s.at[0] - at[0], s.at[1] - at[1]) < 0.6),
    );
    expect(found.length / taken.screws.length).toBeGreaterThanOrEqual(0.9);
    expect(screws[0]!.score).toBeGreaterThan(0.5);
  }, 60_000);
  it.each([
    [['straighten', photo, '--out', 'x.png'], 2, /--body is width x height/],
    [['straighten', photo, '--body', body], 2, /needs --out/],
    [['propose', photo, '--body', body, '--edges', '[[1,2]]'], 1, /four lines/],
    [['propose', join(folder, 'edges.json'), '--body', body], 1, /no picture that can be read/],
    [['draft', 'merge', 'a.json', 'b.json'], 2, /draft diff takes two anatomies/],
    [['svg-in', 'demo/anatomies/dunvey-pip-61.json'], 2, /needs the anatomy and the drawing/],
    [['catalogue', join(folder, 'none')], 2, /there is no folder/],
  ] as const)('%s ends with %i', async (argv, code, message) => {
    const told = await nibrel(...argv);
    expect(told.code).toBe(code);
    expect(told.err).toMatch(message);
  });
  it('draws at 1:1, takes the drawing back, and says what changed', async () => {
    const [before, drawing, after] = [
      'demo/anatomies/dunvey-pip-61.json',
      join(folder, 'pip.svg'),
      join(folder, 'pip.json'),
    ];
    expect((await nibrel('svg', before, '--out', drawing)).out).toMatch(/51.6 × 113.4 mm, 1:1/);
    writeFileSync(drawing, readFileSync(drawing, 'utf8').replace('cx="4.6" cy="38"', 'cx="5" cy="38"'));
    expect((await nibrel('svg-in', before, drawing, '--out', after)).out.trim()).toBe('r1: place 4.6, 38 → 5, 38 mm');
    expect((await nibrel('draft', 'diff', before, after)).out.trim()).toBe('r1: place 4.6, 38 → 5, 38 mm');
  });
});

describe('the counter', () => {
  it('identity tells what a number is, and ends with 1 and why where it is wrong', async () => {
    expect(await nibrel('identity', '49 015420 323751 8')).toMatchObject({ code: 0, out: 'imei 490154203237518\n' });
    const wrong = await nibrel('identity', '490154203237517', '--json');
    expect(wrong).toMatchObject({ code: 1, err: expect.stringContaining('should be 8, not 7') });
    expect(JSON.parse(wrong.out)).toMatchObject({ ok: false, kind: 'imei' });
  });

  it('diagnose ranks suspects with odds and says what to look at next', async () => {
    const tests = file('tests.json', { picture: 'fail', brightness: 'fail', touch: 'pass', power: 'pass' });
    const told = await nibrel('diagnose', QUILL, '--replace', 'display', '--tests', tests, '--json');
    expect(told.code).toBe(0);
    const { suspects, next, nothing } = JSON.parse(told.out) as {
      suspects: { item: string; cause: string; odds: number }[];
      next: { item: string; seconds: number };
      nothing: number;
    };
    expect(suspects[0]).toMatchObject({ item: 'picture-flex', cause: 'not-seated' });
    for (const s of suspects) expect(s.odds).toBeGreaterThan(0);
    expect(next).toMatchObject({ item: 'picture-flex' });
    expect(nothing).toBeLessThan(0.2);
    const closed = await nibrel('diagnose', QUILL, '--replace', 'display', '--tests', tests, '--closed', '--json');
    const there = JSON.parse(closed.out) as { suspects: { item: string }[] };
    expect(there.suspects.map((s) => s.item)).toContain('display-seal');
    expect((await nibrel('diagnose', QUILL, '--replace', 'display', '--tests', tests)).out).toContain(
      'Picture and Brightness rest on it',
    );
  });

  it.each([
    [{ picture: 'broken' }, 'tests.picture: must be "pass" or "fail"'],
    [{ smell: 'fail' }, 'tests.smell: the anatomy has no such function'],
    [{}, 'name at least one function'],
    [[], 'must be an object of functions'],
    ['{', 'tests'],
  ])('diagnose refuses %j by its place', async (tests, message) => {
    const told = await nibrel('diagnose', QUILL, '--replace', 'battery', '--tests', file('bad.json', tests));
    expect(told.code).toBe(1);
    if (message !== 'tests') expect(told.err).toContain(message);
  });

  it('diagnose and quote say how they are used where something is missing', async () => {
    expect(await nibrel('diagnose', QUILL, '--replace', 'battery')).toMatchObject({ code: 2 });
    expect(await nibrel('quote', QUILL)).toMatchObject({ code: 2 });
  });

  it('quote tells time, price and risks, and learns from a history', async () => {
    const fresh = JSON.parse((await nibrel('quote', QUILL, '--replace', 'battery', '--json')).out) as Quote;
    expect(fresh.p90).toBeGreaterThan(fresh.p50);
    expect(fresh.price.total).toMatch(/^\d+\.\d\d$/);
    expect(fresh.risks.map((r) => r.kind)).toContain('tab-snaps');
    const history = file(
      'history.json',
      Array.from({ length: 200 }, () => ({ planned: 1000, taken: 2000 })),
    );
    const slow = JSON.parse(
      (await nibrel('quote', QUILL, '--replace', 'battery', '--history', history, '--json')).out,
    ) as Quote;
    expect(slow.p50).toBeGreaterThan(1.6 * fresh.p50);
    const bad = await nibrel(
      'quote',
      QUILL,
      '--replace',
      'battery',
      '--history',
      file('h.json', [{ planned: 0, taken: 5 }]),
    );
    expect(bad).toMatchObject({ code: 1, err: expect.stringContaining('history[0]') });
    const told = (await nibrel('quote', QUILL, '--replace', 'battery')).out;
    expect(told).toContain('simulated supplier');
    expect(told).toMatch(/ready: \d+ h \d+ after it is begun/);
    expect(told).toContain('whose charge nobody knows');
    expect((await nibrel('quote', QUILL, '--replace', 'battery', '--charge', '40')).out).not.toContain('nobody knows');
  });
});

describe('nibrel strips, press and cell', () => {
  const TABLET = 'demo/anatomies/osterleigh-broadleaf-12.json';
  it('strips: what is covered is the bond less its gaps, and the template is to scale', async () => {
    const told = await nibrel('strips', FIELD, '--bond', 'display-bond', '--rolls', '2,3,5', '--json');
    expect(told.code).toBe(0);
    const plan = JSON.parse(told.out) as {
      strips: { width: number; length: number }[];
      covered: number;
      waste: number;
    };
    expect(plan.strips.every((s) => s.width === 2)).toBe(true);
    expect(plan.strips.reduce((s, p) => s + p.length, 0)).toBeCloseTo(plan.covered, 1);
    expect(plan.waste).toBe(0);
    const drawn = await nibrel('strips', FIELD, '--bond', 'display-bond', '--svg');
    expect(drawn.out).toMatch(/<svg [^>]*width="210mm" height="297mm" viewBox="0 0 210 297"/);
    expect((await nibrel('strips', FIELD, '--bond', 'display-bond')).out).toMatch(/covers 410\.5 of 410\.5 mm/);
  });
  it('press: both seals of the tablet come to the order of 32 kg', async () => {
    const all = await Promise.all(
      ['display-seal', 'display-seal-wide'].map((bond) => nibrel('press', TABLET, '--bond', bond, '--json')),
    );
    const kilograms = all.reduce((s, { out }) => s + (JSON.parse(out) as { kilograms: number }).kilograms, 0);
    expect(kilograms).toBeGreaterThan(16);
    expect(kilograms).toBeLessThan(64);
    expect((await nibrel('press', QUILL, '--bond', 'display-seal')).out).toMatch(/kg \(\d+ N\) over \d+ mm²/);
  });
  it('cell: Wh = V · Ah, and the minutes are energy over power', async () => {
    const { out } = await nibrel('cell', QUILL, '--charge', '80', '--load', '3.5', '--json');
    const told = JSON.parse(out) as { wattHours: number; minutesTo25: number; transport: { class: string } };
    expect(told.wattHours).toBeCloseTo(3.86 * 3.98, 9);
    expect(told.minutesTo25).toBeCloseTo(((3.86 * 3.98 * 0.55) / 3.5) * 60, 0);
    expect(told.transport.class).toBe('small');
  });
  it.each([
    [['strips', QUILL], 2, /needs --bond/],
    [['strips', QUILL, '--bond', 'none'], 1, /has no bond "none"/],
    [['strips', QUILL, '--bond', 'display-seal', '--rolls', '2,x'], 2, /--rolls/],
    [['press', QUILL], 2, /needs --bond/],
    [['cell', QUILL, '--charge', '130'], 2, /--charge/],
    [['cell', QUILL, '--load', '0'], 2, /--load/],
  ] as const)('%j is refused', async (args, code, words) => {
    const told = await nibrel(...args);
    expect(told.code).toBe(code);
    expect(told.err).toMatch(words);
  });
});
