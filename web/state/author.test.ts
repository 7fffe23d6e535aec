import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { vouchedText, type RunEvent } from '../../core/run/index.ts';
import { proofOf } from './author.ts';

const keyNow = () => btoa(String.fromCharCode(...crypto.getRandomValues(new Uint8Array(32))));
const key = keyNow();
const event = (rest: object): RunEvent =>
  ({
    id: 'e',
    job: 'j',
    seq: 4,
    at: 'then',
    by: 'Tobin Hask',
    version: 1,
    type: 'note',
    step: null,
    text: 'x',
    ...rest,
  }) as RunEvent;

describe('D1 who made an event', () => {
  it('is proved as by HMAC-SHA-256 (RFC 2104) of another make', async () => {
    const text = vouchedText('s', 'j', event({}));
    const bytes = Uint8Array.from(atob(key), (c) => c.charCodeAt(0));
    const made = await crypto.subtle.importKey('raw', bytes, { name: 'HMAC', hash: 'SHA-256' }, false, ['sign']);
    const signed = new Uint8Array(await crypto.subtle.sign('HMAC', made, new TextEncoder().encode(text)));
    const other = [...signed].map((b) => b.toString(16).padStart(2, '0')).join('');
    expect(proofOf(key, 's', 'j', event({}))).toBe(other);
  });
  it('stands however the event travels: its place, its time and the order of its fields change nothing', () => {
    const made = proofOf(key, 's', 'j', event({}));
    const sent = Object.fromEntries(
      Object.entries(event({ seq: 9, at: 'now', version: 3, skew: 7 })).reverse(),
    ) as RunEvent;
    expect(proofOf(key, 's', 'j', sent)).toBe(made);
    const photo = { type: 'photo', photo: '0'.repeat(64), text: undefined, note: 'a' };
    expect(proofOf(key, 's', 'j', event(photo))).toBe(
      proofOf(key, 's', 'j', event({ ...photo, photo: 'a'.repeat(64) })),
    );
  });
  it('falls with anything else of it', () => {
    const made = proofOf(key, 's', 'j', event({}));
    for (const other of [{ text: 'y' }, { id: 'f' }, { step: 'a' }, { type: 'act' }, { more: 1 }])
      expect(proofOf(key, 's', 'j', event(other))).not.toBe(made);
    expect(proofOf(key, 's', 'k', event({}))).not.toBe(made);
    expect(proofOf(key, 't', 'j', event({}))).not.toBe(made);
    expect(proofOf(keyNow(), 's', 'j', event({}))).not.toBe(made);
  });
  it('says the same of what JSON has carried', () => {
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.jsonValue()), (seen) => {
        const body = { type: 'act', seen: { ...seen, nothing: undefined } };
        const carried = JSON.parse(JSON.stringify(body)) as object;
        expect(vouchedText('s', 'j', body)).toBe(vouchedText('s', 'j', carried));
      }),
    );
  });
});
