import { join, resolve } from 'node:path';

export interface Config {
  host: string;
  port: number;
  /** Folder of the database and the photographs. */
  data: string;
  /** Asked of every browser when set; needed to listen on anything but loopback. */
  passcode: string | null;
  /** The built web application. */
  web: string;
  demo: boolean;
}

/** Origin: the port is our own choice, free of well-known services. */
export const DEFAULT_PORT = 4310;
const LOOPBACK = new Set(['127.0.0.1', '::1', 'localhost']);

export function isLoopback(host: string): boolean {
  return LOOPBACK.has(host);
}

/** @throws Error that says which variable to set when the configuration is not safe */
export function configFrom(env: NodeJS.ProcessEnv, root: string): Config {
  const host = env.NIBREL_HOST ?? '127.0.0.1';
  const passcode = env.NIBREL_PASSCODE || null;
  const port = Number(env.NIBREL_PORT ?? DEFAULT_PORT);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new Error(`NIBREL_PORT must be a port number, not "${env.NIBREL_PORT}"`);
  if (!isLoopback(host) && passcode === null)
    throw new Error(`to listen on ${host} set NIBREL_PASSCODE: other machines could reach the shop's data`);
  if (passcode !== null && passcode.length < 6) throw new Error('NIBREL_PASSCODE must have at least 6 characters');
  return {
    host,
    port,
    passcode,
    data: resolve(root, env.NIBREL_DATA ?? 'data'),
    web: join(root, 'dist/web'),
    demo: env.NIBREL_DEMO === '1',
  };
}
