import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Hono } from 'hono';
import type { Env } from './guard.ts';
import { createApp } from './app.ts';
import type { Config } from './config.ts';
import type { Db } from './db/db.ts';
import { openDb } from './db/open.ts';
import { servicesOf, type Services } from './services.ts';

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
export function trialServer(name: string, rest: Partial<Config> = {}): Trial {
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
  const services = servicesOf(db, folder);
  const end = async () => {
    await services.close();
    close();
  };
  return { folder, config, db, close: end, services, app: createApp(services, config) };
}
