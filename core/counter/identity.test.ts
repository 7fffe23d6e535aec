import { describe, expect, test } from 'vitest';
import { groupedImei, identityFaults, luhnDigit, readIdentity } from './identity.ts';

describe("Luhn's check digit", () => {
  test('of 49015420323751 is 8 (3GPP TS 23.003, Annex B)', () => {
    expect(luhnDigit('49015420323751')).toBe(8);
  });
  test('of 7992739871 is 3 (ISO/IEC 7812-1, the usual example, from memory)', () => {
    expect(luhnDigit('7992739871')).toBe(3);
  });
  test('sees every single wrong digit, and two neighbours that are swapped but 09 and 90', () => {
    const good = '490154203237518';
    for (let i = 0; i < 15; i++)
      for (let d = 0; d <= 9; d++) {
        const other = good.slice(0, i) + d + good.slice(i + 1);
        expect(readIdentity(other).ok, other).toBe(other === good);
      }
    for (let i = 0; i < 14; i++) {
      const [a, b] = [good[i]!, good[i + 1]!];
      if (a === b || [a, b].sort().join('') === '09') continue;
      const swapped = good.slice(0, i) + b + a + good.slice(i + 2);
      expect(readIdentity(swapped).ok, swapped).toBe(false);
    }
  });
});

describe('an identity as it is typed or scanned', () => {
  test.each([
    ['490154203237518', 'imei', '490154203237518'],
    [' 49 015420 323751 8 ', 'imei', '490154203237518'],
    ['49-015420-323751-8', 'imei', '490154203237518'],
    ['IMEI: 490154203237518', 'imei', '490154203237518'],
    ['IMEI1 490154203237518', 'imei', '490154203237518'],
    ['vq5-77a 01', 'serial', 'VQ5-77A01'],
    ['490154', 'serial', '490154'],
  ])('%s is taken', (text, kind, number) => {
    expect(readIdentity(text)).toEqual({ ok: true, kind, number });
  });

  test.each([
    ['', 'there is no number'],
    ['490154203237517', 'the last digit should be 8, not 7'],
    ['49015420323751', 'an IMEI has 15 digits, not 14'],
    ['4901542032375181', 'sixteen digits are an IMEI with its software version'],
    ['000000000000000', 'the same digit fifteen times'],
    ['<script>', 'letters, digits'],
    ['A'.repeat(41), 'at most 40 signs, not 41'],
    ['é1', 'at least three signs'],
  ])('%s is refused with what is wrong', (text, because) => {
    const reading = readIdentity(text);
    expect(reading.ok).toBe(false);
    expect(!reading.ok && reading.because).toContain(because);
  });

  test('is printed in groups that can be read aloud', () => {
    expect(groupedImei('490154203237518')).toBe('49 015420 323751 8');
  });
});

describe('the identity of a device', () => {
  test.each([
    [{ imei: [], serial: null, how: 'unreadable' as const }, []],
    [{ imei: ['490154203237518'], serial: 'VQ5', how: 'typed' as const }, []],
    [{ imei: [], serial: null, how: 'typed' as const }, ['imei']],
    [{ imei: ['490154203237518', '490154203237518'], serial: null, how: 'typed' as const }, ['imei[1]']],
    [{ imei: ['VQ5-001'], serial: '?', how: 'scanned' as const }, ['imei[0]', 'serial']],
    [{ imei: ['1', '2', '3'], serial: null, how: 'typed' as const }, ['imei', 'imei[0]', 'imei[1]', 'imei[2]']],
  ])('%j has faults at %j', (identity, paths) => {
    expect(identityFaults(identity).map((f) => f.path)).toEqual(paths);
  });
});
