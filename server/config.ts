import { networkInterfaces, hostname } from 'node:os';
import { join, resolve } from 'node:path';

/** `self`: a certificate made at the first start; else the shop's own files. */
export type Tls = 'self' | { cert: string; key: string };

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
  tls: Tls | null;
  /** Host names beside its own that the server answers to. */
  names: string[];
}

/** Origin: the port is our own choice, free of well-known services. */
export const DEFAULT_PORT = 4310;
const LOOPBACK = new Set(['127.0.0.1', '::1', 'localhost']);

export function isLoopback(host: string): boolean {
  return LOOPBACK.has(host);
}

/** Everything that is sent can be read on the way: it leaves this machine, and not under TLS. */
export const isExposed = (config: Pick<Config, 'host' | 'tls'>): boolean =>
  !isLoopback(config.host) && config.tls === null;

/**
 * Which host names a request may bear. A page of another site whose name is made to lead here bears its own, and is
 * refused.
 */
export function hostsOf({ host, names }: Pick<Config, 'host' | 'names'>): (name: string) => boolean {
  const own = new Set([...names, host, ...(isLoopback(host) ? LOOPBACK : [])].map((n) => n.toLowerCase()));
  if (isLoopback(host)) return (name) => own.has(name);
  const machine = hostname().toLowerCase();
  for (const name of [...LOOPBACK, machine, `${machine}.local`]) own.add(name);
  for (const list of Object.values(networkInterfaces())) for (const { address } of list ?? []) own.add(address);
  return (name) => own.has(name);
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
    tls: tlsFrom(env.NIBREL_TLS, root),
    names: (env.NIBREL_NAMES ?? '').split(/[\s,]+/).filter((name) => name !== ''),
  };
}

function tlsFrom(text: string | undefined, root: string): Tls | null {
  if (!text || text === 'off') return null;
  if (text === 'self') return 'self';
  const [cert, key, ...rest] = text.split(',').map((path) => path.trim());
  if (!cert || !key || rest.length > 0) {
    throw new Error('NIBREL_TLS must be "self", or the certificate and its key: cert.pem,key.pem');
  }
  return { cert: resolve(root, cert), key: resolve(root, key) };
}
