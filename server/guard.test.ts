import { createHmac } from 'node:crypto';
import { statSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import type { JobFile, Shop, Technician } from '../core/jobs/index.ts';
import { createApp } from './app.ts';
import { TRIES } from './tries.ts';
import { LONGEST_SESSION_MS, SESSION_MS, Sessions } from './sessions.ts';
import { demoServer, trialServer } from './trial.ts';

const { folder, services, config, app, close } = demoServer('guard');
afterAll(close);

const HOST = '127.0.0.1:4310';
/** One browser: it keeps its cookies, and sends what a browser sends. */
class Browser {
  private readonly jar = new Map<string, string>();
  constructor(private readonly to = app) {}
  async ask<T = Record<string, unknown>>(path: string, json?: unknown, init: RequestInit = {}) {
    const response = await this.to.request(path, {
      ...(json !== undefined ? { method: 'POST', body: JSON.stringify(json) } : {}),
      ...init,
      headers: {
        host: HOST,
        origin: `http://${HOST}`,
        ...(json !== undefined ? { 'Content-Type': 'application/json' } : {}),
        cookie: [...this.jar].map(([k, v]) => `${k}=${v}`).join('; '),
        ...(init.headers as Record<string, string> | undefined),
      },
    });
    for (const line of response.headers.getSetCookie()) {
      const [pair] = line.split(';');
      const at = pair!.indexOf('=');
      this.jar.set(pair!.slice(0, at), pair!.slice(at + 1));
    }
    const text = await response.text();
    return {
      status: response.status,
      body: (/^[[{]/.test(text) ? JSON.parse(text) : text) as T,
      headers: response.headers,
    };
  }
  put = (path: string, json: object, ifMatch?: number) =>
    this.ask(path, json, { method: 'PUT', headers: ifMatch === undefined ? {} : { 'If-Match': `"${ifMatch}"` } });
}

describe('B1 requests of other pages', () => {
  it.each([
    ['a form', { 'Content-Type': 'application/x-www-form-urlencoded' }],
    ['plain text', { 'Content-Type': 'text/plain' }],
    ['a form with files', { 'Content-Type': 'multipart/form-data; boundary=x' }],
    ['JSON from another origin', { 'Content-Type': 'application/json', origin: 'http://elsewhere.example' }],
    ['JSON from no origin', { 'Content-Type': 'application/json', origin: 'null' }],
    ['JSON that the browser calls cross-site', { 'Content-Type': 'application/json', 'sec-fetch-site': 'cross-site' }],
    ['JSON of another host name', { 'Content-Type': 'application/json', host: 'elsewhere.example' }],
  ])('%s changes nothing, on no route', async (_, headers) => {
    const routes = [
      '/api/jobs',
      '/api/jobs/x/events',
      '/api/jobs/x/plan',
      '/api/anatomies',
      '/api/photos',
      '/api/rules',
      '/api/rules/x/choose',
      '/api/shop/technicians',
      '/api/screws/stock',
      '/api/sign-in',
      '/api/sign-out',
    ];
    for (const path of routes) {
      const { status } = await new Browser().ask(path, undefined, { method: 'POST', body: '{"name":"x"}', headers });
      expect([403, 415], path).toContain(status);
    }
    for (const method of ['PUT', 'DELETE']) {
      const { status } = await new Browser().ask('/api/rules/x', undefined, { method, body: '{}', headers });
      expect([403, 415]).toContain(status);
    }
  });
  it('the host is looked at whatever the address is', async () => {
    const wide = createApp(services, { ...config, host: '0.0.0.0', passcode: 'quayside', names: ['bench.shop.test'] });
    const status = async (host: string) => (await wide.request('/api/sign-in', { headers: { host } })).status;
    expect([
      await status('elsewhere.example:4310'),
      await status('bench.shop.test'),
      await status('127.0.0.1'),
    ]).toEqual([403, 200, 200]);
  });
  it('a body is not read before it is known who asks', async () => {
    const guarded = createApp(services, { ...config, passcode: 'quayside' });
    let read = 0;
    const body = new ReadableStream({
      pull(controller) {
        read++;
        controller.enqueue(new Uint8Array(65_536));
        if (read > 2000) controller.close();
      },
    });
    const answer = await guarded.request('/api/photos', {
      method: 'POST',
      body,
      headers: { host: HOST, 'Content-Type': 'image/jpeg', 'Transfer-Encoding': 'chunked' },
      duplex: 'half',
    } as RequestInit);
    expect([answer.status, read < 20]).toEqual([401, true]);
  });
});

describe('B2 signing in', () => {
  const people = async (): Promise<Technician[]> => services.technicians.all();
  it('is not asked for until a lead sets a PIN, and a technician cannot be the first', async () => {
    const browser = new Browser();
    expect((await browser.ask<Shop>('/api/shop')).body).toMatchObject({
      pinsNeeded: false,
      lead: true,
      signedIn: null,
    });
    const [lead, technician] = await people();
    expect((await browser.put(`/api/shop/technicians/${technician!.id}`, { pin: '2468' })).status).toBe(422);
    expect((await browser.put(`/api/shop/technicians/${lead!.id}`, { pin: '12' })).status).toBe(422);
    expect((await browser.put(`/api/shop/technicians/${lead!.id}`, { pin: '135790' })).status).toBe(200);
    expect((await browser.ask('/api/jobs')).status).toBe(401);
  });
  it('by PIN; who made an event is what the session says, not what the event claims', async () => {
    const [lead] = await people();
    const browser = new Browser();
    expect((await browser.ask('/api/sign-in', { technician: lead!.id, pin: '000000' })).status).toBe(401);
    const { body } = await browser.ask<{ session: string }>('/api/sign-in', { technician: lead!.id, pin: '135790' });
    const { body: shop } = await browser.ask<Shop>('/api/shop');
    expect(shop).toMatchObject({
      lead: true,
      session: body.session,
      signedIn: { name: 'Ysolde Marrin', role: 'lead' },
    });
    const job = services.jobs.summaries().find((j) => j.state === 'ready')!.id;
    const event = {
      id: crypto.randomUUID(),
      seq: 1,
      at: new Date().toISOString(),
      by: 'Tobin Hask',
      type: 'note',
      step: null,
      text: 'x',
    };
    expect(
      (await browser.ask<{ events: { by: string }[] }>(`/api/jobs/${job}/events`, { events: [event] })).body.events[0]!
        .by,
    ).toBe('Ysolde Marrin');
  });
  it('roles: a technician works, and a lead keeps the shop', async () => {
    const [lead, technician] = await people();
    const chief = new Browser();
    await chief.ask('/api/sign-in', { technician: lead!.id, pin: '135790' });
    await chief.put(`/api/shop/technicians/${technician!.id}`, { pin: '2468' });
    const browser = new Browser();
    const { body: mine } = await browser.ask<{ session: string }>('/api/sign-in', {
      technician: technician!.id,
      pin: '2468',
    });
    const intake = { anatomy: 'tannbrook-field-3', customer: 'X', complaint: '', replace: ['main-camera'] };
    const { body: file, status } = await browser.ask<JobFile>('/api/jobs', intake);
    expect(status).toBe(201);
    const { revision: _, setUp: __, ...shop } = services.shop.get();
    for (const refused of [
      browser.put('/api/shop', shop, 1),
      browser.ask('/api/shop/technicians', { name: 'New' }),
      browser.ask('/api/anatomies', {}),
      browser.ask('/api/rules', { name: 'R', rules: {} }),
      browser.ask(`/api/jobs/${file.job.id}`, { reason: 'no longer wanted' }, { method: 'DELETE' }),
      browser.ask('/api/shop/backup.zip'),
      browser.ask('/api/shop/sessions'),
    ]) {
      expect((await refused).status).toBe(403);
    }
    const note = (seq: number) => ({
      id: crypto.randomUUID(),
      seq,
      at: new Date().toISOString(),
      type: 'note',
      step: null,
      text: 'x',
    });
    const sentBy = async (from: Browser, seq: number) =>
      (
        await from.ask<{ events: { by: string }[] }>(`/api/jobs/${file.job.id}/events`, {
          events: [note(seq)],
          session: mine.session,
        })
      ).body.events[0]!.by;
    // A session of another browser is nobody's to name.
    expect(await sentBy(chief, 1)).toBe('Ysolde Marrin');
    // What was made in an earlier session of this browser is of whoever was signed in then, as its key proves; nobody else
    // at this browser makes anything in their name.
    const { author } = (await browser.ask<Shop>('/api/shop')).body;
    await browser.ask('/api/sign-out', {});
    await browser.ask('/api/sign-in', { technician: lead!.id, pin: '135790' });
    const after = (await browser.ask<Shop>('/api/shop')).body;
    expect(after.author).not.toBe(author);
    const code = (key: string, event: object) => {
      const { seq: _, at: __, ...made } = event as ReturnType<typeof note>;
      const body = JSON.stringify(made, ['id', 'step', 'text', 'type']);
      const text = `${mine.session}\n${file.job.id}\n${body}`;
      return createHmac('sha256', Buffer.from(key, 'base64url')).update(text).digest('hex');
    };
    const late = note(2);
    const send = (event: object, proof?: string) =>
      browser.ask<{ events: { by: string }[]; error: string }>(`/api/jobs/${file.job.id}/events`, {
        events: [event],
        session: mine.session,
        ...(proof ? { proofs: { [late.id]: proof } } : {}),
      });
    for (const wrong of [
      undefined,
      code(after.author!, late),
      code(author!, { ...late, text: 'y' }),
      'ab'.repeat(32),
    ]) {
      const refused = await send(late, wrong);
      expect([refused.status, refused.body.error]).toEqual([403, expect.stringContaining('Tobin Hask')]);
    }
    expect((await send(late, code(author!, late))).body.events[0]!.by).toBe('Tobin Hask');
    expect((await send(note(3), code(author!, late))).status).toBe(403);
    // So is an edit of a drawing: of whoever drew it, or it is not taken in.
    const { body: draft } = await browser.ask<{ id: string; document: { name: string } }>('/api/workshop/drafts', {
      revise: 'tannbrook-field-3',
    });
    const edit = {
      changes: [{ do: 'device', field: 'name', from: draft.document.name, to: 'Field 3 S' }],
      id: crypto.randomUUID(),
      label: 'renamed',
    };
    const drawn = (proof?: string) =>
      browser.ask<{ version: number; error: string }>(
        `/api/workshop/drafts/${draft.id}/edits`,
        { edits: [edit], session: mine.session, ...(proof ? { proofs: { [edit.id]: proof } } : {}) },
        { headers: { 'if-match': '0' } },
      );
    // Written out by hand, its fields in order.
    const [change] = edit.changes;
    const said =
      `{"changes":[{"do":"device","field":"name","from":${JSON.stringify(change!.from)},"to":"Field 3 S"}],` +
      `"id":"${edit.id}","label":"renamed"}`;
    const codeOf = (key: string) =>
      createHmac('sha256', Buffer.from(key, 'base64url')).update(`${mine.session}\n${draft.id}\n${said}`).digest('hex');
    for (const wrong of [undefined, codeOf(after.author!)]) expect((await drawn(wrong)).status).toBe(403);
    expect((await drawn(codeOf(author!))).body.version).toBe(1);
    expect(services.drafts.since(draft.id, 0)!.map((e) => e.by)).toEqual(['Tobin Hask']);
    // A plan, a quote or a signature is of whoever is signed in now, whatever session it names.
    expect((await browser.ask(`/api/jobs/${file.job.id}/quote`, {})).status).toBe(200);
    expect(services.jobs.eventsOf(file.job.id).at(-1)!.by).toBe('Ysolde Marrin');
    expect(
      (await chief.ask(`/api/jobs/${file.job.id}`, { reason: 'taken in twice' }, { method: 'DELETE' })).status,
    ).toBe(200);
    expect((await chief.ask(`/api/jobs/${file.job.id}`)).status).toBe(404);
  });
  it('a change that comes while a PIN is hashed is not undone by it', async () => {
    const own = trialServer('pins');
    const { technicians } = own.services;
    technicians.add('Ysolde Marrin', 'lead');
    const { id } = technicians.add('Tobin Hask', 'lead');
    const first = technicians.all().find((t) => t.id !== id)!;
    await technicians.change(first.id, { pin: '135790' });
    await Promise.all([technicians.change(id, { pin: '2468' }), technicians.change(id, { role: 'technician' })]);
    expect(technicians.find(id)).toMatchObject({ role: 'technician', pin: true });
    await own.close();
  });
  it('the own PIN is not to be guessed at a screen that is signed in', async () => {
    const [lead] = await people();
    const browser = new Browser();
    await browser.ask('/api/sign-in', { technician: lead!.id, pin: '135790' });
    const guesses = await Promise.all(
      Array.from({ length: 40 }, (_, i) => browser.put('/api/shop/pin', { old: `77${i + 10}`, pin: '975310' })),
    );
    expect(guesses.filter((g) => g.status === 401)).toHaveLength(TRIES.free);
    expect(guesses.filter((g) => g.status === 429)).toHaveLength(40 - TRIES.free);
  });
  it('a session ends on the server: signed out, by a lead, with a new PIN, or unused for a day', async () => {
    const [lead, technician] = await people();
    const [chief, browser, other] = [new Browser(), new Browser(), new Browser()];
    await chief.ask('/api/sign-in', { technician: lead!.id, pin: '135790' });
    for (const b of [browser, other]) await b.ask('/api/sign-in', { technician: technician!.id, pin: '2468' });
    await browser.ask('/api/sign-out', {});
    expect([(await browser.ask('/api/jobs')).status, (await other.ask('/api/jobs')).status]).toEqual([401, 200]);
    const { body: running } =
      await chief.ask<{ id: string; technician: string | null; mine: boolean }[]>('/api/shop/sessions');
    const theirs = running.find((s) => s.technician === 'Tobin Hask')!;
    await chief.ask(`/api/shop/sessions/${theirs.id}`, undefined, { method: 'DELETE' });
    await other.ask('/api/sign-in', { technician: technician!.id, pin: '2468' });
    await chief.put(`/api/shop/technicians/${technician!.id}`, { pin: '8642' });
    expect((await other.ask('/api/jobs')).status).toBe(401);
    const sessions = new Sessions(':memory:');
    const { token, id } = sessions.begin({ technician: 't', passcode: 'quayside', device: null, agent: '' }, 0);
    expect(sessions.find(token, 'quayside', SESSION_MS - 1)).toMatchObject({ id, passcode: true });
    // Another passcode since: this one was never given.
    expect(sessions.find(token, 'lantern', SESSION_MS - 1)).toMatchObject({ id, passcode: false });
    expect(sessions.find(token, 'quayside', 3 * SESSION_MS)).toBeNull();
    // Used without a pause it ends all the same.
    const used = sessions.begin({ technician: 't', passcode: null, device: null, agent: '' }, 0);
    for (let now = 0; now < LONGEST_SESSION_MS; now += SESSION_MS / 2)
      expect(sessions.find(used.token, null, now)).not.toBeNull();
    expect(sessions.find(used.token, null, LONGEST_SESSION_MS + 1)).toBeNull();
    expect(sessions.technicianOf(id, id)).toBe('t');
  });
  it('sessions survive a restart, in a file that nobody else reads', async () => {
    const [lead] = await people();
    const browser = new Browser();
    await browser.ask('/api/sign-in', { technician: lead!.id, pin: '135790' });
    const path = join(folder, 'private', 'sessions.sqlite');
    expect(statSync(path).mode & 0o077).toBe(0);
    expect(statSync(join(folder, 'private')).mode & 0o077).toBe(0);
    const again = new Sessions(path);
    const app2 = createApp({ ...services, sessions: again }, config);
    const carried = new Browser(app2);
    (carried as unknown as { jar: Map<string, string> }).jar.set(
      'nibrel',
      (browser as unknown as { jar: Map<string, string> }).jar.get('nibrel')!,
    );
    expect((await carried.ask('/api/jobs')).status).toBe(200);
    again.close();
  });
  it('two hundred tries at once count as two hundred, and lock nobody else out', async () => {
    const [lead] = await people();
    const known = new Browser();
    await known.ask('/api/sign-in', { technician: lead!.id, pin: '135790' });
    const strangers = await Promise.all(
      Array.from({ length: 200 }, () => new Browser().ask('/api/sign-in', { technician: lead!.id, pin: '999999' })),
    );
    const looked = strangers.filter((s) => s.status === 401).length;
    expect(looked).toBeLessThanOrEqual(TRIES.free);
    expect(strangers.filter((s) => s.status === 429).length).toBe(200 - looked);
    // The browser that the lead is known to use still gets in.
    await known.ask('/api/sign-out', {});
    expect((await known.ask('/api/sign-in', { technician: lead!.id, pin: '135790' })).status).toBe(200);
  });
});

describe('B3 nobody overwrites what another changed', () => {
  it('house rules, stock and the shop ask for the version that is changed', async () => {
    const [lead] = services.technicians.all();
    const browser = new Browser();
    (browser as unknown as { jar: Map<string, string> }).jar.set(
      'nibrel',
      services.sessions.begin({ technician: lead!.id, passcode: null, device: null, agent: '' }).token,
    );
    const { body: sets } =
      await browser.ask<{ id: string; name: string; rules: object; revision: number }[]>('/api/rules');
    const { id, name, rules, revision } = sets[0]!;
    const put = (ifMatch?: number) => browser.put(`/api/rules/${id}`, { name, rules }, ifMatch);
    expect((await put()).status).toBe(428);
    expect((await put(revision)).status).toBe(200);
    expect((await put(revision)).status).toBe(412);
    const { body: stock } = await browser.ask<{ id: string; count: number; revision: number }[]>('/api/screws/stock');
    const item = stock[0]!;
    expect((await browser.put(`/api/screws/stock/${item.id}`, { count: 3 }, item.revision)).status).toBe(200);
    expect((await browser.put(`/api/screws/stock/${item.id}`, { count: 9 }, item.revision)).status).toBe(412);
  });
});
