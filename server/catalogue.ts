import { createHash } from 'node:crypto';
import { lookup as dnsLookup } from 'node:dns';
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { BlockList, isIP } from 'node:net';
import { join } from 'node:path';
import Joi from 'joi';
import { faultsOfJoi, parseJson, type Fault } from '../core/anatomy/index.ts';
import { BUNDLE_LIMITS, BundleFault, readBundle } from './bundles.ts';

/** A folder of bundles with its index: plain files that can be served from anywhere. */
export interface Catalogue {
  schema: 'nibrel.catalogue/1';
  bundles: CatalogueEntry[];
}

export interface CatalogueEntry {
  file: string;
  bytes: number;
  sha256: string;
  device: { id: string; name: string; maker: string; kind: string; revision: number };
  shop: { name: string; fingerprint: string };
  madeAt: string;
}

export const INDEX = 'catalogue.json';
const FILE = /^[A-Za-z0-9][A-Za-z0-9._-]{0,120}\.zip$/;

const schema = Joi.object({
  schema: Joi.valid('nibrel.catalogue/1').required(),
  bundles: Joi.array()
    .max(20_000)
    .items(
      Joi.object({
        file: Joi.string().pattern(FILE).required(),
        bytes: Joi.number().integer().min(1).max(BUNDLE_LIMITS.bytes).required(),
        sha256: Joi.string().hex().length(64).required(),
        device: Joi.object({
          id: Joi.string().max(64).required(),
          name: Joi.string().max(120).required(),
          maker: Joi.string().max(120).required(),
          kind: Joi.string().max(20).required(),
          revision: Joi.number().integer().min(1).required(),
        }).required(),
        shop: Joi.object({
          name: Joi.string().max(80).required(),
          fingerprint: Joi.string().max(40).required(),
        }).required(),
        madeAt: Joi.string().isoDate().required(),
      }),
    )
    .required(),
});

/**
 * Builds the index of a folder: every bundle in it is read and checked whole.
 * @returns the index, and what is wrong with files that are not in it
 */
export async function buildCatalogue(folder: string): Promise<{ catalogue: Catalogue; faults: Fault[] }> {
  const bundles: CatalogueEntry[] = [];
  const faults: Fault[] = [];
  for (const file of (await readdir(folder)).sort()) {
    if (!file.endsWith('.zip')) continue;
    if (!FILE.test(file)) {
      faults.push({ path: file, message: 'name it with letters, digits, dots, hyphens and underscores only' });
      continue;
    }
    const bytes = await readFile(join(folder, file));
    try {
      const { manifest, fingerprint } = await readBundle(bytes);
      bundles.push({
        file,
        bytes: bytes.length,
        sha256: createHash('sha256').update(bytes).digest('hex'),
        device: manifest.device,
        shop: { name: manifest.shop.name, fingerprint },
        madeAt: manifest.madeAt,
      });
    } catch (error) {
      if (!(error instanceof BundleFault)) throw error;
      faults.push({ path: file, message: error.message });
    }
  }
  const catalogue: Catalogue = { schema: 'nibrel.catalogue/1', bundles };
  await writeFile(join(folder, INDEX), `${JSON.stringify(catalogue, null, 2)}\n`);
  return { catalogue, faults };
}

/** Addresses of this machine and of private networks (RFC 1918, 4193, 6598, 3927 and what is set aside beside them). */
const PRIVATE = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 3],
] as const)
  PRIVATE.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  ['::', 127],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
  ['64:ff9b::', 96],
] as const)
  PRIVATE.addSubnet(net, bits, 'ipv6');

export function isPrivate(address: string): boolean {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address);
  if (mapped) return isPrivate(mapped[1]!);
  return PRIVATE.check(address, isIP(address) === 6 ? 'ipv6' : 'ipv4');
}

/** How long a catalogue elsewhere may take, ms. Origin: own choice. */
const ANSWERS_WITHIN_MS = 30_000;

/**
 * Fetches one file of a catalogue. The address that a name leads to is looked at when it is connected to, so that a name
 * cannot lead elsewhere between the look and the fetch; nothing is redirected.
 * @param own a lead has said that addresses of this network may be asked
 * @throws BundleFault in words
 */
export async function fetchFile(base: string, file: string, most: number, own: boolean): Promise<Buffer> {
  let url: URL;
  try {
    url = new URL(file, base.endsWith('/') ? base : `${base}/`);
  } catch {
    throw new BundleFault(`"${base}" is no address; give the folder of a catalogue, such as https://…/devices/`);
  }
  if (url.protocol !== 'https:' && url.protocol !== 'http:')
    throw new BundleFault(`"${url.protocol}" cannot be fetched; a catalogue has an address with https or http`);
  const host = url.hostname.replace(/^\[|\]$/g, '');
  const asks = () => new BundleFault(`${host} is in this network or on this machine; a lead may allow that`);
  if (isIP(host) !== 0 && isPrivate(host) && !own) throw asks();
  return new Promise((resolve, reject) => {
    const fail = (message: string) => reject(new BundleFault(message));
    const send = url.protocol === 'https:' ? httpsRequest : httpRequest;
    const request = send(url, {
      signal: AbortSignal.timeout(ANSWERS_WITHIN_MS),
      headers: { Accept: 'application/json, application/zip' },
      lookup: (name, options, done) =>
        dnsLookup(name, { ...options, all: true }, (error, found) => {
          const list = found as { address: string; family: number }[] | undefined;
          if (error || !list || list.length === 0) return done(error ?? new Error('no address'), '', 4);
          if (!own && list.some(({ address }) => isPrivate(address))) return done(asks(), '', 4);
          if (options.all) return (done as unknown as (e: null, l: typeof list) => void)(null, list);
          return done(null, list[0]!.address, list[0]!.family);
        }),
    });
    request.on('error', (error) => {
      if (error instanceof BundleFault) reject(error);
      else fail(`${url.host} does not answer: ${error.message}`);
    });
    request.on('response', (response) => {
      if (response.statusCode !== 200) {
        response.destroy();
        fail(`${url.href} answers ${response.statusCode}`);
        return;
      }
      const parts: Buffer[] = [];
      let bytes = 0;
      response.on('data', (part: Buffer) => {
        bytes += part.length;
        if (bytes > most) {
          response.destroy();
          fail(`${url.href} is larger than ${Math.round(most / 1e6)} MB`);
        } else parts.push(part);
      });
      response.on('end', () => resolve(Buffer.concat(parts)));
      response.on('error', (error) => fail(`${url.href} broke off: ${error.message}`));
    });
    request.end();
  });
}

/** @throws BundleFault */
export async function lookAt(base: string, own: boolean): Promise<Catalogue> {
  const bytes = await fetchFile(base, INDEX, 20_000_000, own);
  const parsed = parseJson(bytes.toString('utf8'));
  if (!parsed.ok) throw new BundleFault('the catalogue cannot be read', parsed.faults);
  const { error, value } = schema.validate(parsed.value, { abortEarly: true, convert: false });
  if (error) throw new BundleFault('the catalogue is not as it must be', faultsOfJoi(error));
  return value as Catalogue;
}

/** One bundle of a catalogue, held to what its index says of it. @throws BundleFault */
export async function fetchBundle(
  base: string,
  entry: Pick<CatalogueEntry, 'file' | 'sha256'>,
  own: boolean,
): Promise<Buffer> {
  if (!FILE.test(entry.file)) throw new BundleFault(`"${entry.file.slice(0, 80)}" is no name of a bundle`);
  const bytes = await fetchFile(base, entry.file, BUNDLE_LIMITS.bytes, own);
  if (createHash('sha256').update(bytes).digest('hex') !== entry.sha256)
    throw new BundleFault(`${entry.file} is not the file that the catalogue names; have its index built anew`);
  return bytes;
}
