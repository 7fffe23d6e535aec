import { createHash } from 'node:crypto';
import Joi from 'joi';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import yazl from 'yazl';
import { faultsOfJoi, parseJson, type Anatomy, type Fault } from '../core/anatomy/index.ts';
import { fingerprintOf, isSignedBy } from './shopKey.ts';

/** What stands first in a bundle; it is what the shop signs, and it names every other file by its content. */
export interface BundleManifest {
  schema: 'nibrel.bundle/1';
  madeAt: string;
  shop: { name: string; key: string };
  device: { id: string; name: string; maker: string; kind: string; revision: number };
  plates: {
    file: string;
    face: 'front' | 'back';
    layer: number;
    depth: number;
    pxPerMm: number;
    expectedError: number;
  }[];
  files: { name: string; bytes: number; sha256: string }[];
}

export interface Bundle {
  manifest: BundleManifest;
  fingerprint: string;
  /** The anatomy as text, not yet read. */
  anatomy: string;
  /** JPEG by file name. */
  plates: Map<string, Buffer>;
}

/** What a bundle may be. Origin: own choice; a tablet with twenty photographs is 40 MB. */
export const BUNDLE_LIMITS = {
  bytes: 80_000_000,
  unpacked: 120_000_000,
  files: 80,
  json: 3_000_000,
  ratio: 200,
} as const;

/** Why a bundle is not taken, with what is wrong. */
export class BundleFault extends Error {
  constructor(
    message: string,
    readonly faults: Fault[] = [],
  ) {
    super(message);
  }
}

const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Made by `makeBundle`: names of files that may be in one. */
const NAMES = /^(bundle\.json|signature|anatomy\.json|plates\/[0-9a-f]{64}\.jpg)$/;

const manifestSchema = Joi.object({
  schema: Joi.valid('nibrel.bundle/1').required(),
  madeAt: Joi.string().isoDate().required(),
  shop: Joi.object({
    name: Joi.string().trim().min(1).max(80).required(),
    key: Joi.string().base64().max(200).required(),
  }).required(),
  device: Joi.object({
    id: Joi.string().max(64).required(),
    name: Joi.string().max(120).required(),
    maker: Joi.string().max(120).required(),
    kind: Joi.string().max(20).required(),
    revision: Joi.number().integer().min(1).max(1e6).required(),
  }).required(),
  plates: Joi.array()
    .items(
      Joi.object({
        file: Joi.string()
          .pattern(/^plates\/[0-9a-f]{64}\.jpg$/)
          .required(),
        face: Joi.valid('front', 'back').required(),
        layer: Joi.number().integer().min(0).max(40).required(),
        depth: Joi.number().min(-60).max(60).required(),
        pxPerMm: Joi.number().min(1).max(100).required(),
        expectedError: Joi.number().min(0).max(1000).required(),
      }),
    )
    .max(BUNDLE_LIMITS.files)
    .required(),
  files: Joi.array()
    .items(
      Joi.object({
        name: Joi.string().pattern(NAMES).required(),
        bytes: Joi.number().integer().min(0).max(BUNDLE_LIMITS.bytes).required(),
        sha256: Joi.string().hex().length(64).required(),
      }),
    )
    .max(BUNDLE_LIMITS.files)
    .unique('name')
    .required(),
});

/** One device with its straightened photographs, signed. */
export function makeBundle(
  given: {
    anatomy: Anatomy;
    revision: number;
    plates: { info: Omit<BundleManifest['plates'][number], 'file'>; jpeg: Buffer }[];
    shop: { name: string; key: string };
  },
  sign: (bytes: Uint8Array) => string,
): Promise<Buffer> {
  const { anatomy, revision, shop } = given;
  const document = Buffer.from(`${JSON.stringify(anatomy, null, 2)}\n`);
  const plates = given.plates.map(({ info, jpeg }) => ({ ...info, file: `plates/${sha256(jpeg)}.jpg`, jpeg }));
  const contents = new Map<string, Buffer>([
    ['anatomy.json', document],
    ...plates.map((p) => [p.file, p.jpeg] as const),
  ]);
  const { id, name, maker, kind } = anatomy;
  const manifest: BundleManifest = {
    schema: 'nibrel.bundle/1',
    madeAt: new Date().toISOString(),
    shop,
    device: { id, name, maker, kind, revision },
    plates: plates.map(({ jpeg: _, ...info }) => info),
    files: [...contents].map(([file, bytes]) => ({ name: file, bytes: bytes.length, sha256: sha256(bytes) })),
  };
  const head = Buffer.from(`${JSON.stringify(manifest, null, 2)}\n`);
  const zip = new yazl.ZipFile();
  zip.addBuffer(head, 'bundle.json', { compress: false });
  zip.addBuffer(Buffer.from(sign(head)), 'signature');
  for (const [file, bytes] of contents) zip.addBuffer(bytes, file, { compress: file.endsWith('.json') });
  zip.end();
  return gathered(zip.outputStream as NodeJS.ReadableStream);
}

async function gathered(stream: NodeJS.ReadableStream): Promise<Buffer> {
  const parts: Buffer[] = [];
  for await (const part of stream) parts.push(part as Buffer);
  return Buffer.concat(parts);
}

/** @throws BundleFault before anything is unpacked that is too large, too much, or has no business in a bundle */
async function filesIn(bytes: Buffer): Promise<Map<string, Buffer>> {
  if (bytes.length > BUNDLE_LIMITS.bytes)
    throw new BundleFault(`the bundle is larger than ${BUNDLE_LIMITS.bytes / 1e6} MB`);
  const zip = await new Promise<ZipFile>((resolve, reject) =>
    yauzl.fromBuffer(bytes, { lazyEntries: true, validateEntrySizes: true, decodeStrings: true }, (error, opened) =>
      opened ? resolve(opened) : reject(new BundleFault(`this is no bundle: ${error?.message ?? 'not a zip file'}`)),
    ),
  );
  const entries = await new Promise<Entry[]>((resolve, reject) => {
    const found: Entry[] = [];
    zip.on('entry', (entry: Entry) => {
      found.push(entry);
      if (found.length > BUNDLE_LIMITS.files) reject(new BundleFault(`more than ${BUNDLE_LIMITS.files} files in it`));
      else zip.readEntry();
    });
    zip.on('end', () => resolve(found));
    zip.on('error', (error: Error) => reject(new BundleFault(`the zip file is damaged: ${error.message}`)));
    zip.readEntry();
  });
  let whole = 0;
  const seen = new Set<string>();
  for (const { fileName, uncompressedSize, compressedSize } of entries) {
    if (!NAMES.test(fileName)) throw new BundleFault(`"${fileName.slice(0, 80)}" has no business in a bundle`);
    if (seen.has(fileName)) throw new BundleFault(`"${fileName}" is in it twice`);
    seen.add(fileName);
    whole += uncompressedSize;
    if (whole > BUNDLE_LIMITS.unpacked || uncompressedSize > compressedSize * BUNDLE_LIMITS.ratio + 10_000)
      throw new BundleFault(
        `"${fileName}" would unpack to ${Math.round(uncompressedSize / 1e6)} MB; nothing was unpacked`,
      );
  }
  const files = new Map<string, Buffer>();
  for (const entry of entries) {
    const stream = await new Promise<NodeJS.ReadableStream>((resolve, reject) =>
      zip.openReadStream(entry, (error, opened) =>
        opened ? resolve(opened) : reject(new BundleFault(`${entry.fileName}: ${error?.message}`)),
      ),
    );
    const content = await gathered(stream).catch((error: Error) => {
      throw new BundleFault(`"${entry.fileName}" is damaged: ${error.message}`);
    });
    files.set(entry.fileName, content);
  }
  return files;
}

/**
 * Reads a bundle and checks all of it: names, sizes, contents, signature. Whether its shop is trusted is for the caller.
 * @throws BundleFault
 */
export async function readBundle(bytes: Buffer): Promise<Bundle> {
  const files = await filesIn(bytes);
  const [head, signature, anatomy] = ['bundle.json', 'signature', 'anatomy.json'].map((name) => {
    const found = files.get(name);
    if (!found) throw new BundleFault(`the bundle has no ${name}`);
    if (found.length > BUNDLE_LIMITS.json)
      throw new BundleFault(`${name} is larger than ${BUNDLE_LIMITS.json / 1e6} MB`);
    return found;
  }) as [Buffer, Buffer, Buffer];
  const parsed = parseJson(head.toString('utf8'));
  if (!parsed.ok) throw new BundleFault('bundle.json cannot be read', parsed.faults);
  const { error, value } = manifestSchema.validate(parsed.value, { abortEarly: false, convert: false });
  if (error) throw new BundleFault('bundle.json is not as it must be', faultsOfJoi(error));
  const manifest = value as BundleManifest;
  if (!isSignedBy(manifest.shop.key, head, signature.toString('utf8')))
    throw new BundleFault('the signature is not of this bundle: it was changed after it was signed');
  const listed = new Map(manifest.files.map((f) => [f.name, f]));
  for (const [name, content] of files) {
    if (name === 'bundle.json' || name === 'signature') continue;
    const said = listed.get(name);
    if (!said) throw new BundleFault(`"${name}" is not named in the signed list`);
    if (said.bytes !== content.length || said.sha256 !== sha256(content))
      throw new BundleFault(`"${name}" is not the file that was signed`);
  }
  for (const { name } of manifest.files) if (!files.has(name)) throw new BundleFault(`"${name}" is missing`);
  for (const { file } of manifest.plates)
    if (!files.has(file)) throw new BundleFault(`the photograph ${file} is missing`);
  return {
    manifest,
    fingerprint: fingerprintOf(manifest.shop.key),
    anatomy: anatomy.toString('utf8'),
    plates: new Map([...files].filter(([name]) => name.startsWith('plates/'))),
  };
}
