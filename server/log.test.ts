import { randomUUID } from 'node:crypto';
import { afterAll, describe, expect, it } from 'vitest';
import type { RunEvent, ServerMade } from '../core/run/index.ts';
import { EventLog } from './log.ts';
import { demoServer } from './trial.ts';

const { services, db, close } = demoServer('log');
afterAll(close);

describe('A9 what comes in together', () => {
  it('is stored and told of, whatever becomes of one of them in the midst', async () => {
    const { id } = services.jobs.summaries().find((j) => j.state === 'ready')!;
    const { job, context } = services.jobs.stateOf(id);
    const log = new EventLog(db, () => ({ job, context, late: null }), Date.now);
    const told: RunEvent[] = [];
    log.onAdded = (_, added) => told.push(...added);
    const seq = services.jobs.eventsOf(id).length;
    const now = Date.now();
    const note = (place: number) => {
      const at = new Date(now).toISOString();
      const event = { id: randomUUID(), seq: place, at, type: 'note', step: null, text: 'x' } as const;
      return log.append(id, [event], 'Tobin Hask', { received: now, now });
    };
    // A plan that is none: it is taken in, and folding it fails.
    const broken = { type: 'planned', plan: null, because: 'x' } as unknown as ServerMade;
    const [first, failed, second] = await Promise.allSettled([
      note(seq + 1),
      log.make(id, [broken], 'Tobin Hask', seq + 1),
      note(seq + 2),
    ]);
    expect(failed.status).toBe('rejected');
    expect([first, second].map((s) => s.status === 'fulfilled' && s.value.events[0]?.seq)).toEqual([seq + 1, seq + 2]);
    expect(told.map((e) => e.seq)).toEqual([seq + 1, seq + 2]);
    const again = new EventLog(db, () => ({ job, context, late: null }), Date.now);
    expect(again.open(id).events.slice(seq)).toEqual(told);
  });
});
