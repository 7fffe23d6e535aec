import { useMemo, useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { Button, Check } from '../../controls/index.tsx';
import { DeviceDrawing } from '../../drawing/DeviceDrawing.tsx';

/** The parts that are to be replaced, each with its spare where several are offered. */
export function Parts({
  model,
  replace,
  setReplace,
  spares,
  setSpares,
}: {
  model: Model;
  replace: string[];
  setReplace: (ids: string[]) => void;
  spares: Record<string, string>;
  setSpares: (s: Record<string, string>) => void;
}) {
  const parts = model.anatomy.parts.filter((p) => !p.fixed);
  const picked = useMemo(() => new Set(replace), [replace]);
  const toggle = (id: string) => setReplace(picked.has(id) ? replace.filter((r) => r !== id) : [...replace, id]);
  const [face, setFace] = useState<'front' | 'back'>(
    parts.filter((p) => p.face === 'back').length > parts.length / 2 ? 'back' : 'front',
  );
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_9.5rem] gap-4 sm:grid-cols-[minmax(0,1fr)_12rem]">
      <fieldset className="min-w-0">
        <legend className="label">Parts to replace</legend>
        <div className="grid max-h-80 gap-x-3 overflow-auto sm:grid-cols-2">
          {parts.map((p) => (
            <Check key={p.id} checked={picked.has(p.id)} onChange={() => toggle(p.id)}>
              <span className="leading-tight">{p.name}</span>
            </Check>
          ))}
        </div>
        {replace.map((part) => {
          const offered = model.anatomy.spares.filter((s) => s.replaces === part);
          return (
            offered.length > 1 && (
              <label key={part} className="mt-2 block">
                <span className="label">Spare for {model.nameOf(part)}</span>
                <select
                  className="field"
                  value={spares[part] ?? offered[0]!.id}
                  onChange={(e) => setSpares({ ...spares, [part]: e.target.value })}
                >
                  {offered.map((s) => (
                    <option key={s.id} value={s.id}>
                      {s.name}
                    </option>
                  ))}
                </select>
              </label>
            )
          );
        })}
      </fieldset>
      <div>
        <DeviceDrawing
          model={model}
          face={face}
          picked={picked}
          label={`${model.anatomy.name}, ${face}`}
          className="max-h-80 w-full"
        />
        <Button weight="quiet" className="w-full" onClick={() => setFace(face === 'front' ? 'back' : 'front')}>
          Turn over
        </Button>
      </div>
    </div>
  );
}
