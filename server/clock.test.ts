import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { SteadyClock, type Sighting } from './clock.ts';
import { trialServer } from './trial.ts';

const HOUR = 3600_000;
const DAY = 24 * HOUR;

/** A machine whose clock somebody sets; time goes by as it is told. */
function machine(wall = Date.parse('2026-11-30T10:00:00Z')) {
  const state = { wall, boot: 5 * HOUR, start: randomUUID() as string };
  return {
    readings: { wall: () => state.wall, boot: () => state.boot, start: state.start },
    passes: (ms: number) => {
      state.wall += ms;
      state.boot += ms;
    },
    sets: (ms: number) => {
      state.wall += ms;
    },
    again: () => ({ wall: () => state.wall, boot: () => state.boot, start: state.start }),
    restarted: (ms: number) => {
      state.wall += ms;
      state.boot = 1000;
      state.start = randomUUID();
      return { wall: () => state.wall, boot: () => state.boot, start: state.start };
    },
    get wall() {
      return state.wall;
    },
  };
}

describe('C5 a clock that is set', () => {
  it.each([3 * HOUR, -3 * HOUR, 400 * DAY, -30 * DAY])(
    'by %d ms moves no time while work goes on, and is said',
    (by) => {
      const m = machine();
      const clock = new SteadyClock(m.readings, null, null, false);
      const began = clock.now();
      m.passes(60_000);
      expect(clock.now() - began).toBe(60_000);
      m.sets(by);
      m.passes(1000);
      expect(clock.now() - began).toBe(61_000);
      expect(clock.setBy).toBeCloseTo(by / 1000);
      m.sets(-by);
      expect([clock.now() - began, clock.setBy]).toEqual([61_000, 0]);
    },
  );
  it('is followed once a lead has said that it is right', () => {
    const m = machine();
    const clock = new SteadyClock(m.readings, null, null, true);
    m.sets(5 * HOUR);
    expect(clock.setBy).toBe(5 * 3600);
    clock.confirm();
    expect([clock.now(), clock.setBy]).toEqual([m.wall, 0]);
  });
  it('that is slewed is followed', () => {
    const m = machine();
    const clock = new SteadyClock(m.readings, null, null, false);
    for (let i = 0; i < 1000; i++) {
      m.passes(1000);
      m.sets(5);
      clock.now();
    }
    expect([clock.now(), clock.setBy]).toEqual([m.wall, 0]);
  });
  it('goes on over a restart of the server while a dive is open, and is taken as it is where none is', () => {
    for (const busy of [true, false]) {
      const m = machine();
      const clock = new SteadyClock(m.readings, null, null, busy);
      const began = clock.now();
      const seen = clock.sighting();
      m.sets(2 * HOUR);
      m.passes(10 * 60_000);
      const next = new SteadyClock(m.again(), seen, null, busy);
      expect(next.now() - began).toBe(busy ? 10 * 60_000 : 2 * HOUR + 10 * 60_000);
      expect(next.setBy === 0).toBe(!busy);
    }
  });
  it('that lies behind what was recorded is taken as it is, and followed once it is put right', () => {
    const m = machine();
    const seen: Sighting = new SteadyClock(m.readings, null, null, false).sighting();
    const hour = m.restarted(-HOUR);
    const clock = new SteadyClock(hour, seen, null, false);
    // It holds up nothing but the jobs of which something lies ahead.
    expect(clock.now()).toBe(m.wall);
    expect(clock.doubt).toBeNull();
    m.passes(1000);
    m.sets(HOUR + 5000);
    expect([clock.now(), clock.setBy]).toEqual([m.wall, 0]);
    // A machine without a battery begins in 1970, and is put right a minute later.
    const dead = m.restarted(-56 * 365 * DAY);
    const woken = new SteadyClock(dead, clock.sighting(), null, true);
    expect(woken.doubt).not.toBeNull();
    m.sets(56 * 365 * DAY + 60_000);
    expect([woken.now(), woken.doubt, woken.setBy]).toEqual([m.wall, null, 0]);
  });
  it('that has leapt ahead is doubted until somebody has looked, or it is put back', () => {
    const m = machine();
    const seen = new SteadyClock(m.readings, null, null, false).sighting();
    const clock = new SteadyClock(m.restarted(400 * DAY), seen, null, false);
    expect(clock.doubt).toEqual({ from: seen.wall, to: m.wall });
    const kept = clock.sighting();
    expect(new SteadyClock(m.restarted(5000), kept, null, false).doubt).not.toBeNull();
    expect(new SteadyClock(m.restarted(-400 * DAY + DAY), kept, null, false).doubt).toBeNull();
    clock.confirm();
    expect(new SteadyClock(m.restarted(400 * DAY + DAY), clock.sighting(), null, false).doubt).toBeNull();
    // A shop that was closed for a month is not asked.
    expect(new SteadyClock(m.restarted(30 * DAY), clock.sighting(), null, false).doubt).toBeNull();
  });
  it('without anything known of before, what was recorded last counts', () => {
    const m = machine();
    const newest = m.wall - 500 * DAY;
    expect(new SteadyClock(m.readings, null, newest, false).doubt).toEqual({ from: newest, to: m.wall });
    expect(new SteadyClock(m.readings, null, null, false).doubt).toBeNull();
  });
});

describe('C5 while the clock is in doubt', () => {
  it('no name is erased by time; once a lead has looked it is', async () => {
    const m = machine(Date.now());
    const { services, app, close } = trialServer('clock', {}, m.readings);
    const { id, customerId } = services.jobs.create(
      {
        anatomy: null,
        revision: null,
        device: { name: 'unlisted', kind: 'phone', width: null, height: null, thickness: null },
        customer: 'Hedda Norling',
        complaint: '',
        outside: '',
        crackedGlass: false,
        triage: ['swollen'],
        plan: null,
      },
      { by: 'Tobin Hask', bodies: [] },
    );
    expect(customerId).not.toBeNull();
    const draft = '7a0b4a2c-1c55-4d0e-8f3f-0d5a3c1b2e11';
    services.counter.keepDraft(draft, { customer: 'Later' }, 'Tobin Hask');
    services.clock.doubt = { from: m.wall, to: m.wall + 800 * DAY };
    m.passes(40 * DAY);
    expect(services.counter.drafts().map((d) => d.id)).toEqual([draft]);
    expect(await services.erasure.catchUp(m.wall + 800 * DAY)).toBe(0);
    const host = { host: '127.0.0.1:4310' };
    const shop = await (await app.request('/api/shop', { headers: host })).json();
    expect((shop as { warnings: string[] }).warnings.join()).toMatch(/clock says .* until a lead says/);
    const said = await app.request('/api/shop/clock', { method: 'POST', headers: { ...host, 'content-length': '0' } });
    expect(said.status).toBe(200);
    expect(await services.erasure.catchUp(m.wall + 800 * DAY)).toBe(1);
    expect(services.jobs.get(id).customer).toBe('Erased customer');
    expect(services.counter.drafts()).toEqual([]);
    await close();
  });
});
