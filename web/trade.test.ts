import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, readRules, VERBS } from '../core/dive/index.ts';
import { DEVIATIONS } from '../core/run/index.ts';
import { depthColour } from './drawing/depth.ts';
import { tradeOf, TRADE_COLOUR } from './trade.ts';
import { spoken } from '../words/index.ts';

describe('words and signs', () => {
  it('every verb of a plan has a word, and a mark with a colour', () => {
    for (const verb of VERBS) {
      expect(spoken.verbs[verb], verb).toBeTruthy();
      expect(TRADE_COLOUR[tradeOf({ do: verb })], verb).toMatch(/^var\(--/);
    }
  });
  it('no two verbs share a word', () => {
    expect(new Set(Object.values(spoken.verbs)).size).toBe(VERBS.length);
  });
  it('every deviation has a word', () => {
    for (const kind of DEVIATIONS) expect(spoken.deviations[kind]).toBeTruthy();
  });
  it('every choice of a school is one the rules take, and the default is among them', () => {
    for (const { key, choices } of spoken.schools) {
      expect(choices.map(([value]) => value)).toContain(DEFAULT_RULES[key]);
      for (const [value] of choices) expect(readRules({ [key]: value }), `${key} ${value}`).toMatchObject({ ok: true });
    }
    expect(readRules({ heat: 'sun' })).toMatchObject({ ok: false, faults: [{ path: 'heat' }] });
  });
  it('every weight has its default in one place', () => {
    for (const { key } of spoken.weights) expect(DEFAULT_RULES[key]).toBeGreaterThan(0);
  });
});

describe('the depth scale', () => {
  const light = (t: number) =>
    depthColour(t)
      .match(/\d+/g)!
      .map(Number)
      .reduce((a, b) => a + b, 0);
  it('darkens from sand to petrol all the way down', () => {
    for (let i = 1; i <= 20; i++) expect(light(i / 20)).toBeLessThan(light((i - 1) / 20));
  });
  it('holds at its ends', () => {
    expect([depthColour(-1), depthColour(2)]).toEqual([depthColour(0), depthColour(1)]);
  });
});
