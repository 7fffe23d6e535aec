import { describe, expect, test } from 'vitest';
import { planDive } from '../dive/index.ts';
import { demoModel } from '../../demo/models.ts';
import { isOverLimit, signatureFault, type AgreementTerms, type Stroke } from './agreement.ts';
import { donorBrings, donorChecks, returnBy, type Donor } from './donor.ts';
import { NOT_ASKED, worthOf } from './register.ts';
import { agreementText } from '../../words/index.ts';

const model = demoModel('velmora-quill-5');
const TODAY = '2026-11-26';
const donor = (rest: Partial<Donor> = {}): Donor => ({
  id: 'd',
  anatomy: 'velmora-quill-5',
  part: 'board',
  imei: null,
  serial: 'X-1',
  register: null,
  storage: 128,
  region: 'north',
  grade: 'clean',
  contacts: 'whole',
  tried: 'works',
  seller: 'Breakers by the mill',
  boughtOn: '2026-11-20',
  returnDays: 30,
  price: '60.00',
  charge: 40,
  reset: true,
  job: null,
  revision: 1,
  ...rest,
});
const said = (rest: Partial<Donor>, wanted = { storage: null as number | null, region: '' }) =>
  donorChecks(model, donor(rest), wanted, TODAY).map((c) => `${c.weight}: ${c.because}`);
const asked = (answers: Partial<typeof NOT_ASKED>, simulated = false) => ({
  register: 'R',
  simulated,
  at: `${TODAY}T00:00:00Z`,
  answers: {
    'reported-lost': 'clear',
    blacklist: 'clear',
    'network-lock': 'clear',
    'account-lock': 'clear',
    ...answers,
  } as const,
});

describe('what speaks against a donor part', () => {
  test('a board that was asked about, tried and reset has nothing against it', () => {
    expect(said({ register: asked({}) })).toEqual([]);
  });

  test.each([
    [{ register: asked({ 'account-lock': 'set' }) }, 'stop: It is bound to an account'],
    [{ register: asked({ 'reported-lost': 'set' }) }, 'stop: Its device is reported lost'],
    [{ register: asked({ blacklist: 'set' }) }, 'stop: It is blacklisted'],
    [{ tried: 'fails' as const }, 'stop: It was tried and does not work'],
    [{ tried: 'not-tried' as const }, 'mind: Nobody has tried it'],
    [{ contacts: 'torn' as const }, 'stop: Its plugs or flexes are torn'],
    [{ contacts: 'bent' as const }, 'mind: Contacts are bent'],
    [{ grade: 'cracked' as const }, 'stop: It is cracked'],
    [{ anatomy: 'tannbrook-field-3' }, 'stop: It is of another device'],
    [{ part: 'battery' }, 'stop: A cell out of another device is not fitted again'],
    [{ reset: false, charge: 6 }, 'mind: It has to be reset, which wants about 10 % of charge; it has 6 %'],
    [{ boughtOn: '2026-10-29' }, 'mind: It can be returned for 2 more days, until 2026-11-28'],
    [{ boughtOn: '2026-10-01' }, 'mind: It could be returned until 2026-10-31; that is over'],
  ] satisfies [Partial<Donor>, string][])('%j', (rest, words) => {
    expect(
      said(rest).some((line) => line.startsWith(words)),
      said(rest).join('\n'),
    ).toBe(true);
  });

  test('a stand-in of a register clears nothing: what it calls clear is not asked', () => {
    expect(worthOf(asked({}, true))).toEqual(NOT_ASKED);
    expect(said({ register: asked({}, true) })).toHaveLength(4);
    expect(worthOf(asked({ blacklist: 'set' }, true)).blacklist).toBe('set');
  });

  test('less storage and another region are said', () => {
    const lines = said({ register: asked({}) }, { storage: 256, region: 'south' });
    expect(lines).toEqual([
      expect.stringContaining('128 GB, less than the 256 GB'),
      expect.stringContaining('of region north'),
    ]);
  });

  test('the last day counts from the day it was bought, over the end of a year', () => {
    expect(returnBy({ boughtOn: '2026-12-15', returnDays: 30 })).toBe('2027-01-14');
  });

  test('a display brings its losses and what moves over to it, a board the data and a reset', () => {
    const display = planDive(model, { replace: ['display'], spares: ['display-bare'] }, undefined, {
      budget: 0,
      heat: 'usual',
    });
    const brings = donorBrings(model, display, 'display');
    expect(brings.lost).toContain('colour');
    expect(brings.moves).toContain('sensors');
    expect(brings.resets).toEqual([]);
    const board = planDive(model, { replace: ['board'] }, undefined, { budget: 0, heat: 'usual' });
    expect(donorBrings(model, board, 'board')).toMatchObject({
      lost: expect.arrayContaining(['data']),
      resets: [expect.any(String)],
    });
  });
});

describe('what a customer signs', () => {
  const plan = planDive(model, { replace: ['battery'] }, undefined, { budget: 0, heat: 'usual' });
  const terms: AgreementTerms = {
    losses: ['battery-report', 'moisture-rating'],
    limit: '90.00',
    currency: 'EUR',
    data: 'saved',
    unfinished: 'keep-and-call',
    language: 'en',
  };

  test('names the parts, every loss, the limit, data, moisture, and that local law decides', () => {
    const text = agreementText(model, plan, terms, 'Lantern Quay Bench').join('\n');
    for (const words of [
      'Battery',
      'Lost: Battery report',
      'Lost: Moisture rating',
      'at most €90.00',
      'IP67',
      'keeps it open',
      'Local law',
    ])
      expect(text).toContain(words);
  });

  test('a limit is passed by a cent, and nothing is over no limit', () => {
    expect(isOverLimit('90.01', '90.00')).toBe(true);
    expect(isOverLimit('90.00', '90.00')).toBe(false);
    expect(isOverLimit('9999', null)).toBe(false);
    expect(isOverLimit(null, '1.00')).toBe(false);
  });

  const stroke = (...xs: number[]): Stroke => ({ points: xs.map((x) => ({ x, y: 0, time: x })) });
  test.each([
    [[], 'nobody has signed yet'],
    [[stroke(5)], 'nobody has signed yet'],
    [[stroke(5, 20)], 'too little'],
    [[stroke(0, 40), stroke(10, 60)], null],
  ] satisfies [Stroke[], string | null][])('strokes %j', (strokes, fault) => {
    if (fault === null) expect(signatureFault(strokes)).toBeNull();
    else expect(signatureFault(strokes)).toContain(fault);
  });
});
