import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Shop } from '../../core/jobs/index.ts';

const shop: Partial<Shop> = { name: 'Harrow Lane Bench', technicians: ['Ysolde'] };
let kept: Map<string, string>;
let answer: () => Response;

beforeEach(() => {
  kept = new Map();
  answer = () => new Response(JSON.stringify(shop));
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  });
  vi.stubGlobal('window', { location: { pathname: '/', search: '' } });
  vi.stubGlobal('fetch', async () => answer());
  vi.resetModules();
});
afterEach(() => vi.unstubAllGlobals());

/** An answer that begins well and breaks off, as when the page is left while it comes. */
const broken = () =>
  new Response(
    new ReadableStream({
      start(body) {
        body.enqueue(new TextEncoder().encode('{"name":"Harr'));
        body.error(new TypeError('network error'));
      },
    }),
  );
const shopStore = async () => (await import('./shop.ts')).useShop;

describe('an answer that nobody is signed in', () => {
  it('leads to the door once, however many there are, and not from the door itself', async () => {
    const assign = vi.fn();
    vi.stubGlobal('window', { location: { pathname: '/shop', search: '?part=2', assign } });
    vi.useFakeTimers({ toFake: ['performance'] });
    const { api } = await import('./api.ts');
    answer = () => new Response(JSON.stringify({ error: 'sign in' }), { status: 401 });
    await expect(api('/sign-in')).rejects.toMatchObject({ status: 401 });
    expect(assign).not.toHaveBeenCalled();
    for (const path of ['/shop', '/jobs', '/rules'])
      await expect(api(path)).rejects.toMatchObject({ status: 401, message: 'sign in' });
    expect(assign.mock.calls).toEqual([['/sign-in?to=%2Fshop%3Fpart%3D2']]);
    vi.advanceTimersByTime(6000);
    await expect(api('/jobs')).rejects.toMatchObject({ status: 401 });
    expect(assign).toHaveBeenCalledTimes(2);
    vi.useRealTimers();
  });
});

describe('a second press', () => {
  it('asks for nothing more while the same change is on its way, and for it again afterwards', async () => {
    const { api } = await import('./api.ts');
    let asked = 0;
    let answers = (_: Response) => {};
    vi.stubGlobal('fetch', () => {
      asked++;
      return new Promise<Response>((resolve) => {
        answers = resolve;
      });
    });
    const cell = { json: { label: 'Pouch', volts: 3.7 } };
    const presses = [api('/cells', cell), api('/cells', { json: { label: 'Pouch', volts: 3.7 } })];
    expect(asked).toBe(1);
    answers(new Response(JSON.stringify({ id: 'one' }), { status: 201 }));
    expect(await Promise.all(presses)).toEqual([{ id: 'one' }, { id: 'one' }]);
    const refused = [api('/cells', cell), api('/cells', cell)];
    expect(asked).toBe(2);
    answers(new Response(JSON.stringify({ error: 'no room' }), { status: 422 }));
    for (const press of refused) await expect(press).rejects.toMatchObject({ status: 422 });
  });
  it('is none where another change was asked for in between: the last word counts', async () => {
    const { api } = await import('./api.ts');
    const asked: string[] = [];
    const answers: (() => void)[] = [];
    vi.stubGlobal('fetch', (path: string) => {
      asked.push(path);
      return new Promise<Response>((resolve) => answers.push(() => resolve(new Response('{}'))));
    });
    const choose = (set: string) => api(`/rules/${set}/choose`, { method: 'POST' });
    const all = [choose('van'), choose('house'), choose('van'), choose('van')];
    expect(asked).toEqual(['/api/rules/van/choose', '/api/rules/house/choose', '/api/rules/van/choose']);
    // What is answered late does not hide what was asked for since.
    answers[0]!();
    await all[0];
    all.push(choose('van'));
    expect(asked).toHaveLength(3);
    for (const answer of answers) answer();
    await Promise.all(all);
    const again = choose('van');
    expect(asked).toHaveLength(4);
    answers[3]!();
    await again;
  });
  it('is another where it says something else, where it only reads, and where it can be broken off', async () => {
    const { api } = await import('./api.ts');
    let asked = 0;
    vi.stubGlobal('fetch', async () => {
      asked++;
      return answer();
    });
    const { signal } = new AbortController();
    await Promise.all([
      api('/cells', { json: { label: 'A' } }),
      api('/cells', { json: { label: 'B' } }),
      api('/cells', { json: { label: 'A' }, ifMatch: 3 }),
      api('/cells', { json: { label: 'A' }, signal }),
      api('/cells'),
      api('/cells'),
    ]);
    expect(asked).toBe(6);
  });
});

describe('an answer that breaks off', () => {
  it('is none: it counts as a server that does not answer', async () => {
    const { api } = await import('./api.ts');
    answer = broken;
    await expect(api('/shop')).rejects.toMatchObject({ status: 0 });
    answer = () => new Response('<html>', { status: 502 });
    await expect(api('/shop')).rejects.toMatchObject({ status: 502 });
  });
  it('leaves what is known of the shop as it was, on the screen and over a reload', async () => {
    const store = await shopStore();
    await store.getState().load();
    answer = broken;
    await store.getState().load();
    expect(store.getState().shop).toEqual(shop);
    expect(JSON.parse(kept.get('nibrel.shop')!)).toEqual(shop);
  });
});

describe('what was kept and cannot be shown', () => {
  it.each(['{"error":"the server answered 200"}', '[]', '7', 'not JSON'])('%s is no shop and no list', async (text) => {
    kept.set('nibrel.shop', text);
    expect((await shopStore()).getState().shop).toBeNull();
    kept.set('nibrel.jobs', text);
    answer = broken;
    const { useJobs } = await import('./jobs.ts');
    await useJobs.getState().load();
    expect(useJobs.getState().jobs ?? []).toEqual([]);
  });
});
