import { IDBFactory } from 'fake-indexeddb';
import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Anatomy } from '../../core/anatomy/index.ts';
import { applied, type Edit } from '../../core/draft/index.ts';
import { tinyDevice } from '../../demo/tiny.ts';

class Memory {
  private readonly values = new Map<string, string>();
  getItem = (key: string) => this.values.get(key) ?? null;
  setItem = (key: string, value: string) => void this.values.set(key, value);
  removeItem = (key: string) => void this.values.delete(key);
}
class Stream {
  static CLOSED = 2;
  static last: Stream | null = null;
  readyState = 1;
  private readonly heard = new Map<string, (e: { data: string; lastEventId: string }) => void>();
  constructor() {
    Stream.last = this;
  }
  addEventListener(type: string, listener: (e: { data: string; lastEventId: string }) => void): void {
    this.heard.set(type, listener);
  }
  close(): void {}
  say(heard: object): void {
    this.heard.get('told')?.({ data: JSON.stringify(heard), lastEventId: 'a-1' });
  }
}

const fresh = tinyDevice();
const screw = fresh.fasteners[0]!.id;
const answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });

/** The server's side of one drawing, as its own document tells it: every edit once, on the newest version only. */
class Drawer {
  document: Anatomy = fresh;
  readonly edits: Edit[] = [];
  /** The edits arrive, their answer does not. */
  silent = false;
  /** What an answer about what was missed waits for, once it is drawn up. */
  slow: Promise<void> = Promise.resolve();
  /** What edits wait for before they arrive. */
  hurdle: Promise<void> = Promise.resolve();
  asked = 0;
  take(edit: Edit): void {
    this.document = applied(this.document, edit);
    this.edits.push(edit);
  }
  private missed(since: number) {
    return this.edits.slice(since).map((edit, i) => ({ edit, version: since + i + 1 }));
  }
  /** What was said with the edits, request by request. */
  readonly said: { edits: Edit[]; session?: string; proofs: Record<string, string> }[] = [];
  fetch = async (url: string, init: RequestInit = {}): Promise<Response> => {
    if (!url.includes('/edits'))
      return answer(200, { document: this.document, version: this.edits.length, base: null });
    if (init.method === undefined || init.method === 'GET') {
      const body = { version: this.edits.length, missed: this.missed(Number(url.split('after=')[1])) };
      this.asked++;
      await this.slow;
      return answer(200, body);
    }
    const said = JSON.parse(init.body as string) as Drawer['said'][number];
    await this.hurdle;
    this.said.push(said);
    const { edits } = said;
    const seen = Number(new Headers(init.headers).get('if-match')!.replaceAll('"', ''));
    const known = edits.filter((e) => this.edits.some((t) => t.id === e.id)).map((e) => e.id);
    const own = this.edits.slice(seen).filter((e) => known.includes(e.id)).length;
    if (seen + own < this.edits.length)
      return answer(409, { error: 'x', draft: { version: this.edits.length, missed: this.missed(seen), known } });
    for (const e of edits) if (!known.includes(e.id)) this.take(e);
    if (this.silent) throw new TypeError('cut off');
    return answer(200, { version: this.edits.length });
  };
}

let drawer: Drawer;
let useDraft: typeof import('./draft.ts')['useDraft'];
const draft = () => useDraft.getState();
const at = () => draft().anatomy!.fasteners.find((f) => f.id === screw)!.at[0];
const set = (from: number, to: number, id = screw) => {
  const was = draft().anatomy!.fasteners.find((f) => f.id === id)!.at;
  return draft().edit('moved', [
    { do: 'set', group: 'fasteners', id, field: 'at', from: [from, was[1]], to: [to, was[1]] },
  ]);
};
const rows = async () => (await import('./store.ts')).withStore((db) => db.getAllFromIndex('edits', 'draft', 'd1'));
const quiet = () =>
  vi.waitFor(async () => expect([draft().waiting.length, draft().away, (await rows()).length]).toEqual([0, null, 0]), {
    timeout: 4000,
    interval: 5,
  });
async function load(): Promise<void> {
  vi.resetModules();
  ({ useDraft } = await import('./draft.ts'));
  await draft().open('d1');
}
/** The page goes as a page does: without another word to the server. */
async function reload(): Promise<void> {
  useDraft.setState({ waiting: [] });
  draft().close();
  await load();
}

beforeEach(async () => {
  drawer = new Drawer();
  vi.stubGlobal('indexedDB', new IDBFactory());
  vi.stubGlobal('localStorage', new Memory());
  vi.stubGlobal('BroadcastChannel', undefined);
  vi.stubGlobal('EventSource', Stream);
  vi.stubGlobal('window', {
    addEventListener: () => {},
    removeEventListener: () => {},
    location: { pathname: '/', search: '' },
  });
  vi.stubGlobal('fetch', (url: string, init?: RequestInit) => drawer.fetch(url, init));
  await load();
});
afterEach(() => {
  draft().close();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe('a drawing in the browser', () => {
  it('holds the page open for what nothing has kept, and no longer once the server has it', async () => {
    vi.spyOn(IDBObjectStore.prototype, 'add').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    let reached = () => {};
    drawer.hurdle = new Promise<void>((resolve) => {
      reached = resolve;
    });
    set(at(), at() + 1);
    await vi.waitFor(() => expect(draft().problem).toMatch('keeps nothing more'));
    expect(draft().unkept).toBe(1);
    reached();
    await vi.waitFor(() => expect(drawer.edits).toHaveLength(1));
    await vi.waitFor(() => expect(draft().unkept).toBe(0));
  });

  it('is no clash with itself when it arrived and its answer did not', async () => {
    const start = at();
    drawer.silent = true;
    for (const step of [1, 2, 3]) set(start + step - 1, start + step);
    await vi.waitFor(() => expect(drawer.edits).toHaveLength(3));
    drawer.silent = false;
    await reload();
    await quiet();
    expect([at(), draft().version, draft().clashes]).toEqual([start + 3, 3, []]);
    set(start + 3, start + 4);
    await quiet();
    await reload();
    for (let i = 0; i < 4; i++) draft().undo();
    await quiet();
    expect([draft().problem, at(), drawer.document]).toEqual([null, start, fresh]);
  });

  it('is of whoever drew it: what waits over a sign-in is sent apart, with what proves it', async () => {
    const { useShop } = await import('./shop.ts');
    const { proofOf } = await import('./author.ts');
    const signIn = (name: string, session: string, author: string) =>
      useShop.setState({ shop: { signedIn: { id: name, name, role: 'lead' }, session, author } as never });
    const start = at();
    drawer.silent = true;
    signIn('Ysolde Marrin', 's1', btoa('first'));
    set(start, start + 1);
    await vi.waitFor(() => expect(drawer.said).toHaveLength(1));
    const [edit] = drawer.said[0]!.edits;
    // It arrived, and its answer did not; the page is loaded anew, and another signs in.
    drawer.edits.length = 0;
    drawer.document = fresh;
    drawer.said.length = 0;
    await reload();
    const { useShop: then } = await import('./shop.ts');
    then.setState({
      shop: { signedIn: { id: 'T', name: 'T', role: 'lead' }, session: 's2', author: btoa('2nd') } as never,
    });
    set(start + 1, start + 2);
    drawer.silent = false;
    await quiet();
    const sent = drawer.said.filter(({ edits }) => edits.length > 0);
    expect(new Set(sent.map((one) => one.session))).toEqual(new Set(['s1', 's2']));
    for (const one of sent)
      for (const { id } of one.edits)
        expect([one.session, Object.keys(one.proofs)]).toEqual([id === edit!.id ? 's1' : 's2', [id]]);
    expect(sent[0]!.proofs[edit!.id]).toBe(proofOf(btoa('first'), 's1', 'd1', edit!));
  });

  it('hears of what another hand did between its own edits and their lost answer', async () => {
    const start = at();
    drawer.silent = true;
    set(start, start + 1);
    await vi.waitFor(() => expect(drawer.edits).toHaveLength(1));
    drawer.silent = false;
    drawer.take({
      id: crypto.randomUUID(),
      label: 'theirs',
      changes: [{ do: 'device', field: 'name', from: fresh.name, to: 'Other' }],
    });
    await reload();
    await quiet();
    expect([at(), draft().anatomy!.name, draft().clashes]).toEqual([start + 1, 'Other', []]);
  });

  it('lays nothing twice that it heard of while the same was on its way', async () => {
    const start = at();
    let go = () => {};
    drawer.slow = new Promise((resolve) => (go = resolve));
    drawer.take({
      id: crypto.randomUUID(),
      label: 'theirs',
      changes: [{ do: 'device', field: 'name', from: fresh.name, to: 'Other' }],
    });
    Stream.last!.say({ kind: 'draft', draft: 'd1', version: 1 });
    await vi.waitFor(() => expect(drawer.asked).toBe(1));
    set(start, start + 1);
    set(start + 1, start + 2);
    await vi.waitFor(() => expect(drawer.edits).toHaveLength(3));
    go();
    await quiet();
    expect([at(), draft().anatomy!.name, draft().version, draft().clashes]).toEqual([start + 2, 'Other', 3, []]);
  });
});
