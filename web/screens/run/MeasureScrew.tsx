import { useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { isOver, screwToMeasure, type RunState } from '../../../core/run/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';

/** A screw that nobody has measured has come out: its length is asked for while it lies there. It stops nobody. */
export function MeasureScrew({ model, state }: { model: Model; state: RunState }) {
  const { record } = useRunOf('record');
  const [text, setText] = useState('');
  const [later, setLater] = useState<string | null>(null);
  const id = screwToMeasure(state);
  if (id === null || isOver(state) || later === id) return null;
  const length = readNumber(text);
  const fits = length !== null && length > 0 && length <= 60;
  return (
    <form
      aria-label={`Measure ${id}`}
      data-testid="measure-screw"
      className="panel flex flex-wrap items-end gap-3 p-4"
      onSubmit={(e) => {
        e.preventDefault();
        if (fits && record([{ type: 'screw-measured', fastener: id, length }])) setText('');
      }}
    >
      <p className="text-xl">
        Nobody has measured <b>{model.nameOf(id)}</b>. How long is it, under its head?
      </p>
      <label className="w-28">
        <span className="label">mm</span>
        <input className="field num" inputMode="decimal" value={text} onChange={(e) => setText(e.target.value)} />
      </label>
      <Button type="submit" className="min-h-14 text-lg" disabled={!fits}>
        Record
      </Button>
      <Button type="button" weight="quiet" className="min-h-14 text-lg" onClick={() => setLater(id)}>
        Not now
      </Button>
    </form>
  );
}
