import { describe, expect, it } from 'vitest';
import { ACTION_KINDS, actionOf, keyOf } from './keys.ts';
import { plain, readReason, relation, rule, writeReason, type Reason } from './reasons.ts';

describe('a reason is data; a plan keeps its words', () => {
  const reasons: Reason[] = [
    rule('A4'),
    rule('G1'),
    plain('target'),
    plain('mayBeDamaged'),
    relation('covers', 'battery-flex'),
    relation('liesOn', 'c1'),
    relation('liesOnFlex', 'c1'),
    relation('movesFrom', 'display'),
    relation('renews', 'seal'),
    { why: 'order', words: 'The tray locks the board in its slot.' },
  ];
  it.each(reasons.map((r): [string, Reason] => [writeReason(r), r]))('%s', (text, reason) => {
    expect(readReason(text)).toEqual(reason);
  });
  it('words that are no reason are none', () => {
    for (const text of ['', 'toString', 'covers ', 'because']) expect(readReason(text), text).toBeNull();
  });
});

describe('keys', () => {
  it.each(ACTION_KINDS)('of %s are read as they were made', (kind) => {
    expect(actionOf(keyOf(kind, 'a.b-1'))).toEqual({ key: keyOf(kind, 'a.b-1'), kind, item: 'a.b-1' });
  });
});
