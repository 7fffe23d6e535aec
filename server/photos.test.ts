import type { ChildProcess } from 'node:child_process';
import { readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { photoPath } from './photoPath.ts';
import { Pictures } from './pictures/pictures.ts';
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

describe('what is kept is what its name says', () => {
  it('a damaged file is not shown, and is repaired by sending its picture again', async () => {
    const bytes = await picture('#135');
    const { hash } = await services.photos.add(bytes);
    const path = join(folder, 'photos', photoPath(hash, 'full'));
    writeFileSync(path, 'not a picture any more');
    await expect(services.photos.read(hash, 'full')).rejects.toMatchObject({ status: 404 });
    expect((await services.photos.add(bytes)).hash).toBe(hash);
    expect((await services.photos.read(hash, 'full')).length).toBeGreaterThan(1000);
    expect((await services.photos.read(hash, 'thumb')).length).toBeGreaterThan(100);
  });
});

describe('pictures are read in a process of their own', () => {
  const large = () =>
    sharp({ create: { width: 6000, height: 4000, channels: 3, background: '#777' } })
      .png()
      .toBuffer();

  it('many small files of many pixels are decoded one at a time, and take nothing from the server', async () => {
    const bytes = new Uint8Array(await large());
    const before = process.memoryUsage().rss;
    let most = 0;
    const watch = setInterval(() => {
      most = Math.max(most, process.memoryUsage().rss - before);
    }, 5);
    const all = await Promise.all(Array.from({ length: 8 }, () => services.photos.add(bytes)));
    clearInterval(watch);
    expect(new Set(all.map((p) => p.hash)).size).toBe(1);
    // One of them is 24 million pixels of 3 bytes, and as much again while it is made smaller.
    expect(most / 1e6).toBeLessThan(250);
  });
  it('what takes too much memory, or too long, ends alone and is said; the next one is read', async () => {
    const bytes = new Uint8Array(await large());
    const small = await picture('#531');
    const narrow = new Pictures({ bytes: 250e6 });
    await expect(narrow.run('upright', { bytes, whole: true })).rejects.toMatchObject({ status: 415 });
    await expect(narrow.run('header', { bytes: small })).resolves.toMatchObject({ width: 640, format: 'jpeg' });
    narrow.close();
    const hasty = new Pictures({ computingMs: 1 });
    await expect(hasty.run('upright', { bytes, whole: true })).rejects.toMatchObject({
      status: 503,
      body: { error: expect.stringContaining('longer than') },
    });
    hasty.close();
    await expect(hasty.run('header', { bytes: small })).rejects.toMatchObject({ status: 503 });
  });
  it('what brings the decoder down is a picture that cannot be read, and whoever left is not waited for', async () => {
    const pictures = new Pictures();
    const bytes = new Uint8Array(await large());
    const fallen = expect(pictures.run('upright', { bytes, whole: true })).rejects.toMatchObject({ status: 415 });
    const next = pictures.run('header', { bytes });
    const child = await vi.waitUntil(() => (pictures as unknown as { child: ChildProcess | null }).child);
    child.kill('SIGKILL');
    await fallen;
    await expect(next).resolves.toMatchObject({ width: 6000 });
    const gone = new AbortController();
    const left = expect(pictures.run('upright', { bytes, whole: true }, gone.signal)).rejects.toMatchObject({
      body: { error: expect.stringContaining('nobody waits') },
    });
    gone.abort();
    await left;
    pictures.close();
  });
});

describe('what is sent as JSON', () => {
  it('nested five thousand deep is a 400, and so is what is no JSON', async () => {
    const deep = `${'['.repeat(5000)}${']'.repeat(5000)}`;
    const send = (path: string, body: string) =>
      app.request(`/api${path}`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body });
    for (const path of ['/jobs', '/anatomies']) {
      const answer = await send(path, deep);
      expect(answer.status, path).toBe(400);
      expect(((await answer.json()) as { error: string }).error).toMatch(/nested deeper than 64/);
    }
    expect((await send('/jobs', '{"a":')).status).toBe(400);
    // Brackets in words nest nothing.
    expect((await send('/jobs', JSON.stringify({ customer: '['.repeat(500) }))).status).toBe(422);
  });
});
