import { describe, expect, it } from 'vitest';
import { clock, kgfcmToNcm, lbfinToNcm, minutes, mm, wattHours } from './index.ts';

describe('units', () => {
  it('converts torque as NIST SP 811, Appendix B.8 does', () => {
    expect(kgfcmToNcm(1)).toBeCloseTo(9.80665, 10);
    expect([kgfcmToNcm(0.9), kgfcmToNcm(1.1)].map((n) => Number(n.toFixed(2)))).toEqual([8.83, 10.79]);
    expect(lbfinToNcm(1)).toBeCloseTo(11.29848, 6);
  });
  it('gives battery energy as volts times ampere-hours (IATA DGR, from memory)', () => {
    expect(wattHours(3.85, 4200)).toBeCloseTo(16.17, 6);
  });
  it.each([
    [20, '20 s'],
    [60, '1 min'],
    [3599, '1 h 00'],
    [5400, '1 h 30'],
  ])('%d s is read as %s', (s, text) => expect(minutes(s)).toBe(text));
  it.each([
    [0, '0:00'],
    [59.2, '1:00'],
    [605, '10:05'],
    [-3, '0:00'],
  ])('%d s stands on the clock as %s', (s, text) => expect(clock(s)).toBe(text));
  it('leaves no needless digits', () => expect([mm(1.4), mm(2), mm(0.125)]).toEqual(['1.4 mm', '2 mm', '0.13 mm']));
});
