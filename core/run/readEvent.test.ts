import { describe, expect, it } from 'vitest';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { readEvent } from './readEvent.ts';

const note = {
  id: '00000000-0000-4000-8000-000000000001',
  seq: 1,
  at: '2026-01-05T09:00:00Z',
  type: 'note',
  step: null,
  text: 'Scratched at the rim.',
};
const message = (document: unknown): string | null => {
  const reading = readEvent(document);
  return reading.ok ? null : reading.message;
};

describe('what a sender gives is read field by field', () => {
  it('every event of a whole run reads as it is', () => {
    const r = new Rehearsal('camera');
    for (const step of r.steps) {
      const circumstance = step.phase === 'prove' ? 'closed' : 'open';
      if (step.do === 'test') {
        for (const id of step.items) r.add({ type: 'test', function: id, outcome: 'pass', reason: '', circumstance });
      }
      r.do(step);
    }
    expect(new Set(r.events.map((e) => e.type)).size).toBeGreaterThan(5);
    for (const event of r.events) expect(readEvent(event)).toEqual({ ok: true, value: event });
  });
  it('what may be left out takes its default, and what the server fills in may be missing', () => {
    const reading = readEvent({
      ...note,
      type: 'deviation',
      step: undefined,
      text: undefined,
      item: 'c1',
      kind: 'stripped',
    });
    expect(reading.ok).toBe(false);
    const { step: _, text: __, ...stamp } = note;
    expect(readEvent({ ...stamp, type: 'deviation', item: 'c1', kind: 'stripped' })).toEqual({
      ok: true,
      value: { ...stamp, type: 'deviation', item: 'c1', kind: 'stripped', note: '', value: null },
    });
    expect(message({ ...note, job: 'j1', by: 'Ysolde', version: 0 })).toBeNull();
  });
  it.each([
    ['id', [undefined, 7, '', 'no-uuid', `${note.id}0`, ` ${note.id}`]],
    ['job', [7, '', 'x'.repeat(65), null]],
    ['seq', [undefined, 0, -1, 1.5, '1', Number.NaN, 2 ** 53, null]],
    ['at', [undefined, '', 'today', '2026-01-05', 1_767_603_600_000, '2026-01-05T09:00:00', null]],
    ['by', [7, '', 'x'.repeat(81), null]],
    ['version', [-1, 0.5, '0', null]],
    ['type', [undefined, 7, '', 'toString', '__proto__', 'constructor', 'planned', 'replanned', 'anatomy-edited']],
    ['text', [undefined, 7, '', 'x'.repeat(2001), null]],
    ['step', [undefined, 7, '', 'x'.repeat(161)]],
  ] as [string, unknown[]][])('a %s that does not fit is named', (field, odd) => {
    for (const value of odd)
      expect(message({ ...note, [field]: value }), String(value)).toMatch(new RegExp(`^${field}: `));
  });
  it('a field that no event has is not passed over', () => {
    expect(message({ ...note, skew: 3 })).toMatch(/^skew: /);
    expect(message(JSON.parse(JSON.stringify(note).replace('{', '{"__proto__":{"by":"Nobody"},')))).toMatch(
      /^__proto__: /,
    );
    expect(readEvent({ ...note, colour: 'red' })).toMatchObject({ ok: false, id: note.id });
  });
  it('what is no object at all is an event of no type', () => {
    for (const document of [null, undefined, 7, 'note', [], () => {}]) expect(message(document)).toMatch(/^type: /);
  });
});
