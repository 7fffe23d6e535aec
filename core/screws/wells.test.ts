import { describe, expect, it } from 'vitest';
import { tinyDevice } from '../../demo/tiny.ts';
import { modelOf } from '../anatomy/index.ts';
import { planDive } from '../dive/index.ts';
import { screwClass } from './classes.ts';
import { wellsOf } from './wells.ts';

describe('wells', () => {
  const wells = (change: Parameters<typeof tinyDevice>[0]) => {
    const model = modelOf(tinyDevice(change));
    return wellsOf(model, planDive(model, { replace: ['camera'] }));
  };
  it('like screws of one step share a well, in the order they come out', () => {
    const w = wells(() => {});
    expect(w.get('c1')).toBe('A1');
    expect(w.get('c2')).toBe('A1');
    expect(w.get('k1')).toBe('A2');
  });
  it('screws that differ by a tenth of a millimetre never share one', () => {
    const w = wells((a) => {
      a.fasteners[1]!.length = 1.5;
    });
    expect(w.get('c1')).not.toBe(w.get('c2'));
  });
  it('captive screws need none', () => {
    expect(
      wells((a) => {
        a.fasteners[0]!.kind = 'captive';
      }).has('c1'),
    ).toBe(false);
  });
  it('a class is drive, length, thread and head', () => {
    const { fasteners } = tinyDevice();
    expect(screwClass(fasteners[0]!)).toBe(screwClass(fasteners[1]!));
    expect(screwClass(fasteners[0]!)).not.toBe(screwClass({ ...fasteners[0]!, head: 2.2 }));
  });
});
