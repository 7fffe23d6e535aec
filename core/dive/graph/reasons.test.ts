import { describe, expect, it } from 'vitest';
import { ACTION_KINDS, actionOf, keyOf } from './keys.ts';
import { plain, PLAIN_REASONS, reasonKey, relation, RELATIONS, rule, uniqueReasons } from './reasons.ts';
import { RULES } from '../ruleNames.ts';

describe('reasons', () => {
  const every = [
    ...RULES.map(rule),
    ...PLAIN_REASONS.map(plain),
    ...RELATIONS.map((name) => relation(name, 'seal')),
    relation('covers', 'cover'),
    { why: 'order', first: 'tray', then: 'board', words: 'target' } as const,
    { why: 'order', first: 'tray', then: 'cover', words: 'target' } as const,
    { why: 'quoted', words: 'target' } as const,
  ];
  it('are told apart', () => {
    expect(new Set(every.map(reasonKey)).size).toBe(every.length);
  });
  it('stand once, in the order in which they came', () => {
    expect(uniqueReasons([rule('R1'), rule('A4'), rule('R1'), plain('target')])).toEqual([
      rule('R1'),
      rule('A4'),
      plain('target'),
    ]);
  });
});

describe('keys', () => {
  it.each(ACTION_KINDS)('of %s are read as they were made', (kind) => {
    expect(actionOf(keyOf(kind, 'a.b-1'))).toEqual({ key: keyOf(kind, 'a.b-1'), kind, item: 'a.b-1' });
  });
});
