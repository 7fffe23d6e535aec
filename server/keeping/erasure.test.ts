import { readdirSync, readFileSync, type Dirent } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import type { EventBody } from '../../core/run/index.ts';
import { openDb } from '../db/open.ts';
import { servicesOf, type Services } from '../services.ts';
import { sentEvent, trialServer } from '../trial.ts';
import { Halted } from './journal.ts';
import { marksFor, scrubberByMarks } from './scrub.ts';
import { canMount, smallDisk } from './smallDisk.ts';

const NAME = 'Leberecht Quandt';
const { folder, services, close } = trialServer('erasure');
afterAll(close);

const holds = (at: string, text: string): string[] =>
  (readdirSync(at, { recursive: true, withFileTypes: true }) as Dirent[])
    .filter((entry) => entry.isFile() && readFileSync(join(entry.parentPath, entry.name)).includes(text))
    .map((entry) => entry.name);

const takenIn = (on: Services, customer = NAME) =>
  on.jobs.create(
    {
      anatomy: null,
      revision: null,
      device: { name: 'unlisted', kind: 'phone', width: null, height: null, thickness: null },
      customer,
      contact: '+44 7700 900123',
      complaint: 'cracked',
      outside: '',
      crackedGlass: false,
      triage: [],
      plan: null,
    },
    { by: 'Tobin Hask', bodies: [] },
  );

const send = async (job: string, body: EventBody, on = services) => {
  const event = sentEvent(on.jobs.eventsOf(job).length + 1, body);
  const { events, refused } = await on.jobs.append(job, [event], 'Tobin Hask', { now: null, received: Date.now() });
  expect(refused).toBeNull();
  return events[0]!;
};

describe('C1 what comes late for somebody who was erased', () => {
  it('is kept without the person, whichever event it is, and its photograph goes', async () => {
    const { id, customerId } = takenIn(services);
    await services.erasure.erase(customerId!, 'asked', 'Tobin Hask');
    const { hash } = await services.photos.add(
      await sharp({ create: { width: 50, height: 40, channels: 3, background: '#345' } })
        .png()
        .toBuffer(),
    );
    const note = await send(id, { type: 'note', step: null, text: "Quandt's wife calls 7700, (leberecht) agrees" });
    expect(note).toMatchObject({ text: "…'s wife calls …, (…) agrees" });
    await send(id, { type: 'identified', imei: ['490154203237518'], serial: 'SN778899', how: 'typed' });
    await send(id, { type: 'photo', photo: hash, step: null, note: `of ${NAME}` });
    await services.journal.resume();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(services.photos.has(hash)).toBe(false);
    await services.jobs.make(id, [{ type: 'collected', name: NAME, signature: 'late' }], 'Tobin Hask', null, () =>
      services.counter.keepSignature('late', id, []),
    );
    expect(() => services.counter.signature('late')).toThrow('not found');
    services.jobs.list();
    services.db.$client.pragma('wal_checkpoint(TRUNCATE)');
    for (const text of ['Quandt', 'Leberecht', 'leberecht', '490154203237518', 'SN778899'])
      expect(holds(folder, text), text).toEqual([]);
  });
  it('begins no intake again that had named them', async () => {
    const draft = '1c3ab2de-5f1e-4a57-a0d7-7d8b3b0f9a11';
    const { customerId } = takenIn(services, 'Ottokar Brenzel');
    services.counter.keepDraft(draft, { customer: 'Ottokar Brenzel' }, 'Tobin Hask');
    await services.erasure.erase(customerId!, 'asked', 'Tobin Hask');
    expect(() => services.counter.keepDraft(draft, { customer: 'Ottokar Brenzel' }, 'Tobin Hask')).toThrow('has ended');
    expect(holds(folder, 'Brenzel')).toEqual([]);
  });
  it('tells a person by marks as by words, and no other', () => {
    const key = Buffer.alloc(32, 7);
    const scrub = scrubberByMarks(key, new Set(marksFor(key, ['Ray Ann-Lee', 'ray@quay.example'])));
    expect(scrub('RAY says the tray of Ann-Lee, ray@quay.example, is planned')).toBe(
      '… says the tray of …, …, is planned',
    );
    expect(scrubberByMarks(Buffer.alloc(32, 8), new Set(marksFor(key, ['Ray'])))('Ray')).toBe('Ray');
  });
  it('beside a busy bench it is done, and nothing the bench does is lost', async () => {
    const { id, customerId } = takenIn(services, 'Adelgund Vries');
    let on = true;
    let sent = 0;
    const bench = (async () => {
      while (on) {
        await send(id, { type: 'note', step: null, text: 'on the bench' });
        sent++;
        await new Promise((resolve) => setImmediate(resolve));
      }
    })();
    await services.erasure.erase(customerId!, 'asked', 'Tobin Hask');
    on = false;
    await bench;
    const events = services.jobs.eventsOf(id);
    expect(events.filter((e) => e.type === 'note')).toHaveLength(sent);
    expect(events.filter((e) => e.type === 'erased')).toHaveLength(1);
    expect(holds(folder, 'Vries')).toEqual([]);
  });
});

describe('C1 on a disk that is full', () => {
  it.skipIf(!canMount())(
    'an erasure waits, says so, and is finished once there is room',
    async () => {
      const disk = smallDisk(8)!;
      const data = disk.path;
      const { db, close: end } = openDb(join(data, 'nibrel.sqlite'));
      const on = servicesOf(db, data);
      const { id, customerId } = takenIn(on);
      for (let i = 0; i < 40; i++)
        await send(id, { type: 'note', step: null, text: `${NAME} ${'x'.repeat(1500)}` }, on);
      disk.fill(12_000);
      const tried = await on.erasure.erase(customerId!, 'asked', 'Tobin Hask').then(
        () => null,
        (error: Error & { code?: string }) => error,
      );
      expect(tried).not.toBeNull();
      expect(tried instanceof Halted || /FULL|ENOSPC|IOERR/.test(tried!.code ?? '')).toBe(true);
      disk.empty();
      if (on.journal.unfinished().length === 0) await on.erasure.erase(customerId!, 'asked', 'Tobin Hask');
      expect(await on.journal.resume()).toEqual([]);
      expect(on.jobs.get(id).customer).toBe('Erased customer');
      expect(holds(data, 'Quandt')).toEqual([]);
      await on.close();
      end();
      disk.unmount();
    },
    60_000,
  );
});
