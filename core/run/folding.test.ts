import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { lastChange, type RunEvent } from './events.ts';
import { Folding, foldRun } from './fold.ts';
import { replanFrom } from './replan.ts';

/** A run with some of its steps taken back on the way. */
const run = (() => {
  const r = new Rehearsal('camera');
  for (const step of r.steps.slice(0, 12)) {
    r.do(step);
    const last = r.state.undoable;
    if (step.n % 4 === 0 && last) {
      r.add({ type: 'step-undone', step: last.step, item: last.item });
      r.do(step);
    }
    r.add({ type: 'note', step: null, text: `after ${step.n}` });
  }
  return r;
})();

describe('a fold that goes on event by event', () => {
  it('comes to what the fold of all comes to, wherever it begins, and leaves what it began with as it was', () => {
    expect(run.events.filter((e) => e.type === 'step-undone').length).toBeGreaterThan(1);
    let reached = 0;
    fc.assert(
      fc.property(fc.nat(run.events.length), (from) => {
        const before = run.events.slice(0, from);
        const known = foldRun(run.context, before);
        const told = JSON.stringify(known, readable);
        const folding = new Folding(run.context, before, known);
        for (const event of run.events.slice(from)) folding.add(event);
        expect(folding.state).toEqual(foldRun(run.context, run.events));
        expect(JSON.stringify(known, readable)).toBe(told);
        reached++;
      }),
      { numRuns: 30 },
    );
    expect(reached).toBe(30);
  });
});

/** Sets and maps as lists; what never changes is left out. */
const readable = (key: string, value: unknown): unknown => {
  if (key === 'context') return undefined;
  if (value instanceof Map) return [...value];
  return value instanceof Set ? [...value] : value;
};

describe('which event last changed the plan or the device', () => {
  it('is none at first, and no step or note', () => {
    expect(lastChange([])).toBe(0);
    expect(lastChange(run.events)).toBe(0);
  });
  it('is the newest change of either, whatever came after it', () => {
    const r = new Rehearsal('camera').until(3);
    r.add(replanFrom(r.state, { replace: ['camera', 'battery'], because: 'both' }, { budget: 0 }).event);
    const seq = r.events.length;
    expect(lastChange(r.events)).toBe(seq);
    r.add({ type: 'note', step: null, text: 'Nothing of the plan.' });
    expect(lastChange(r.events)).toBe(seq);
    const edited = {
      type: 'anatomy-edited',
      anatomy: r.state.context.model.anatomy,
      item: null,
      because: 'x',
    } as const;
    expect(lastChange([...r.events, { ...r.events[0]!, ...edited, seq: seq + 2 } as RunEvent])).toBe(seq + 2);
  });
});
