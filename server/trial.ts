import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Hono } from 'hono';
import { createApp } from './app.ts';
import type { Config } from './config.ts';
import { type Db, openDb } from './db/open.ts';
import { servicesOf, type Services } from './services.ts';

/** A server with an empty database in a folder of its own, without a port: for trying it out. */
export interface Trial {
  folder: string;
  config: Config;
  db: Db;
  close: () => void;
  services: Services;
  app: Hono;
}

export function trialServer(name: string): Trial {
  const folder = mkdtempSync(join(tmpdir(), `nibrel-${name}-`));
  const config: Config = {
    host: '127.0.0.1',
    port: 0,
    data: folder,
    passcode: null,
    web: join(folder, 'web'),
    demo: true,
  };
  const { db, close } = openDb(join(folder, 'nibrel.sqlite'));
  const services = servicesOf(db, join(folder, 'photos'));
  return { folder, config, db, close, services, app: createApp(services, config) };
}
