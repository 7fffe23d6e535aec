import { expect, it } from 'vitest';
import { readingsOf } from './readings.ts';

it.each([
  ['10 24.1\n20 27', 2],
  ['10;24,1\n20;27,5', 2],
  ['10, 24.1\n20, 27.5\n\n30\t29', 3],
  ['', 0],
])('reads %j', (text, count) => {
  const { readings, fault } = readingsOf(text);
  expect(fault).toBeNull();
  expect(readings).toHaveLength(count);
  if (count > 0) expect(readings[0]).toEqual({ time: 10, temperature: 24.1 });
});

it('says which line it cannot read', () =>
  expect(readingsOf('10 24\nhot').fault).toBe('line 2: give seconds and °C, such as "30 41.5", not "hot"'));
