import { createServer as createHttpServer, type Server } from 'node:http';
import { createServer as createHttpsServer } from 'node:https';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { getRequestListener } from '@hono/node-server';
import { Hono } from 'hono';
import { createApp } from './app.ts';
import { isExposed, type Config } from './config.ts';
import { openDb } from './db/open.ts';
import { DataFault } from './db/fault.ts';
import { newestGoodBackup } from './keeping/backup.ts';
import { Journal } from './keeping/journal.ts';
import { finishRestore, JOURNAL } from './keeping/restore.ts';
import type { Env } from './guard.ts';
import { holdFolder } from './lock.ts';
import { seedDemo } from './seed.ts';
import { servicesOf, type Services } from './services.ts';
import { keyPairOf, rootFingerprint, trustRoutes } from './tls.ts';

export interface Running {
  url: string;
  services: Services;
  stop: () => Promise<void>;
}

/** How often those are looked for whose time is over, ms. */
const DAY_MS = 24 * 3600_000;
/** How often what was begun and stopped is gone on with, ms. Origin: own choice. */
const AGAIN_MS = 300_000;

/** Longest that the head of a request and the whole of it may take, ms. Origin: own choice; a large picture over a slow radio. */
const REQUEST_MS = { head: 15_000, whole: 120_000 } as const;

/**
 * Starts the server: folder, data, certificate, port, one after another.
 * @throws Error whose message is one sentence: what is wrong, and what to do
 */
export async function start(config: Config, say: (line: string) => void): Promise<Running> {
  const letGo = holdFolder(config.data);
  let journal: Journal | null = null;
  try {
    journal = new Journal(join(config.data, JOURNAL));
    await finishRestore(journal, config.data);
    const { db, close } = await openData(config.data, journal);
    const services = servicesOf(db, config.data, { journal });
    if (config.demo && services.anatomies.latest().length === 0) seedDemo(services);
    await services.photos.sweep();
    await services.backups.sweep();
    await services.journal.resume();
    await tidy(services);
    const again = (what: () => Promise<unknown>) => () =>
      void what().catch((error: Error) => console.error(`what was begun waits: ${error.message}`));
    const timers = [
      setInterval(
        again(() => services.journal.resume()),
        AGAIN_MS,
      ),
      setInterval(
        again(() => tidy(services)),
        DAY_MS,
      ),
    ];
    for (const timer of timers) timer.unref();
    if (!existsSync(join(config.web, 'index.html')))
      say('the web application is not built; only the interface for programs answers');

    const pair = keyPairOf(config);
    const listener = getRequestListener(createApp(services, config).fetch);
    const server = pair ? createHttpsServer(pair, listener) : createHttpServer(listener);
    server.headersTimeout = REQUEST_MS.head;
    server.requestTimeout = REQUEST_MS.whole;
    const port = await listen(server, config.port, config.host);
    const name = config.host.includes(':') ? `[${config.host}]` : config.host;
    const url = `${pair ? 'https' : 'http'}://${name}:${port}`;
    const helper = config.tls === 'self' ? await trustServer(config, port + 1, say) : null;
    if (isExposed(config)) {
      say('what is sent to this server can be read on the network, the passcode too; set NIBREL_TLS=self');
    }
    services.backups.start();
    let stopped = false;
    const stop = async () => {
      if (stopped) return;
      stopped = true;
      for (const timer of timers) clearInterval(timer);
      for (const one of [server, helper]) {
        one?.close();
        one?.closeAllConnections();
      }
      await services.close();
      close();
      letGo();
    };
    return { url, services, stop };
  } catch (error) {
    await journal?.close();
    letGo();
    throw error;
  }
}

/** What goes with its age: names that are due, photographs that nothing shows, drafts. Nothing of it while the clock is in doubt. */
async function tidy(services: Services): Promise<void> {
  await services.erasure.catchUp();
  if (services.clock.doubt !== null) return;
  services.drafts.prune(services.clock.now());
  await services.deletion.unnamed(services.clock.now()).catch((error: Error) => console.error(error.message));
}

/** @throws DataFault for a folder whose shop is gone: an empty one in its place would hide that */
async function openData(data: string, journal: Journal): Promise<ReturnType<typeof openDb>> {
  try {
    const path = join(data, 'nibrel.sqlite');
    if (journal.recall('shop') !== null && !existsSync(path))
      throw new DataFault(`the shop's data in ${path} are gone; restore the newest backup`);
    const opened = openDb(path);
    journal.remember('shop', true);
    return opened;
  } catch (error) {
    if (!(error instanceof DataFault)) throw error;
    const newest = await newestGoodBackup(data);
    throw newest ? new DataFault(`${error.message}: npm run nibrel -- restore ${newest}`) : error;
  }
}

/** @throws Error that says what to do about the port */
function listen(server: Server, port: number, host: string): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      const said: Record<string, string> = {
        EADDRINUSE: `port ${port} is taken; set NIBREL_PORT to another`,
        EACCES: `port ${port} may not be used by this user; set NIBREL_PORT to one above 1023`,
        EADDRNOTAVAIL: `${host} is no address of this machine; set NIBREL_HOST to one that is`,
      };
      reject(new Error(said[error.code ?? ''] ?? error.message));
    });
    server.listen(port, host, () => resolve((server.address() as { port: number }).port));
  });
}

/** Beside HTTPS, the one page that can be read before the root is trusted. */
async function trustServer(config: Config, port: number, say: (line: string) => void): Promise<Server | null> {
  const app = new Hono<Env>();
  app.route('/trust', trustRoutes(config));
  app.get('*', (c) => c.redirect('/trust'));
  const server = createHttpServer(getRequestListener(app.fetch));
  try {
    const at = await listen(server, port, config.host);
    say(`to trust this server on a tablet open http://${config.host}:${at}/trust there`);
    say(`fingerprint of its root: ${rootFingerprint(config.data)}`);
    return server;
  } catch {
    say(`the page for trusting this server is at /trust; its fingerprint: ${rootFingerprint(config.data)}`);
    return null;
  }
}
