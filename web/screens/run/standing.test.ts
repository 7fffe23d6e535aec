import { describe, expect, it } from 'vitest';
import { Rehearsal } from '../../../demo/rehearsal.ts';
import { tinyBond } from '../../../demo/tiny.ts';
import { joinsCell, standingAt, whyNot, type Softened } from './standing.ts';

const at = (r: Rehearsal, verb: string, item?: string, soft: Softened | null = null, thermometers = true) =>
  standingAt(r.state, r.step(verb, item), r.now, soft, thermometers);
const why = (r: Rehearsal, verb: string, item?: string) => {
  const n = r.step(verb, item).n;
  const standing = r.steps.find((s) => s.id === r.state.cursor)?.n ?? r.steps.length;
  return whyNot(at(r, verb, item), { finished: r.state.cursor === null, n, standing });
};
/** At the heating of the seal, its timer begun. */
function heating(): { r: Rehearsal; startedAt: string } {
  const r = new Rehearsal();
  const heat = r.step('heat', 'seal');
  r.until(heat.n).add({ type: 'timer-started', step: heat.id, seconds: heat.waits });
  return { r, startedAt: r.state.timers.get(heat.id)!.startedAt };
}

describe('how a run stands at a step', () => {
  it('names the next item of a step that is dealt with one by one, and what is left of it', () => {
    const r = new Rehearsal();
    const step = r.step('unscrew', 'k1');
    r.until(step.n);
    expect(at(r, 'unscrew', 'k1')).toMatchObject({
      left: step.items,
      done: false,
      nextItem: step.items[0],
      wait: null,
    });
    r.add({ type: 'screw-out', step: step.id, fastener: step.items[0]!, well: null });
    expect(at(r, 'unscrew', 'k1')).toMatchObject({ left: step.items.slice(1), nextItem: step.items[1] });
    r.do(step);
    expect(at(r, 'unscrew', 'k1')).toMatchObject({ left: [], done: true, nextItem: null });
    expect(why(r, 'unscrew', 'k1')).toBe(`Step ${step.n} is done; the run stands at step ${step.n + 1}.`);
  });

  it('waits by the clock, and no longer once the thermometers called this heating soft', () => {
    const { r, startedAt } = heating();
    const { waits } = r.step('heat', 'seal');
    r.now += 10_000;
    expect(at(r, 'heat', 'seal')).toMatchObject({ wait: waits - 10, soft: false, cooling: false, watched: true });
    expect(why(r, 'heat', 'seal')).toBe('The wait of this step runs.');
    const soft = { startedAt, reason: 'all four at 66 °C' };
    expect(at(r, 'heat', 'seal', soft)).toMatchObject({ wait: 0, soft: true });
    // It says nothing of a heating begun anew.
    expect(at(r, 'heat', 'seal', { ...soft, startedAt: '2026-01-01T00:00:00.000Z' }).wait).toBe(waits - 10);
    expect(at(r, 'heat', 'seal', null, false).watched).toBe(false);
  });

  it('a device that was too hot cools first, whatever the thermometers said before', () => {
    const { r, startedAt } = heating();
    r.add({ type: 'deviation', item: null, kind: 'overheated', note: '', value: 71 });
    const standing = at(r, 'heat', 'seal', { startedAt, reason: 'soft' });
    expect(standing).toMatchObject({ cooling: true, soft: false, watched: true });
    expect(standing.wait).toBeGreaterThan(500);
    expect(why(r, 'heat', 'seal')).toMatch(/it cools first/);
    const cooling = [...r.state.timers.values()].find((t) => t.id.startsWith('cool:'))!;
    r.add({ type: 'timer-ended', timer: cooling.id, how: 'thermometer', reason: '38 °C' });
    // What was too hot is watched no more, and is never called soft.
    expect(at(r, 'heat', 'seal', { startedAt, reason: 'soft' })).toMatchObject({
      cooling: false,
      soft: false,
      watched: false,
    });
  });

  it('a cell is told from a panel: only the cut of a panel is drawn', () => {
    const { model } = new Rehearsal('battery', (a) => {
      a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame']), tinyBond('cell', 'glue', ['battery', 'frame'])];
    }).context;
    expect([joinsCell(model, 'seal'), joinsCell(model, 'cell'), joinsCell(model, 'none')]).toEqual([
      false,
      true,
      false,
    ]);
  });
});
