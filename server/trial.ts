import { randomUUID } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, mkdtempSync, renameSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Hono } from 'hono';
import type { EventBody, SentEvent } from '../core/run/index.ts';
import type { Env } from './guard.ts';
import { createApp } from './app.ts';
import { machineReadings, type Readings } from './clock.ts';
import type { Config } from './config.ts';
import type { Db } from './db/db.ts';
import { openDb } from './db/open.ts';
import { seedDemo } from './seed.ts';
import { servicesOf, type Services } from './services.ts';

export type Answer<T> = { status: number; body: T; headers: Headers };

/** Asks a server under `/api` in JSON, as the interface does; what is no JSON comes back as bytes. */
export const asking =
  (app: Hono<Env>) =>
  async <T = Record<string, unknown>>(path: string, json?: unknown, init: RequestInit = {}): Promise<Answer<T>> => {
    const response = await app.request(`/api${path}`, {
      ...(json !== undefined ? { method: 'POST', body: JSON.stringify(json) } : {}),
      ...init,
      headers: {
        host: '127.0.0.1:4310',
        ...(json !== undefined ? { 'Content-Type': 'application/json' } : {}),
        ...(init.headers as Record<string, string> | undefined),
      },
    });
    const bytes = Buffer.from(await response.arrayBuffer());
    const isJson = response.headers.get('content-type')?.includes('json') ?? false;
    return {
      status: response.status,
      body: (isJson ? JSON.parse(bytes.toString()) : bytes) as T,
      headers: response.headers,
    };
  };

/** An event as a technician's screen sends it. */
export const sentEvent = (seq: number, body: EventBody): SentEvent => ({
  id: randomUUID(),
  seq,
  at: new Date().toISOString(),
  by: 'Tobin Hask',
  ...body,
});

/** A server with an empty database in a folder of its own, without a port: for trying it out. */
export interface Trial {
  folder: string;
  config: Config;
  db: Db;
  close: () => Promise<void>;
  services: Services;
  app: Hono<Env>;
}

/** @param rest what is other than usual */
export const trialServer = (name: string, rest: Partial<Config> = {}, readings = machineReadings()): Trial =>
  trialIn(newFolder(name), rest, readings);

/** One that begins with the made-up shop, its devices and its jobs. */
export function demoServer(name: string, rest: Partial<Config> = {}, readings = machineReadings()): Trial {
  const folder = newFolder(name);
  makeDemoShop(folder);
  return trialIn(folder, rest, readings);
}

/** The data of the made-up shop, in a folder that is there. */
export const makeDemoShop = (folder: string): void => cpSync(demoShop(), folder, { recursive: true });

/** The made-up shop of this run of the tests: whoever asks first makes it, the others wait and take a copy. */
function demoShop(): string {
  const run = process.env.NIBREL_TRIALS ?? newFolder('trials');
  const ready = join(run, 'demo');
  try {
    mkdirSync(join(run, 'making'));
  } catch {
    for (let waited = 0; !existsSync(ready); waited += 50) {
      if (waited > 240_000) throw new Error('nobody made the made-up shop');
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 50);
    }
    return ready;
  }
  const { folder, services, db, close } = trialServer('demo');
  seedDemo(services);
  // Every line of the list is read and kept, and everything is in the one file that is copied.
  while (services.jobs.summaries().some((job) => job.state === 'reading'));
  services.jobs.keepLines();
  db.$client.pragma('wal_checkpoint(TRUNCATE)');
  cpSync(folder, join(run, 'made'), { recursive: true });
  renameSync(join(run, 'made'), ready);
  close().catch(() => {});
  return ready;
}

const newFolder = (name: string): string => mkdtempSync(join(tmpdir(), `nibrel-${name}-`));

function trialIn(folder: string, rest: Partial<Config>, readings: Readings): Trial {
  const config: Config = {
    tls: null,
    names: [],
    host: '127.0.0.1',
    port: 0,
    data: folder,
    passcode: null,
    web: join(folder, 'web'),
    demo: true,
    ...rest,
  };
  const { db, close } = openDb(join(folder, 'nibrel.sqlite'));
  const services = servicesOf(db, folder, { readings });
  const end = async () => {
    await services.close();
    close();
  };
  return { folder, config, db, close: end, services, app: createApp(services, config) };
}
