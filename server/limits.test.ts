import { spawn } from 'node:child_process';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { computedMs, watch, type Late } from './limits.ts';

const running: { kill: () => void }[] = [];
afterEach(() => {
  for (const child of running.splice(0)) child.kill();
});

/** Another process that does this, and its place in /proc. */
function process(script: string): string {
  const child = spawn('node', ['-e', script]);
  running.push({ kill: () => child.kill('SIGKILL') });
  return `/proc/${child.pid}`;
}
const late = (limit: Parameters<typeof watch>[0], of: () => string | null) =>
  new Promise<Late>((resolve) => running.push({ kill: watch(limit, of, resolve) }));

describe('how long something may compute', () => {
  it('counts what it computed, and not how long it waited', async () => {
    const waits = process('setInterval(() => {}, 1000)');
    const works = process('for (;;);');
    const limit = { computingMs: 400, inAllMs: 600_000 };
    const end = vi.fn();
    running.push({ kill: watch({ computingMs: 3000, inAllMs: 600_000 }, () => waits, end) });
    expect(await late(limit, () => works)).toBe('computingMs');
    expect(computedMs(works)).toBeGreaterThanOrEqual(400);
    // The one that waits was looked at all the while.
    expect(end).not.toHaveBeenCalled();
    expect(computedMs(waits)!).toBeLessThan(3000);
  });
  it('takes nothing that has ended for late', async () => {
    let of = process('for (;;);');
    const end = vi.fn();
    running.push({ kill: watch({ computingMs: 20_000, inAllMs: 600_000 }, () => of, end) });
    await new Promise((resolve) => setTimeout(resolve, 300));
    of = '/proc/self/task/-1';
    vi.spyOn(performance, 'now').mockReturnValue(performance.now() + 100_000);
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(end).not.toHaveBeenCalled();
    vi.restoreAllMocks();
  });
  it('ends what has not begun after all its time', async () => {
    const began = performance.now();
    expect(await late({ computingMs: 1, inAllMs: 300 }, () => null)).toBe('inAllMs');
    expect(performance.now() - began).toBeGreaterThanOrEqual(299);
  });
  it('goes by the clock where the system does not tell, from when it began', async () => {
    const nowhere = '/proc/self/task/-1';
    expect(computedMs(nowhere)).toBeNull();
    let begun: string | null = null;
    const ended = late({ computingMs: 300, inAllMs: 600_000 }, () => begun);
    await new Promise((resolve) => setTimeout(resolve, 400));
    const at = performance.now();
    begun = nowhere;
    expect(await ended).toBe('computingMs');
    expect(performance.now() - at).toBeGreaterThanOrEqual(290);
  });
});
