import { describe, expect, it } from 'vitest';
import { Rehearsal } from '../../demo/rehearsal.ts';

describe('what a thermometer said while a step was heated', () => {
  const r = new Rehearsal();
  const heat = r.step('heat', 'seal');
  const reading = (sensor: string) => ({ type: 'reading', sensor, value: 61.5, unit: '°C' }) as const;
  it('is kept with its step and its place', () => {
    r.add({ ...reading('thermometer'), heated: { step: heat.id, at: 'seam' } });
    expect(r.state.readings.at(-1)).toMatchObject({ heated: { step: heat.id, at: 'seam' }, value: 61.5 });
  });
  it('is read off the name of its sensor where it was kept there, and nowhere else', () => {
    r.add(
      reading(`heat step ${heat.n}, back`),
      reading('heat step 999, back'),
      reading('heat step x'),
      reading('cell'),
    );
    expect(r.state.readings.slice(-4).map((x) => x.heated)).toEqual([{ step: heat.id, at: 'back' }, null, null, null]);
  });
});
