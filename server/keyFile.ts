import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** A key of 32 bytes that lies in a file of the private folder, which no backup holds; made when it is first asked for. */
export function keyFile(path: string): () => Buffer {
  let key: Buffer | null = null;
  return () => {
    if (key) return key;
    if (!existsSync(path)) {
      mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
      writeFileSync(path, randomBytes(32).toString('base64'), { mode: 0o600, flag: 'wx', flush: true });
    }
    key = Buffer.from(readFileSync(path, 'utf8'), 'base64');
    return key;
  };
}
