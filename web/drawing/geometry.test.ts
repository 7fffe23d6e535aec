import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { areaOf, bondRegion, regionsOverlap, ringOf, type Region } from '../../core/anatomy/index.ts';
import { DEVICES, demoModel } from '../../demo/models.ts';
import { bondPath, outlinePath, partsAbove, prepareGeometry } from './geometry.ts';

/** The rings that a path draws. */
const ringsOf = (path: string): [number, number][][] =>
  path
    .split('Z')
    .filter((ring) => ring !== '')
    .map((ring) =>
      ring
        .slice(1)
        .split('L')
        .map((point) => point.split(' ').map(Number) as [number, number]),
    );

describe('what is drawn of a device', () => {
  it.each(DEVICES)('the outlines and bonds of %s are drawn where they are', (device) => {
    const model = demoModel(device);
    for (const part of model.anatomy.parts) {
      const [ring] = ringsOf(outlinePath(part.outline));
      expect(ring).toHaveLength(ringOf(part.outline).length);
      expect(areaOf([ring!])).toBeCloseTo(areaOf([ringOf(part.outline)]), 0);
    }
    for (const bond of model.anatomy.bonds) {
      const region: Region = bondRegion(bond, (id) => model.parts.get(id)!.outline);
      const polygons = (Array.isArray(region[0]?.[0]?.[0]) ? region : [region]) as number[][][][];
      expect(ringsOf(bondPath(model, bond.id)).length).toBe(polygons.flat().length);
    }
  });
  it.each(DEVICES)('above an item of %s lies what covers it and leaves first', (device) => {
    const model = demoModel(device);
    let found = 0;
    for (const id of model.items.keys()) {
      for (const above of partsAbove(model, id)) {
        found++;
        expect(model.layerOf(above)).toBeLessThan(model.layerOf(id));
        expect(regionsOverlap(model.accessOf(above), model.accessOf(id))).toBe(true);
      }
    }
    expect(found).toBeGreaterThan(10);
  });
});

describe('looked up beforehand', () => {
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => vi.useRealTimers());

  it('in slices, each of them short, until all is known; and stopped when the screen is left', async () => {
    const model = demoModel('pellworth-nacre-2');
    const overlaps = vi.spyOn(model, 'overlaps');
    const stop = prepareGeometry(model);
    expect(overlaps).not.toHaveBeenCalled();
    await vi.advanceTimersByTimeAsync(20);
    stop();
    const asked = overlaps.mock.calls.length;
    expect(asked).toBeGreaterThan(0);
    await vi.advanceTimersByTimeAsync(5000);
    expect(overlaps).toHaveBeenCalledTimes(asked);
    prepareGeometry(model);
    await vi.advanceTimersByTimeAsync(60_000);
    const movable = model.anatomy.parts.filter((p) => !p.fixed).length;
    expect(overlaps.mock.calls.length).toBeGreaterThanOrEqual(asked + movable * model.items.size);
  });
});
