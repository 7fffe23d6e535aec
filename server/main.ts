import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { serve } from '@hono/node-server';
import { createApp } from './app.ts';
import { servicesOf } from './services.ts';
import { configFrom } from './config.ts';
import { openDb } from './db/open.ts';
import { seedAnatomies, seedDemo } from './seed.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
const config = configFrom(process.env, root);
const { db, close } = openDb(join(config.data, 'nibrel.sqlite'));
const services = servicesOf(db, join(config.data, 'photos'));
if (services.anatomies.latest().length === 0) {
  if (config.demo) seedDemo(services);
  else seedAnatomies(services);
}
if (!existsSync(join(config.web, 'index.html')))
  console.error('the web application is not built; only the interface for programs answers');

const server = serve({ fetch: createApp(services, config).fetch, hostname: config.host, port: config.port }, (info) => {
  console.log(
    `Nibrel ${config.demo ? 'demonstration, made-up data, ' : ''}at http://${config.host.includes(':') ? `[${config.host}]` : config.host}:${info.port}`,
  );
});
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE' ? `port ${config.port} is taken; set NIBREL_PORT to another` : error.message,
  );
  process.exit(1);
});

let stopping = false;
const stop = () => {
  if (stopping) return;
  stopping = true;
  server.close();
  if ('closeAllConnections' in server) server.closeAllConnections();
  close();
  process.exit(0);
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
