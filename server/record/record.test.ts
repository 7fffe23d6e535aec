import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { modelOf, readAnatomyText } from '../../core/anatomy/index.ts';
import { FIT_POINTS, type FitReadings } from '../../core/closing/index.ts';
import { DEFAULT_SHOP } from '../../core/jobs/index.ts';
import { proposeReplan, replanFrom } from '../../core/run/index.ts';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { ANATOMIES } from '../../demo/shop.ts';
import { recordPdf } from './pdf.ts';

const folder = mkdtempSync(join(tmpdir(), 'nibrel-record-'));
const reading = readAnatomyText(ANATOMIES['velmora-quill-5']!);
if (!reading.ok) throw new Error('the demo device has faults');
const model = modelOf(reading.value);

async function textOf(
  r: Rehearsal,
  name: string,
  { customer = 'Linnet Voss', paper = 'A4' as 'A4' | 'Letter', first = false } = {},
): Promise<string> {
  const { state } = r;
  const job = {
    id: 'j',
    number: 1042,
    anatomy: 'velmora-quill-5',
    revision: 1,
    device: null,
    customer,
    complaint: 'Empty by noon.',
    outside: 'Clean.',
    crackedGlass: false,
    triage: [],
    customerId: null,
    earlier: null,
    worth: null,
    plan: state.context.plan,
    createdAt: '2026-01-05T09:00:00.000Z',
  };
  const pdf = await recordPdf({
    job,
    context: state.context,
    state,
    shop: { ...DEFAULT_SHOP, name: 'Lantern Quay Bench', paper, demo: true },
    photos: new Map(),
  });
  const path = join(folder, `${name}.pdf`);
  writeFileSync(path, pdf);
  const pages = first ? ['-f', '1', '-l', '1'] : [];
  return execFileSync('pdftotext', ['-layout', ...pages, path, '-'], { encoding: 'utf8' });
}

describe('B4 what is written', () => {
  it('Latin with its extensions, Greek and Cyrillic are written; what no font holds is said', async () => {
    const r = new Rehearsal('battery', model);
    r.until(2);
    const written = ['Łódź, Žďár, Győr', 'Αθήνα', 'Запорожье', '修理 ok'];
    for (const text of written) r.add({ type: 'note', step: null, text });
    const text = await textOf(r, 'scripts');
    for (const words of ['Łódź, Žďár, Győr', 'Αθήνα', 'Запорожье']) expect(text).toContain(words);
    expect(text).toMatch(/\?\? ok/);
    expect(text).toMatch(/no font of this document holds.*U\+4FEE, U\+7406/s);
  });
  it('a photograph whose file is gone is said to be missing', async () => {
    const r = new Rehearsal('battery', model);
    r.until(2).add({ type: 'photo', photo: 'a'.repeat(64), step: null, note: 'at intake' });
    expect(await textOf(r, 'missing')).toContain('this photograph is missing');
  });
});

describe('how it was closed, and its cells', () => {
  it('are told with their numbers, and never as a rating', async () => {
    const r = new Rehearsal('battery', model);
    r.until(3);
    const flat = Object.fromEntries(FIT_POINTS.map((at) => [at, { gap: 0.15, step: at === 'top' ? 0.3 : 0.02 }]));
    r.add(
      { type: 'cell-measured', cell: 'battery', of: 'old', measure: 'capacity', value: 2000, half: null, hours: null },
      { type: 'cell-seen', cell: 'battery', of: 'old', removal: 'tabs', marks: ['dented'] },
      { type: 'cell-boxed', cell: 'battery', of: 'old', box: 'Sand box 2', why: '' },
      { type: 'fit-measured', panel: 'display', readings: flat as FitReadings },
      {
        type: 'leak-tested',
        leak: 0.08,
        half: 0.01,
        drift: -12,
        outcome: 'pass',
        limit: 0.5,
        seconds: 30,
        simulated: true,
      },
    );
    const text = await textOf(r, 'care');
    for (const words of [
      '50 % of its 3980 mAh',
      'dented',
      'Sand box 2',
      'NOT flush',
      '0.080 ± 0.010 ml/min',
      'simulated',
      'No rating is certified',
    ])
      expect(text.replace(/\s+/g, ' ')).toContain(words);
  });
  it('are left out where nothing of them was recorded', async () => {
    const r = new Rehearsal('camera', model);
    r.until(3);
    expect(await textOf(r, 'no-care')).not.toMatch(/^\s*Cells$/m);
  });
});

describe('the record', () => {
  it('of a run with a new plan tells old and new as one', async () => {
    const r = new Rehearsal('battery', model);
    r.until(r.step('disconnect', 'battery-flex').n + 2);
    r.add({ type: 'deviation', item: 'camera-flex', kind: 'torn', note: 'Caught by the cover.' });
    r.add(replanFrom(r.state, proposeReplan(r.state), { budget: 0 }).event);
    r.until(r.steps.length + 1);
    r.add(
      { type: 'torque', step: r.step('fasten', 'e1').id, fastener: 'e1', peak: 7.1, verdict: 'good', accepted: true },
      { type: 'signed-off', name: 'Ysolde Marrin' },
    );
    const text = await textOf(r, 'replanned');
    for (const words of [
      'Linnet Voss',
      'Battery',
      'Rear camera module',
      'Caught by the cover.',
      'Torque',
      '7.1 N·cm, target 7',
      'signed Ysolde Marrin',
      'made-up data',
    ])
      expect(text).toContain(words);
    expect(text).toMatch(new RegExp(`Screws out\\s+${r.state.screwsOut.size}\\b`));
  });
  it('names what left the anatomy of this job by its id', async () => {
    const r = new Rehearsal('battery', model);
    r.until(r.step('unscrew', 'p1').n);
    r.add({ type: 'deviation', item: 'p2', kind: 'not-as-drawn', note: 'Not there in this variant.' });
    const anatomy = structuredClone(model.anatomy);
    anatomy.fasteners = anatomy.fasteners.filter((f) => f.id !== 'p2');
    r.add(replanFrom(r.state, { ...proposeReplan(r.state), anatomy }, { budget: 0 }).event);
    expect(await textOf(r, 'edited')).toMatch(/p2: not-as-drawn\s+Not there in this variant\./);
  });
  it('of a run that has not ended says what is open', async () => {
    const r = new Rehearsal('battery', model);
    r.until(r.step('lift', 'motor').n);
    const text = await textOf(r, 'open');
    expect(text).toMatch(/still open/);
    expect(text).toMatch(/not tested/);
    expect(text).toMatch(/not reached/);
  });
});

describe('what the customer takes home', () => {
  const names = [
    'Łukasz Żdanowicz-Świętochowski',
    'Αικατερίνη Παπαδοπούλου',
    'Александра Вознесенская',
    'Ґалаґан Їжакевич',
    'Ђорђе Љубичић',
    'Nguyễn Thị Hồng Phượng',
    'Þórunn Sæmundsdóttir',
    'Muḥammad ibn Mūsā al-Ḫwārizmī',
  ];
  it.each(names)('a name of two hundred characters is written whole: %s', async (name) => {
    const long = `${name} `.repeat(20).slice(0, 200).trim();
    const text = await textOf(new Rehearsal('battery', model).until(2), 'name', { customer: long, first: true });
    const flat = (t: string) => t.normalize('NFC').replace(/\s+/g, '');
    expect(flat(text)).toContain(flat(long));
  });

  it.each(['修理店の山田太郎', 'עמית כהן', 'خديجة بنت يوسف', 'देवनागरी नाम'])(
    'a name in a script that no font here holds is told as such, and the page is made: %s',
    async (name) => {
      const long = `${name} `.repeat(20).slice(0, 200).trim();
      const text = await textOf(new Rehearsal('battery', model).until(2), 'other', { customer: long });
      expect(text).toContain('Quill 5');
      expect(text).toMatch(/Signs that no font of this document holds/);
    },
  );

  it('one page says what was done, what works and what was agreed; the technical pages follow', async () => {
    const r = new Rehearsal('battery', model);
    const fails = {
      type: 'test',
      function: 'main-camera',
      outcome: 'fail',
      reason: 'dark',
      circumstance: 'intake',
    } as const;
    r.add(fails, { ...fails, function: 'picture', outcome: 'pass', reason: '' });
    r.until(r.steps.length - 1);
    const page = await textOf(r, 'page', { first: true });
    expect(page).toMatch(/You told us\s+Empty by noon/);
    expect(page).toMatch(/New\s+Battery/);
    expect(page).toMatch(/Works\s+Power, Picture/);
    expect(page).toMatch(/Rear camera\s+fails before, not tested since/);
    expect(page).toContain('licensed collection point');
    expect(page).not.toContain('Gates');
    expect(await textOf(r, 'all')).toContain('Gates');
  });

  it.each([
    ['A4', '595'],
    ['Letter', '612'],
  ] as const)('is printed on %s when that is asked for', async (paper, width) => {
    await textOf(new Rehearsal('battery', model).until(2), paper, { paper });
    const told = execFileSync('pdfinfo', [join(folder, `${paper}.pdf`)], { encoding: 'utf8' });
    expect(told).toMatch(new RegExp(`Page size:\\s+${width}`));
  });
});
