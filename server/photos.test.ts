import { readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { photoPath } from './photos.ts';
import { trialServer } from './trial.ts';

const { folder, services, app, close } = trialServer('photos');
afterAll(close);
const picture = async (background: string) =>
  new Uint8Array(
    await sharp({ create: { width: 640, height: 480, channels: 3, background } })
      .jpeg()
      .toBuffer(),
  );

describe('B4 photographs', () => {
  it('the same one twelve times at once is one, and nothing half written stays', async () => {
    const bytes = await picture('#246');
    const all = await Promise.all(Array.from({ length: 12 }, () => services.photos.add(bytes)));
    expect(new Set(all.map((p) => p.hash)).size).toBe(1);
    const files = readdirSync(join(folder, 'photos'), { recursive: true }) as string[];
    expect(files.filter((name) => name.endsWith('.part'))).toEqual([]);
  });
  it('what a stopped server had begun is swept away at the start', async () => {
    const { hash } = await services.photos.add(await picture('#642'));
    const path = join(folder, 'photos', `${photoPath(hash, 'full')}.abc.part`);
    writeFileSync(path, 'half');
    await services.photos.sweep();
    const files = readdirSync(join(folder, 'photos'), { recursive: true }) as string[];
    expect(files.filter((name) => name.endsWith('.part'))).toEqual([]);
    expect(files).toContain(photoPath(hash, 'full'));
  });
  it('a missing file is not found, and breaks nothing else', async () => {
    const { hash } = await services.photos.add(await picture('#264'));
    rmSync(join(folder, 'photos', photoPath(hash, 'full')));
    const answer = await app.request(`/api/photos/${hash}`, { headers: { host: 'localhost' } });
    expect(answer.status).toBe(404);
    expect((await app.request(`/api/photos/${hash}/thumb`, { headers: { host: 'localhost' } })).status).toBe(200);
  });
  it('a HEIC that is damaged is refused in words', async () => {
    const box = Buffer.concat([
      Buffer.from([0, 0, 0, 24]),
      Buffer.from('ftypheic\0\0\0\0mif1heic'),
      Buffer.alloc(2000, 7),
    ]);
    await expect(services.photos.add(new Uint8Array(box))).rejects.toMatchObject({ status: 415 });
  });
});
