import { bondRegion, ringOf, type Model, type Outline, type Region } from '../../core/anatomy/index.ts';

/*
 * What the drawing of a device needs of its geometry. Polygons take milliseconds to cut, and stay as they are: each is
 * cut once for a device, and all of them beforehand, while nothing else is to be done.
 */

const ringPath = (ring: readonly (readonly number[])[]): string =>
  `M${ring.map(([x, y]) => `${x!.toFixed(2)} ${y!.toFixed(2)}`).join('L')}Z`;

function regionPath(region: Region): string {
  const polygons = (Array.isArray(region[0]?.[0]?.[0]) ? region : [region]) as number[][][][];
  return polygons.flat().map(ringPath).join('');
}

const outlines = new WeakMap<Outline, string>();

/** An outline as the `d` of a path, in mm. */
export function outlinePath(outline: Outline): string {
  let path = outlines.get(outline);
  if (path === undefined) {
    path = ringPath(ringOf(outline));
    outlines.set(outline, path);
  }
  return path;
}

/**
 * What a drawing shows, as a `viewBox`: a box of the device with room about it, in mm, seen from its back where mirrored.
 * @param across mm of the body
 */
export function viewBoxOf(
  box: { x: number; y: number; width: number; height: number },
  room: number,
  { across, mirrored }: { across: number; mirrored: boolean },
): string {
  const x = mirrored ? across - box.x - box.width : box.x;
  return [x - room, box.y - room, box.width + 2 * room, box.height + 2 * room].join(' ');
}

/** What was found out about the items of a device, by kind and id. */
class Known<T> {
  private readonly byModel = new WeakMap<Model, Map<string, T>>();
  constructor(private readonly find: (model: Model, id: string) => T) {}
  of(model: Model, id: string): T {
    const known = this.byModel.get(model) ?? new Map<string, T>();
    this.byModel.set(model, known);
    if (!known.has(id)) known.set(id, this.find(model, id));
    return known.get(id)!;
  }
}

const bonds = new Known((model, id) =>
  regionPath(bondRegion(model.bonds.get(id)!, (part) => model.parts.get(part)!.outline)),
);

/** The ground that a bond covers as the `d` of a path, in mm. */
export const bondPath = (model: Model, id: string): string => bonds.of(model, id);

const aboves = new Known((model, id) =>
  model.anatomy.parts
    .filter(
      (p) =>
        p.within === null && p.layer < model.layerOf(id) && p.face === model.faceOf(id) && model.overlaps(p.id, id),
    )
    .map((p) => p.id),
);

/** The parts of the device itself that lie above an item. */
export const partsAbove = (model: Model, id: string): readonly string[] => aboves.of(model, id);

/** A frame's worth of spare time, ms. */
const SLICE_MS = 8;

/**
 * Finds out in idle time what the drawing of a device, and the rules that a press is held against, will ask of its
 * geometry.
 * @returns what ends it
 */
export function prepareGeometry(model: Model): () => void {
  const left = [...model.items.keys()];
  let timer: ReturnType<typeof setTimeout> | undefined;
  const slice = () => {
    const until = performance.now() + SLICE_MS;
    while (left.length > 0 && performance.now() < until) {
      const id = left.pop()!;
      const part = model.parts.get(id);
      if (part) outlinePath(part.outline);
      if (model.bonds.has(id)) bondPath(model, id);
      for (const { id: other, fixed } of model.anatomy.parts) if (!fixed) model.overlaps(other, id);
    }
    // A pause after each slice leaves the page to whoever uses it.
    if (left.length > 0) timer = setTimeout(slice, 2 * SLICE_MS);
  };
  timer = setTimeout(slice, 2 * SLICE_MS);
  return () => clearTimeout(timer);
}
