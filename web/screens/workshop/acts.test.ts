import { describe, expect, it } from 'vitest';
import { type Anatomy, blankAnatomy } from '../../../core/anatomy/index.ts';
import { applied, newEntry } from '../../../core/draft/index.ts';
import { renamePart } from './acts.ts';

const device = (): Anatomy => ({
  ...blankAnatomy({ name: 'One', kind: 'phone', width: 70, height: 150, thickness: 8 }),
  parts: [
    newEntry.part('frame', { name: 'Mid-frame', kind: 'frame', fixed: true, outline: { rect: [0, 0, 70, 150] } }),
    newEntry.part('cam', {
      name: 'Rear camera',
      kind: 'camera',
      outline: { rect: [5, 5, 12, 12] },
      note: 'A foam lies on the Rear camera.',
    }),
    newEntry.part('lid', {
      name: 'Lid',
      kind: 'cover',
      outline: { rect: [2, 2, 66, 146] },
      note: 'Lift it off the Rear camera.',
    }),
  ],
  connectors: [
    newEntry.connector('cam-flex', { name: 'Rear camera plug', from: 'cam', to: 'frame', at: [20, 20], size: [4, 2] }),
    newEntry.connector('other', { name: 'Rear camera flash', from: 'lid', to: 'frame', at: [30, 20], size: [4, 2] }),
  ],
  spares: [{ id: 'cam-new', name: 'Rear camera with lens', replaces: 'cam', includes: ['cam'], brings: [] }],
});

describe('a part that is renamed', () => {
  it('is called so wherever it was called by its old name: spares, plugs and notes', () => {
    const before = device();
    const made = renamePart(before, 'cam', 'Main camera');
    const after = applied(before, { changes: made.changes });
    expect(after.parts.map((p) => p.name)).toEqual(['Mid-frame', 'Main camera', 'Lid']);
    expect(after.parts.map((p) => p.note)).toEqual([
      '',
      'A foam lies on the Main camera.',
      'Lift it off the Main camera.',
    ]);
    expect(after.spares[0]!.name).toBe('Main camera with lens');
    // A plug of another part keeps the name that somebody gave it.
    expect(after.connectors.map((c) => c.name)).toEqual(['Main camera plug', 'Rear camera flash']);
  });
});
