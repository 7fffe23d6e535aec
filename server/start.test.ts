import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';
import { DEVICES } from '../demo/models.ts';
import type { JobFile } from '../core/jobs/index.ts';
import { createApp } from './app.ts';
import type { Config } from './config.ts';
import { openDb } from './db/open.ts';
import { servicesOf } from './services.ts';
import { start } from './start.ts';
import { demoServer, makeDemoShop } from './trial.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
const folder = () => mkdtempSync(join(tmpdir(), 'nibrel-start-'));
const configOf = (data: string, rest: Partial<Config> = {}): Config => ({
  host: '127.0.0.1',
  port: 0,
  data,
  passcode: null,
  web: join(root, 'dist/web'),
  demo: false,
  tls: null,
  names: [],
  ...rest,
});
/** What the program says when it does not start. */
function said(data: string, env: Record<string, string> = {}): { code: number | null; text: string } {
  const { status, stderr } = spawnSync(process.execPath, ['--import', 'tsx', 'server/main.ts'], {
    cwd: root,
    encoding: 'utf8',
    timeout: 30_000,
    env: { ...process.env, NIBREL_DATA: data, NIBREL_PORT: '0', ...env },
  });
  return { code: status, text: stderr };
}

describe('C2 what is wrong at the start is said in one sentence', () => {
  it('another Nibrel on the same folder, and the lock goes with the process', async () => {
    const data = folder();
    const first = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'inherit'],
      env: { ...process.env, NIBREL_DATA: data, NIBREL_PORT: '0' },
    });
    await new Promise((resolve) => first.stdout.once('data', resolve));
    expect(said(data)).toMatchObject({ code: 1, text: expect.stringMatching(/another Nibrel already works on/) });
    const gone = new Promise((resolve) => first.once('exit', resolve));
    first.kill('SIGKILL');
    await gone;
    const again = await start(configOf(data), () => {});
    await again.stop();
  }, 180_000);
  it('a port that is taken', async () => {
    const taken = createServer();
    await new Promise<void>((resolve) => taken.listen(0, '127.0.0.1', resolve));
    const { port } = taken.address() as { port: number };
    await expect(start(configOf(folder(), { port }), () => {})).rejects.toThrow(
      `port ${port} is taken; set NIBREL_PORT`,
    );
    taken.close();
  });
  it('damaged data, with the newest good backup named', async () => {
    const shop = demoServer('damaged');
    await shop.close();
    const data = shop.folder;
    const running = await start(configOf(data, { demo: true }), () => {});
    const beside = join(data, '..', 'backups', 'nibrel-2026-01-05-09-00.zip');
    await running.services.backups.make(beside);
    await running.stop();
    writeFileSync(join(data, '..', 'backups', 'nibrel-2026-01-06-09-00.zip'), 'a later backup, cut short');
    writeFileSync(join(data, 'nibrel.sqlite'), 'scrambled '.repeat(3000));
    await expect(start(configOf(data), () => {})).rejects.toThrow(/damaged.*nibrel -- restore .*09-00\.zip/);
  }, 180_000);
  it('a shop whose data are gone: no empty one comes up in its place', async () => {
    const data = folder();
    await (await start(configOf(data), () => {})).stop();
    for (const name of ['nibrel.sqlite', 'nibrel.sqlite-wal', 'nibrel.sqlite-shm'])
      rmSync(join(data, name), { force: true });
    await expect(start(configOf(data), () => {})).rejects.toThrow(/are gone; restore the newest backup/);
    expect(existsSync(join(data, 'nibrel.sqlite'))).toBe(false);
  });
  it('a certificate that cannot be read', async () => {
    const tls = { cert: '/nowhere/cert.pem', key: '/nowhere/key.pem' };
    await expect(start(configOf(folder(), { tls }), () => {})).rejects.toThrow(/certificate of NIBREL_TLS/);
  });
  it('a folder that cannot be written', () => {
    const parent = folder();
    const data = join(parent, 'file-in-the-way');
    writeFileSync(data, 'x');
    expect(said(data).text).toMatch(/cannot be written/);
    chmodSync(parent, 0o700);
  });
  it('a fresh shop asks to be set up, and takes it once', async () => {
    const running = await start(configOf(folder()), () => {});
    const get = async () =>
      (await fetch(`${running.url}/api/shop`)).json() as Promise<{ setUp: boolean; name: string }>;
    expect(await get()).toMatchObject({ setUp: false });
    const { name: _, ...shop } = {
      name: '',
      address: '1 Quay',
      hours: [null, null, null, null, null, null, null],
      paper: 'Letter',
      backupFolder: '',
      backupsKept: 3,
    };
    const post = (json: object) =>
      fetch(`${running.url}/api/shop/set-up`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(json),
      });
    const technicians = [{ name: 'Oda Finch', role: 'lead' }];
    expect((await post({ shop, technicians, examples: false })).status).toBe(422);
    const odd = { lacks: ['anvil'] };
    expect((await post({ shop: { ...shop, name: 'Finch' }, technicians, rules: odd, examples: true })).status).toBe(
      422,
    );
    const rules = { lacks: ['mat'], heat: 'gun', sources: { gun: { set: 95 } }, trays: 2 };
    expect((await post({ shop: { ...shop, name: 'Finch' }, technicians, rules, examples: true })).status).toBe(201);
    const [set] = (await (await fetch(`${running.url}/api/rules`)).json()) as { chosen: boolean; rules: object }[];
    expect(set).toMatchObject({ chosen: true, rules: { ...rules, trayRows: 4 } });
    expect((await post({ shop: { ...shop, name: 'Other' }, technicians, examples: true })).status).toBe(409);
    expect(await get()).toMatchObject({ setUp: true, name: 'Finch' });
    expect(((await (await fetch(`${running.url}/api/anatomies`)).json()) as unknown[]).length).toBe(DEVICES.length);
    await running.stop();
  });
});

describe('C2 a disk that fills up, a folder that is moved away', () => {
  const mounted: string[] = [];
  afterAll(() => {
    for (const at of mounted) execFileSync('umount', [at]);
  });
  const trial = (data: string) => {
    makeDemoShop(data);
    const { db, close } = openDb(join(data, 'nibrel.sqlite'));
    const services = servicesOf(db, data);
    const app = createApp(services, configOf(data, { demo: true }));
    const post = async (path: string, json: unknown) => {
      const response = await app.request(path, {
        method: 'POST',
        body: JSON.stringify(json),
        headers: { host: '127.0.0.1', 'Content-Type': 'application/json' },
      });
      return { status: response.status, body: (await response.json()) as { error?: string } };
    };
    const note = (seq: number) => ({
      id: randomUUID(),
      seq,
      at: new Date().toISOString(),
      type: 'note',
      step: null,
      text: 'x'.repeat(1500),
    });
    const end = async () => {
      await services.close();
      close();
    };
    return { services, app, post, note, end };
  };

  it('is said as 507, loses nothing that was acknowledged, and recovers by itself', async () => {
    const data = folder();
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=12m', 'tmpfs', data]);
    mounted.push(data);
    const { services, app, post, note, end } = trial(data);
    const job = services.jobs.summaries().find((j) => j.state === 'ready')!.id;
    let seq = 0;
    const acknowledged: string[] = [];
    const send = async () => {
      const event = note(seq + 1);
      const answer = await post(`/api/jobs/${job}/events`, { events: [event] });
      if (answer.status === 200) {
        seq++;
        acknowledged.push(event.id);
      }
      return answer;
    };
    expect((await send()).status).toBe(200);
    const filler = join(data, 'filler');
    const free = Number(execFileSync('df', ['--output=avail', '-B1', data], { encoding: 'utf8' }).split('\n')[1]);
    writeFileSync(filler, Buffer.alloc(Math.max(0, free - 60_000)));
    let full = await send();
    for (let i = 0; i < 400 && full.status === 200; i++) full = await send();
    expect(full).toMatchObject({ status: 507, body: { error: expect.stringContaining('disk of the server is full') } });
    const stored = async () =>
      (
        (await (await app.request(`/api/jobs/${job}`, { headers: { host: '127.0.0.1' } })).json()) as JobFile
      ).events.map((e) => e.id);
    expect(await stored()).toEqual(acknowledged);
    rmSync(filler);
    expect((await send()).status).toBe(200);
    expect(await stored()).toEqual(acknowledged);
    await end();
  }, 180_000);
  it('what is written is not taken away with a folder that is moved', async () => {
    const parent = folder();
    const data = join(parent, 'data');
    mkdirSync(data);
    const { services, post, note, end } = trial(data);
    const job = services.jobs.summaries().find((j) => j.state === 'ready')!.id;
    expect((await post(`/api/jobs/${job}/events`, { events: [note(1)] })).status).toBe(200);
    renameSync(data, join(parent, 'elsewhere'));
    await new Promise((resolve) => setTimeout(resolve, 1100));
    const away = await post(`/api/jobs/${job}/events`, { events: [note(2)] });
    expect(away).toMatchObject({ status: 503, body: { error: expect.stringContaining('moved away') } });
    renameSync(join(parent, 'elsewhere'), data);
    expect((await post(`/api/jobs/${job}/events`, { events: [note(2)] })).status).toBe(200);
    expect(existsSync(join(data, 'nibrel.sqlite'))).toBe(true);
    await end();
  });
});
