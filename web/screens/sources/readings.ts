import type { Reading } from '../../../core/heat/index.ts';

/** Readings as they are typed: seconds and °C in each line, parted by blank, comma, semicolon or tab. */
export function readingsOf(text: string): { readings: Reading[]; fault: string | null } {
  const readings: Reading[] = [];
  for (const [i, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    const whole = line.trim();
    // Between blanks, tabs or semicolons a comma is a decimal comma.
    const fields = /[\s;]/.test(whole)
      ? whole
          .split(/[\s;]+/)
          .map((f) => f.replace(/,$/, ''))
          .filter(Boolean)
      : whole.split(',');
    const [time, temperature] = fields.map((f) => Number(f.replace(',', '.')));
    if (fields.length !== 2 || !Number.isFinite(time) || !Number.isFinite(temperature))
      return { readings, fault: `line ${i + 1}: give seconds and °C, such as "30 41.5", not "${line.trim()}"` };
    readings.push({ time: time!, temperature: temperature! });
  }
  return { readings, fault: null };
}
