import { createHash, randomUUID } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openDb } from '../db/open.ts';
import { DataFault } from '../db/fault.ts';
import { photoPath } from '../photoPath.ts';
import { servicesOf } from '../services.ts';
import { demoServer } from '../trial.ts';
import { backupsIn, makeBackup, manifestIn, proveBackup } from './backup.ts';
import { restoreBackup, unpackBackup } from './restore.ts';
import { verifyData } from './verify.ts';

const { app, folder, services, close } = demoServer('backup');
const out = mkdtempSync(join(tmpdir(), 'nibrel-backups-'));
const fresh = () => join(mkdtempSync(join(tmpdir(), 'nibrel-machine-')), 'data');

beforeAll(async () => {
  for (const background of ['#a33', '#3a3']) {
    const bytes = await sharp({ create: { width: 900, height: 700, channels: 3, background } })
      .jpeg()
      .toBuffer();
    await services.photos.add(new Uint8Array(bytes));
  }
});
afterAll(close);

/** Every table, row by row, as text. */
function contents(data: string): string {
  const { db, close: end } = openDb(join(data, 'nibrel.sqlite'));
  const tables = db.$client
    .prepare("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name")
    .pluck()
    .all() as string[];
  const all = tables.map((t) => [t, db.$client.prepare(`SELECT * FROM "${t}" ORDER BY rowid`).all()]);
  end();
  return JSON.stringify(all);
}
const photographs = (data: string) =>
  (readdirSync(join(data, 'photos'), { recursive: true }) as string[])
    .filter((name) => name.endsWith('.jpg'))
    .sort()
    .map((name) => [
      name,
      createHash('sha256')
        .update(readFileSync(join(data, 'photos', name)))
        .digest('hex'),
    ]);

describe('C1 backup and restore', () => {
  it('is the same on a fresh machine, byte for byte, and holds no session and no key', async () => {
    services.jobs.keepLines();
    const file = join(out, 'whole.zip');
    const report = await makeBackup(folder, file);
    expect(report).toMatchObject({ photos: 2, missing: 0 });
    const machine = fresh();
    expect(await restoreBackup(file, machine)).toMatchObject({ kept: null });
    expect(photographs(machine)).toEqual(photographs(folder));
    expect(contents(machine)).toBe(contents(folder));
    expect(readdirSync(machine).sort()).toEqual(expect.arrayContaining(['nibrel.sqlite', 'photos']));
    // Of what is private there is only the journal of the restore itself.
    expect(readdirSync(join(machine, 'private'))).toEqual(['journal.sqlite']);
    const { db, close: end } = openDb(join(machine, 'nibrel.sqlite'));
    const again = servicesOf(db, machine);
    expect(again.jobs.summaries().length).toBe(services.jobs.summaries().length);
    await again.close();
    end();
  });
  it('while a hundred events a second are written, it is one moment of them', async () => {
    const id = services.jobs.summaries().find((j) => j.state === 'ready')!.id;
    let on = true;
    let written = 0;
    const writing = (async () => {
      while (on) {
        const seq = services.jobs.eventsOf(id).length + 1;
        const event = {
          id: randomUUID(),
          seq,
          at: new Date().toISOString(),
          type: 'note' as const,
          step: null,
          text: `${seq}`,
        };
        await services.jobs.append(id, [event], 'Tobin Hask', { now: null, received: Date.now() });
        written++;
        await new Promise((resolve) => setTimeout(resolve, 10));
      }
    })();
    const files = [];
    for (let i = 0; i < 3; i++) files.push((await makeBackup(folder, join(out, `busy-${i}.zip`))).file);
    on = false;
    await writing;
    expect(written).toBeGreaterThan(3);
    let last = 0;
    for (const file of files) {
      const unpacked = fresh();
      await unpackBackup(file, unpacked);
      const { db, close: end } = openDb(join(unpacked, 'nibrel.sqlite'));
      const seqs = db.$client.prepare('SELECT seq FROM events WHERE job = ? ORDER BY seq').pluck().all(id) as number[];
      end();
      expect(seqs).toEqual(seqs.map((_, i) => i + 1));
      expect(seqs.length).toBeGreaterThanOrEqual(last);
      last = seqs.length;
    }
  });
  it('what was there before is kept beside it, and keys, certificates and lists stay where they are', async () => {
    const file = join(out, 'again.zip');
    await makeBackup(folder, file);
    const machine = fresh();
    await restoreBackup(file, machine);
    const before = contents(machine);
    const { db, close: end } = openDb(join(machine, 'nibrel.sqlite'));
    db.$client.exec("UPDATE settings SET value = '\"Pier\"' WHERE key = 'shop'");
    end();
    const own = { 'private/unlock.key': 'key', 'private/root.pem': 'root', 'last-backup.txt': 'there' };
    for (const [name, text] of Object.entries(own)) writeFileSync(join(machine, name), text);
    const changed = contents(machine);
    const { kept } = await restoreBackup(file, machine);
    expect([contents(machine), contents(kept!)]).toEqual([before, changed]);
    expect(photographs(kept!)).toEqual(photographs(machine));
    for (const [name, text] of Object.entries(own)) expect(readFileSync(join(machine, name), 'utf8')).toBe(text);
  });
  it.each([
    ['cut short', (path: string) => truncateSync(path, 4000)],
    ['with a flipped byte in a photograph', (path: string) => flip(path, 0.9)],
    ['with a flipped byte in the data', (path: string) => flip(path, 0.4)],
    ['that is no backup at all', (path: string) => writeFileSync(path, 'something else')],
  ])('one %s is refused in words, and nothing is touched', async (_, harm) => {
    const file = join(out, `harmed-${randomUUID()}.zip`);
    await makeBackup(folder, file);
    harm(file);
    const machine = fresh();
    await expect(restoreBackup(file, machine)).rejects.toThrow(DataFault);
    expect(existsSync(machine) ? readdirSync(machine) : []).toEqual(existsSync(machine) ? ['private'] : []);
  });
  it('is made daily by itself, keeps as many as are wanted, and says what is wrong', async () => {
    const daily = mkdtempSync(join(tmpdir(), 'nibrel-daily-'));
    const { revision: _, setUp: __, ...shop } = services.shop.get();
    services.shop.save({ ...shop, backupFolder: daily, backupsKept: 2 });
    const day = 86_400_000;
    const now = Date.now();
    for (const n of [0, 1, 2, 3]) {
      expect(await services.backups.daily(now + n * day)).not.toBeNull();
      expect(await services.backups.daily(now + n * day + 3600_000)).toBeNull();
    }
    expect(await backupsIn(daily)).toHaveLength(2);
    expect(services.backups.warnings(now + 3 * day)).toEqual([expect.stringContaining('same disk')]);
    expect(services.backups.warnings(now + 9 * day).join()).toMatch(/no backup for three days/);
    rmSync(daily, { recursive: true });
    writeFileSync(daily, 'a file where the folder was');
    await expect(services.backups.daily(now + 9 * day)).rejects.toThrow();
    expect(services.backups.warnings(now + 9 * day).join()).toMatch(/last backup failed/);
  });
});

describe('C2 a backup ends, whatever goes on beside it', () => {
  it('two at once are two files, each of which can be read; what stopped ones have left is gone', async () => {
    const left = join(out, '.nibrel-backup-999999999-abcd');
    mkdirSync(left);
    writeFileSync(join(left, 'nibrel.sqlite'), 'half');
    const files = [join(out, 'one.zip'), join(out, 'two.zip')];
    const reports = await Promise.all(files.map((file) => services.backups.make(file)));
    expect(reports.map((r) => r.file)).toEqual(files);
    for (const file of files) expect((await proveBackup(file)).files.length).toBeGreaterThan(1);
    expect(readdirSync(out).filter((name) => name.startsWith('.nibrel'))).toEqual([]);
  });
  it('is not held up by a clock that was wrong once, and throws away the oldest and not the earliest', async () => {
    const daily = mkdtempSync(join(tmpdir(), 'nibrel-wrong-'));
    const { revision: _, setUp: __, ...shop } = services.shop.get();
    services.shop.save({ ...shop, backupFolder: daily, backupsKept: 2 });
    services.shop.put('backup-last', { at: new Date(0).toISOString(), file: '', bytes: 0 });
    const now = Date.now();
    const day = 86_400_000;
    for (const at of [now + 4000 * day, now, now + day]) expect(await services.backups.daily(at)).not.toBeNull();
    const kept = await backupsIn(daily);
    expect(kept.map((name) => name.slice(7, 17))).toEqual(
      [now, now + day].map((at) => new Date(at).toISOString().slice(0, 10)),
    );
  });
  it('fetched by a browser nothing of it is left on the server', async () => {
    const response = await app.request('/api/shop/backup.zip', { headers: { host: '127.0.0.1:4310' } });
    expect(response.status).toBe(200);
    const bytes = Buffer.from(await response.arrayBuffer());
    expect(bytes.length).toBe(Number(response.headers.get('content-length')));
    expect(readdirSync(join(folder, 'private/fetched'))).toEqual([]);
  });
});

describe('C4 damage is seen', () => {
  const asked = (path: string) => app.request(path, { headers: { host: '127.0.0.1:4310' } });
  const jobWithEvents = () => services.jobs.summaries().find((j) => j.state === 'signed')!;

  it('in an event: named by its job, told by who reads it, and no sound backup is thrown away for it', async () => {
    const job = jobWithEvents();
    expect((await verifyData(folder)).faults).toEqual([]);
    const daily = mkdtempSync(join(tmpdir(), 'nibrel-damaged-'));
    const { revision: _, setUp: __, ...shop } = services.shop.get();
    services.shop.save({ ...shop, backupFolder: daily, backupsKept: 1 });
    services.shop.put('backup-last', { at: new Date(0).toISOString(), file: '', bytes: 0 });
    await services.backups.daily();
    const { $client } = services.db;
    const row = $client.prepare('SELECT id, body FROM events WHERE job = ? AND seq = 7').get(job.id) as {
      id: string;
      body: string;
    };
    const write = $client.prepare('UPDATE events SET body = ? WHERE id = ?');
    write.run(row.body.replace(/[a-z](?=[^a-z]*$)/, '~'), row.id);
    services.jobs.changedUnder(job.id);
    expect((await verifyData(folder)).faults).toEqual([
      { where: `job ${job.number}`, fault: expect.stringContaining('event 7') },
    ]);
    const response = await asked(`/api/jobs/${job.id}`);
    expect(response.status).toBe(500);
    expect(((await response.json()) as { error: string }).error).toMatch(/event 7 .*restore the newest backup/);
    // The list stands, with what its row says.
    expect(services.jobs.summaries().find((j) => j.id === job.id)).toMatchObject({ number: job.number });
    const file = await services.backups.daily(Date.now() + 2 * 86_400_000);
    expect((await manifestIn(file!)).damaged).toEqual([expect.stringContaining(`job ${job.number}`)]);
    expect(await backupsIn(daily)).toHaveLength(2);
    expect(services.backups.warnings().join()).toMatch(/data are damaged \(job \d+/);
    write.run(row.body, row.id);
    services.jobs.changedUnder(job.id);
    expect((await asked(`/api/jobs/${job.id}`)).status).toBe(200);
  });
  it('one that is gone is missed, in the middle as at its place', async () => {
    const job = jobWithEvents();
    const work = fresh();
    await unpackBackup((await makeBackup(folder, join(out, 'gone.zip'))).file, work);
    const { db, close: end } = openDb(join(work, 'nibrel.sqlite'));
    db.$client.prepare('DELETE FROM events WHERE job = ? AND seq = 5').run(job.id);
    end();
    expect((await verifyData(work)).faults).toEqual([{ where: `job ${job.number}`, fault: 'event 5 is missing' }]);
  });
  it('in a photograph: named, and a small one is made anew of the large one', async () => {
    const bytes = await sharp({ create: { width: 900, height: 700, channels: 3, background: '#b83' } })
      .jpeg()
      .toBuffer();
    const { hash } = await services.photos.add(new Uint8Array(bytes));
    const at = (size: 'full' | 'thumb') => join(folder, 'photos', photoPath(hash, size));
    const thumb = readFileSync(at('thumb'));
    flip(at('thumb'), 0.5);
    expect((await services.photos.read(hash, 'thumb')).equals(thumb)).toBe(true);
    rmSync(at('thumb'));
    expect((await services.photos.read(hash, 'thumb')).equals(thumb)).toBe(true);
    const full = readFileSync(at('full'));
    flip(at('full'), 0.5);
    expect((await verifyData(folder)).faults).toEqual([
      { where: expect.stringContaining(hash.slice(0, 12)), fault: expect.stringContaining('not what was written') },
    ]);
    rmSync(at('full'));
    expect((await verifyData(folder)).faults).toMatchObject([{ fault: 'its file is missing' }]);
    writeFileSync(at('full'), full);
  });
});

function flip(path: string, at: number): void {
  const bytes = readFileSync(path);
  const i = Math.floor(bytes.length * at);
  bytes[i] = bytes[i]! ^ 0xff;
  writeFileSync(path, bytes);
}
