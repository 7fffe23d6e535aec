import { createHash, createPrivateKey, createPublicKey, generateKeyPairSync, sign, verify } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** The shop's own key, by which others know its bundles (Ed25519, RFC 8032). It stays in the private folder. */
export class ShopKey {
  private readonly pem: string;
  /** DER of the public key, base64. */
  readonly key: string;

  constructor(path: string) {
    if (!existsSync(path)) {
      mkdirSync(dirname(path), { recursive: true });
      const { privateKey } = generateKeyPairSync('ed25519');
      writeFileSync(path, privateKey.export({ type: 'pkcs8', format: 'pem' }), { mode: 0o600, flag: 'wx' });
    }
    this.pem = readFileSync(path, 'utf8');
    this.key = createPublicKey(createPrivateKey(this.pem)).export({ type: 'spki', format: 'der' }).toString('base64');
  }

  get fingerprint(): string {
    return fingerprintOf(this.key);
  }

  sign(bytes: Uint8Array): string {
    return sign(null, bytes, createPrivateKey(this.pem)).toString('base64');
  }
}

/** What people compare on the telephone: the first 80 bits of the key's SHA-256, in groups of four. */
export function fingerprintOf(key: string): string {
  const hex = createHash('sha256').update(Buffer.from(key, 'base64')).digest('hex').slice(0, 20);
  return hex.match(/.{4}/g)!.join(' ');
}

export function isSignedBy(key: string, bytes: Uint8Array, signature: string): boolean {
  try {
    const publicKey = createPublicKey({ key: Buffer.from(key, 'base64'), type: 'spki', format: 'der' });
    if (publicKey.asymmetricKeyType !== 'ed25519') return false;
    return verify(null, bytes, publicKey, Buffer.from(signature, 'base64'));
  } catch {
    return false;
  }
}
