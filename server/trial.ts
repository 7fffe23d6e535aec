import { randomUUID } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Hono } from 'hono';
import type { EventBody, SentEvent } from '../core/run/index.ts';
import type { Env } from './guard.ts';
import { createApp } from './app.ts';
import { machineReadings } from './clock.ts';
import type { Config } from './config.ts';
import type { Db } from './db/db.ts';
import { openDb } from './db/open.ts';
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
export function trialServer(name: string, rest: Partial<Config> = {}, readings = machineReadings()): Trial {
  const folder = mkdtempSync(join(tmpdir(), `nibrel-${name}-`));
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
