import { describe, expect, test } from 'vitest';
import { demoModel } from '../../demo/models.ts';
import {
  CHECK_IDS,
  likelihoodOf,
  likelyCauses,
  outcomesOf,
  SORTS,
  worthChecking,
  type Complaint,
} from './complaint.ts';

const model = demoModel('velmora-quill-5');
const complaint = (rest: Partial<Complaint>): Complaint => ({
  symptoms: [],
  failed: [],
  passed: [],
  checks: {},
  ...rest,
});

describe('what a complaint points at', () => {
  test('odds add up to one, whatever was said', () => {
    for (const symptoms of [[], ['dead'], ['no-charge', 'hot'], ['water']] as Complaint['symptoms'][]) {
      const sum = likelyCauses(model, complaint({ symptoms })).reduce((a, c) => a + c.odds, 0);
      expect(sum).toBeCloseTo(1, 12);
    }
  });

  test('empty too soon is the cell before all else (common practice), and leads to the part', () => {
    const [first] = likelyCauses(model, complaint({ symptoms: ['drains'] }));
    expect(first).toMatchObject({ sort: 'cell', replace: ['battery'] });
  });

  test('a camera that fails leads to the camera, and to the plug that carries it', () => {
    const causes = likelyCauses(model, complaint({ symptoms: ['fails'], failed: ['main-camera', 'focus'] }));
    expect(causes[0]).toMatchObject({ item: 'camera', replace: ['camera'] });
    expect(causes.filter((c) => c.sort === 'plug').map((c) => c.item)).toEqual(
      expect.arrayContaining(['camera-flex', 'focus-flex']),
    );
    expect(causes.map((c) => c.item)).not.toContain('dock');
  });

  test('another charger that helps settles it', () => {
    const before = complaint({ symptoms: ['no-charge'] });
    const [first] = likelyCauses(model, { ...before, checks: { 'other-charger': 'helps' } });
    expect(first!.sort).toBe('charger');
    expect(first!.odds).toBeGreaterThan(0.8);
  });

  test('an outcome that a check does not have is refused with those it has', () => {
    expect(() => likelihoodOf('restart', 'maybe', 'cell')).toThrow('it has helps, not');
  });

  test('the outcomes of every check are a distribution under every cause', () => {
    for (const check of CHECK_IDS)
      for (const sort of SORTS) {
        const sum = outcomesOf(check).reduce((total, o) => total + likelihoodOf(check, o, sort), 0);
        expect(sum, `${check} ${sort}`).toBeCloseTo(1, 12);
      }
  });
});

describe('the next check against full expansion', () => {
  test.each([
    [complaint({ symptoms: ['no-charge'] })],
    [complaint({ symptoms: ['dead'], checks: { restart: 'not' } })],
    [complaint({ symptoms: ['fails'], failed: ['picture', 'touch'] })],
  ])('its bits are those of the whole joint table', (asked) => {
    const causes = likelyCauses(model, asked);
    for (const value of worthChecking(model, asked)) {
      // Mutual information, cell by cell of the joint table of causes and outcomes.
      let bits = 0;
      for (const outcome of outcomesOf(value.check)) {
        const p = causes.reduce((sum, c) => sum + c.odds * likelihoodOf(value.check, outcome, c.sort), 0);
        expect(value.outcomes[outcome]).toBeCloseTo(p, 12);
        for (const c of causes) {
          const joint = c.odds * likelihoodOf(value.check, outcome, c.sort);
          if (joint > 0) bits += joint * Math.log2(joint / (c.odds * p));
        }
      }
      expect(value.bits).toBeCloseTo(bits, 10);
      expect(value.bits).toBeGreaterThanOrEqual(-1e-12);
    }
  });

  test('a device that does not charge is first tried with what takes two minutes, not with another cell', () => {
    const [first] = worthChecking(model, complaint({ symptoms: ['no-charge'] }));
    expect(['other-charger', 'clean-port']).toContain(first!.check);
  });

  test('a check that was made is not asked for again', () => {
    const left = worthChecking(model, complaint({ symptoms: ['dead'], checks: { restart: 'not' } }));
    expect(left.map((v) => v.check)).not.toContain('restart');
  });
});
