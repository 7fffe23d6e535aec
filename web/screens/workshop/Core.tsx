import { ChevronDown, ChevronUp, Eye, Layers, Play, Square } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { Anatomy, Part } from '../../../core/anatomy/index.ts';
import type { PlateInfo } from '../../../core/jobs/index.ts';
import { depthColour } from '../../drawing/depth.ts';
import { setOf } from '../../state/draft.ts';
import type { Made } from './acts.ts';
import { useBoard } from './board.ts';

/** How long one layer is looked at while the device is peeled, ms. Origin: own choice. */
const PEEL_MS = 900;

/** The parts that lie directly in the device on a face, by layer. */
export function layersOf(anatomy: Anatomy, face: 'front' | 'back'): Map<number, Part[]> {
  const layers = new Map<number, Part[]>();
  for (const p of anatomy.parts)
    if (!p.fixed && p.within === null && p.face === face) layers.set(p.layer, [...(layers.get(p.layer) ?? []), p]);
  return new Map([...layers].sort(([a], [b]) => a - b));
}

/**
 * The stack of the device as a core sample: a slab for each layer, in the colours of depth, thickest where most lies.
 * A part is drawn a layer deeper by dragging its name onto another slab, or with its arrows.
 */
export function Core({
  anatomy,
  plates,
  act,
}: {
  anatomy: Anatomy;
  plates: readonly PlateInfo[];
  act: (made: Made) => void;
}) {
  const { face, layer, solo, selected, set, select } = useBoard();
  const layers = layersOf(anatomy, face);
  const deepest = Math.max(1, ...layers.keys());
  const [peeling, setPeeling] = useState(false);
  const [over, setOver] = useState<number | null>(null);
  useEffect(() => {
    if (!peeling) return;
    const timer = setInterval(() => {
      const b = useBoard.getState();
      if (b.layer >= deepest) setPeeling(false);
      else b.set({ layer: b.layer + 1 });
    }, PEEL_MS);
    return () => clearInterval(timer);
  }, [peeling, deepest]);
  const toLayer = (part: string, to: number) =>
    act({ label: `${part} to layer ${to}`, changes: [setOf(anatomy, 'parts', part, 'layer', to)], select: [part] });
  const count = (parts: readonly Part[]) =>
    parts.length + anatomy.fasteners.filter((f) => f.holds.some((id) => parts.some((p) => p.id === id))).length;
  // The surface, every layer that holds something, the one that is looked at, and the next one deeper.
  const shown = [...new Set([0, ...layers.keys(), layer, deepest + (layers.has(deepest) ? 1 : 0)])].sort(
    (a, b) => a - b,
  );
  const key =
    'grid min-h-12 flex-1 place-items-center rounded-lg hover:bg-sunk aria-pressed:bg-petrol aria-pressed:text-on-petrol';
  return (
    <section aria-label="Layers" className="panel grid min-h-0 grid-rows-[auto_minmax(0,1fr)_auto] gap-2 p-2">
      <div className="flex gap-1" role="group" aria-label="Face">
        {(['front', 'back'] as const).map((f) => (
          <button
            key={f}
            type="button"
            className={key}
            aria-pressed={face === f}
            onClick={() => set({ face: f, layer: 0 })}
          >
            {f === 'front' ? 'Front' : 'Back'}
          </button>
        ))}
      </div>
      <ol className="flex min-h-0 flex-col overflow-auto">
        {shown.map((n) => {
          const parts = layers.get(n) ?? [];
          const off = n < layer;
          const has = plates.some((p) => p.face === face && p.layer === n);
          return (
            <li
              key={n}
              data-layer={n}
              className={`relative shrink-0 border-l-[14px] pl-2 ${over === n ? 'bg-sunk' : ''} ${off ? 'opacity-45' : ''}`}
              style={{
                borderColor: depthColour(n / Math.max(1, deepest)),
                minHeight: `${48 + 5 * Math.min(20, count(parts))}px`,
              }}
              onDragOver={(e) => {
                e.preventDefault();
                setOver(n);
              }}
              onDragLeave={() => setOver(null)}
              onDrop={(e) => {
                e.preventDefault();
                setOver(null);
                const id = e.dataTransfer.getData('text/plain');
                if (anatomy.parts.some((p) => p.id === id && p.layer !== n)) toLayer(id, n);
              }}
            >
              <button
                type="button"
                className={`flex min-h-12 w-full items-center justify-between gap-1 text-left ${layer === n ? 'font-bold' : ''}`}
                aria-pressed={layer === n}
                onClick={() => set({ layer: n, points: [] })}
              >
                <span>
                  {n === 0 ? 'Surface' : `Layer ${n}`}
                  {layer === n && <span className="sr-only">, looked at</span>}
                </span>
                {has && <Eye className="size-4" aria-label="has a photograph" />}
              </button>
              {layer === n && (
                <ul>
                  {parts.map((p) => (
                    <li
                      key={p.id}
                      className="flex items-center"
                      draggable
                      onDragStart={(e) => e.dataTransfer.setData('text/plain', p.id)}
                    >
                      <button
                        type="button"
                        className={`min-h-10 min-w-0 flex-1 truncate text-left text-sm ${selected.includes(p.id) ? 'font-bold underline' : ''}`}
                        onClick={() => select([p.id])}
                      >
                        {p.name}
                      </button>
                      {selected.includes(p.id) && (
                        <>
                          <button
                            type="button"
                            className="grid size-9 place-items-center rounded hover:bg-sunk"
                            aria-label={`${p.name} a layer up`}
                            disabled={n === 0}
                            onClick={() => toLayer(p.id, n - 1)}
                          >
                            <ChevronUp className="size-4" />
                          </button>
                          <button
                            type="button"
                            className="grid size-9 place-items-center rounded hover:bg-sunk"
                            aria-label={`${p.name} a layer deeper`}
                            onClick={() => toLayer(p.id, n + 1)}
                          >
                            <ChevronDown className="size-4" />
                          </button>
                        </>
                      )}
                    </li>
                  ))}
                  {parts.length === 0 && <li className="pb-2 text-sm text-quiet">Nothing lies here yet.</li>}
                </ul>
              )}
            </li>
          );
        })}
      </ol>
      <div className="flex gap-1">
        <button
          type="button"
          className={key}
          aria-pressed={solo}
          onClick={() => set({ solo: !solo })}
          aria-label="This layer alone"
        >
          <Layers />
        </button>
        <button
          type="button"
          className={key}
          aria-pressed={peeling}
          aria-label={peeling ? 'Stop peeling' : 'Peel layer by layer'}
          onClick={() => {
            if (!peeling && layer >= deepest) set({ layer: 0 });
            setPeeling(!peeling);
          }}
        >
          {peeling ? <Square /> : <Play />}
        </button>
      </div>
    </section>
  );
}
