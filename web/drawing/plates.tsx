import type { Model } from '../../core/anatomy/index.ts';
import type { PlateInfo } from '../../core/jobs/index.ts';
import { Check } from '../controls/index.tsx';
import { usePrefs } from '../state/prefs.ts';
import { useLoad } from '../state/useLoad.ts';

/**
 * The photograph of a face that shows a layer best: the one with the most off that still has the layer in it, the
 * newest of several; `null` where there is none.
 */
export function plateAt(plates: readonly PlateInfo[], face: 'front' | 'back', layer: number): PlateInfo | null {
  const here = plates.filter((p) => p.face === face && p.layer <= layer);
  here.sort((a, b) => b.layer - a.layer || b.createdAt.localeCompare(a.createdAt));
  return here[0] ?? null;
}

/** The layer that items lie in, of the device itself; 0 for none. */
export function layerOfItems(model: Model, items: Iterable<string>): number {
  const layers = [...items].flatMap((id) => {
    if (!model.items.has(id)) return [];
    let at = id;
    for (let context = model.contextOf(at); context !== null && model.items.has(context); context = model.contextOf(at))
      at = context;
    return [model.layerOf(at)];
  });
  return layers.length > 0 ? Math.min(...layers) : 0;
}

/** The address of the photograph beneath a drawing, where there is one and it is wanted. */
export function useBeneath(
  device: string | null,
  face: 'front' | 'back',
  layer: number,
): { beneath: string | null; there: boolean } {
  const { photographs } = usePrefs();
  const { data } = useLoad<PlateInfo[]>(device === null ? null : `/anatomies/${device}/plates`);
  const plate = data ? plateAt(data, face, layer) : null;
  return { beneath: plate && photographs ? `/api/photos/${plate.plate}` : null, there: (data?.length ?? 0) > 0 };
}

/** Shown where a device has photographs: the drawing lies over them, or alone. */
export function BeneathSwitch({ there }: { there: boolean }) {
  const { photographs, setPhotographs } = usePrefs();
  if (!there) return null;
  return (
    <Check checked={photographs} onChange={(e) => setPhotographs(e.target.checked)} className="text-sm">
      On the photograph
    </Check>
  );
}
