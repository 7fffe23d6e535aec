import { chmodSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { networkInterfaces, hostname } from 'node:os';
import { join } from 'node:path';
import { isIP } from 'node:net';
import { X509Certificate } from 'node:crypto';
import forge from 'node-forge';
import { Hono } from 'hono';
import { isLoopback, type Config } from './config.ts';
import type { Env } from './guard.ts';

export interface KeyPair {
  cert: string;
  key: string;
}

/** How long the shop's own root and the server's certificate last, days. Origin: tablets refuse a server's beyond 825. */
const LASTS = { root: 3650, server: 800 } as const;
/** A server certificate is made anew when it has fewer days left than this. */
const RENEWED = 60;

const folderOf = (data: string) => join(data, 'private');
const rootPath = (data: string) => join(folderOf(data), 'root.pem');

/** The names and addresses under which this machine is reached. */
function namesOf({ names, host }: Pick<Config, 'names' | 'host'>): string[] {
  const own = ['localhost', '127.0.0.1', '::1', hostname(), `${hostname()}.local`, ...names];
  if (!isLoopback(host)) {
    for (const list of Object.values(networkInterfaces())) for (const { address } of list ?? []) own.push(address);
  }
  return [...new Set(own.map((name) => name.replace(/%.*$/, '')))];
}

/**
 * Key and certificate of the server: the shop's own files, or a certificate signed by a root of the shop that is
 * made at the first start and can be trusted once on every tablet.
 * @throws Error in words when the shop's own files cannot be used
 */
export function keyPairOf(config: Config): KeyPair | null {
  const { tls, data } = config;
  if (tls === null) return null;
  if (tls !== 'self') {
    try {
      const pair = { cert: readFileSync(tls.cert, 'utf8'), key: readFileSync(tls.key, 'utf8') };
      new X509Certificate(pair.cert);
      return pair;
    } catch (error) {
      throw new Error(`the certificate of NIBREL_TLS cannot be read: ${(error as Error).message}`);
    }
  }
  const folder = folderOf(data);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const root = kept(join(folder, 'root'), () => makeRoot());
  const names = namesOf(config);
  const path = join(folder, 'server');
  const known = existsSync(`${path}.pem`) ? new X509Certificate(readFileSync(`${path}.pem`, 'utf8')) : null;
  const left = known ? (Date.parse(known.validTo) - Date.now()) / 86_400_000 : 0;
  const covers = known !== null && names.every((name) => (isIP(name) ? known.checkIP(name) : known.checkHost(name)));
  return kept(path, () => makeServer(root, names), left < RENEWED || !covers);
}

function kept(path: string, make: () => KeyPair, anew = false): KeyPair {
  if (!anew && existsSync(`${path}.pem`) && existsSync(`${path}.key`)) {
    return { cert: readFileSync(`${path}.pem`, 'utf8'), key: readFileSync(`${path}.key`, 'utf8') };
  }
  const made = make();
  writeFileSync(`${path}.key`, made.key, { mode: 0o600 });
  chmodSync(`${path}.key`, 0o600);
  writeFileSync(`${path}.pem`, made.cert);
  return made;
}

type Certificate = ReturnType<typeof forge.pki.createCertificate>;

function blank(keys: forge.pki.rsa.KeyPair, days: number, name: string): Certificate {
  const cert = forge.pki.createCertificate();
  cert.publicKey = keys.publicKey;
  // A positive number of 16 bytes, as RFC 5280, 4.1.2.2 asks for.
  cert.serialNumber = `01${forge.util.bytesToHex(forge.random.getBytesSync(15))}`;
  cert.validity.notBefore = new Date(Date.now() - 86_400_000);
  cert.validity.notAfter = new Date(Date.now() + days * 86_400_000);
  cert.setSubject([{ name: 'commonName', value: name }]);
  return cert;
}

function makeRoot(): KeyPair {
  const keys = forge.pki.rsa.generateKeyPair(2048);
  const cert = blank(keys, LASTS.root, `Nibrel of this shop, ${hostname()}`);
  cert.setIssuer(cert.subject.attributes);
  cert.setExtensions([
    { name: 'basicConstraints', cA: true, critical: true },
    { name: 'keyUsage', keyCertSign: true, cRLSign: true, critical: true },
    { name: 'subjectKeyIdentifier' },
  ]);
  cert.sign(keys.privateKey, forge.md.sha256.create());
  return { cert: forge.pki.certificateToPem(cert), key: forge.pki.privateKeyToPem(keys.privateKey) };
}

function makeServer(root: KeyPair, names: readonly string[]): KeyPair {
  const keys = forge.pki.rsa.generateKeyPair(2048);
  const issuer = forge.pki.certificateFromPem(root.cert);
  const cert = blank(keys, LASTS.server, hostname());
  cert.setIssuer(issuer.subject.attributes);
  cert.setExtensions([
    { name: 'basicConstraints', cA: false },
    { name: 'keyUsage', digitalSignature: true, keyEncipherment: true },
    { name: 'extKeyUsage', serverAuth: true },
    {
      name: 'subjectAltName',
      altNames: names.map((name) => (isIP(name) ? { type: 7, ip: name } : { type: 2, value: name })),
    },
  ]);
  cert.sign(forge.pki.privateKeyFromPem(root.key), forge.md.sha256.create());
  return { cert: forge.pki.certificateToPem(cert), key: forge.pki.privateKeyToPem(keys.privateKey) };
}

/** The page that leads through trusting the shop's root on a tablet, and the root itself; nothing of the shop. */
export function trustRoutes(config: Config): Hono<Env> {
  const app = new Hono<Env>();
  app.get('/', (c) => {
    if (config.tls !== 'self') return c.text('this server needs no trusting here', 404);
    const { fingerprint256 } = new X509Certificate(readFileSync(rootPath(config.data), 'utf8'));
    return c.html(trustPage(fingerprint256));
  });
  app.get('/root.crt', (c) => {
    if (config.tls !== 'self') return c.text('there is no such file', 404);
    return c.body(readFileSync(rootPath(config.data)), 200, {
      'Content-Type': 'application/x-x509-ca-cert',
      'Content-Disposition': 'attachment; filename="nibrel-root.crt"',
    });
  });
  return app;
}

const trustPage = (fingerprint: string): string => `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<title>Trust this Nibrel</title>
<style>body{font:18px/1.5 system-ui,sans-serif;max-width:40rem;margin:2rem auto;padding:0 1rem;background:#f4f1ea;color:#1f2a2c}
a.key{display:inline-block;padding:1rem 1.5rem;background:#0f4c5c;color:#fff;border-radius:.5rem;font-weight:700;text-decoration:none}
code{word-break:break-all}li{margin:.6rem 0}</style>
<h1>Trust this Nibrel on a tablet</h1>
<p>The server of this shop signs for itself. Once its root is trusted on a tablet, nobody in the network can read
what is sent, and the bench starts without a network too.</p>
<p><a class="key" href="/trust/root.crt">Take the root certificate</a></p>
<ol>
<li>Open the file that was taken. On some tablets: Settings, Security, Install a certificate, CA certificate.</li>
<li>Compare the fingerprint with the one that the server wrote when it started:<br><code>${fingerprint}</code></li>
<li>Where the tablet asks for it, turn on full trust for this root (Settings, General, About, Certificate trust).</li>
<li>Close the browser and open <b>https://</b> with the name of this server.</li>
</ol>
<p>Only do this in the network of your own shop. Take the root away again when the tablet leaves it.</p>
</html>`;

/** SHA-256 fingerprint of the shop's root, to compare with. */
export const rootFingerprint = (data: string): string =>
  new X509Certificate(readFileSync(rootPath(data), 'utf8')).fingerprint256;
