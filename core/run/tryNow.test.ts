import { describe, expect, it } from 'vitest';
import { gluedCell, looseBuzzer } from '../../demo/benchDevices.ts';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { tinyConnector } from '../../demo/tiny.ts';
import { tryNow } from './tryNow.ts';

const trialOf = (r: Rehearsal) => tryNow(r.context, r.state, r.now);

describe('try it now: there and back, and on at the same step', () => {
  it('on an isolated device the battery is mated last, and isolated again first', () => {
    const r = new Rehearsal('battery', gluedCell);
    r.until(r.step('solvent', 'cell-glue').n);
    const trial = trialOf(r);
    expect(trial.lacks).toEqual([]);
    expect(trial.moves.map((m) => m.do)).toEqual(['mate', 'on', 'look', 'off', 'isolate']);
    const at = r.state.cursor;
    const tried = { type: 'tried' as const, standing: at, mated: ['battery-flex'], worked: true, note: '' };
    expect(r.refusal({ ...tried, isolated: false })).toMatchObject({ rule: 'R2' });
    r.add({ ...tried, isolated: true });
    expect(r.state.trials).toMatchObject([{ standing: at, worked: true }]);
    expect([r.state.cursor, r.state.isolated, r.state.device.open.has('battery-flex')]).toEqual([at, true, true]);
  });
  it('a cell that is off, wet solvent and bare wires forbid it, each with what to do', () => {
    const r = new Rehearsal('battery', gluedCell);
    const soak = r.step('solvent', 'cell-glue');
    r.until(soak.n).add({ type: 'timer-started', step: soak.id, seconds: soak.waits });
    expect(trialOf(r).lacks).toEqual([{ item: null, said: { code: 'solvent-wet' } }]);
    r.until(r.step('renew', 'battery').n);
    expect(trialOf(r).lacks).toMatchObject([{ item: 'battery', said: { code: 'lay-in-place' } }]);
    expect(
      r.refusal({ type: 'tried', standing: null, mated: [], worked: true, isolated: true, note: '' }),
    ).toMatchObject({
      rule: 'R10',
    });
  });
  it('what conducts and lies loose is taken out first', () => {
    const r = new Rehearsal('camera', (a) => {
      Object.assign(a, structuredClone(looseBuzzer.anatomy));
      a.parts.find((p) => p.id === 'buzzer')!.conductive = true;
      a.connectors.push(tinyConnector('spare', 'camera', 'board', [22, 14]));
    });
    r.until(r.step('disconnect', 'battery-flex').n + 1);
    expect(trialOf(r).lacks).toMatchObject([{ item: 'buzzer', said: { code: 'conducts-loose' } }]);
  });
  it('before the dive has begun it is a test at intake', () => {
    const r = new Rehearsal('battery', gluedCell);
    expect(
      r.refusal({ type: 'tried', standing: null, mated: [], worked: true, isolated: true, note: '' }),
    ).toMatchObject({
      rule: 'run',
    });
  });
});
