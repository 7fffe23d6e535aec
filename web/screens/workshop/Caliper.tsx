import { useEffect, useRef, useState } from 'react';
import type { Anatomy } from '../../../core/anatomy/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button } from '../../controls/index.tsx';
import { useDraft } from '../../state/draft.ts';
import type { Made } from './acts.ts';
import { useBoard } from './board.ts';
import { limits } from './fields.ts';
import { NumberInput } from './inputs.tsx';
import { lengthChanges } from './ScrewTable.tsx';

/** A caliper reads to so much, mm; a length is written to a twentieth. */
const STEP_MM = 0.05;
const rounded = (mm: number): number => Math.round(mm / STEP_MM) * STEP_MM;

/** Lengths of the screws one after another: typed, pasted as a column, or from the caliper. */
export function Caliper({ anatomy, act }: { anatomy: Anatomy; act: (made: Made) => void }) {
  const { selected, select, face } = useBoard();
  const draft = useDraft((s) => s.id);
  const [measuring, setMeasuring] = useState(false);
  const [measured, setMeasured] = useState<ReadonlySet<string>>(new Set());
  const [pasted, setPasted] = useState('');
  const [wrong, setWrong] = useState<string | null>(null);
  const stream = useRef<EventSource | null>(null);
  useEffect(() => () => stream.current?.close(), []);
  const screws = anatomy.fasteners.filter((f) => f.face === face || selected.includes(f.id));
  const at = Math.max(
    0,
    screws.findIndex((f) => f.id === selected[0]),
  );
  const one = screws[at];
  const next = () => screws[at + 1] && select([screws[at + 1]!.id]);
  const set = (entries: readonly (readonly [string, number])[], label: string) => {
    // Several of one document: each on what the one before left.
    const changes = entries.flatMap(([id, mm]) =>
      lengthChanges(useDraft.getState().anatomy ?? anatomy, id, Math.round(rounded(mm) * 100) / 100),
    );
    act({ label, changes, select: [entries.at(-1)![0]] });
    setMeasured((m) => new Set([...m, ...entries.map(([id]) => id)]));
  };
  const paste = () => {
    const numbers = pasted
      .split(/[\n;\t]+/)
      .map((t) => t.trim())
      .filter((t) => t !== '')
      .map((t) => readNumber(t));
    const bad = numbers.findIndex((v) => v === null || v < 0.3 || v > 60);
    const from = screws.slice(at, at + numbers.length);
    if (bad >= 0) setWrong(`line ${bad + 1} is no length of 0.3 to 60 mm; nothing was taken`);
    else if (numbers.length > from.length)
      setWrong(`${numbers.length} lengths for the ${from.length} screws from here on; nothing was taken`);
    else if (numbers.length > 0) {
      setWrong(null);
      set(
        from.map((f, i) => [f.id, numbers[i]!] as const),
        `Lengths of ${numbers.length} screws`,
      );
      setPasted('');
    }
  };
  const measure = () => {
    setMeasuring(true);
    const ids = screws.slice(at).map((f) => f.id);
    stream.current = new EventSource(`/api/workshop/drafts/${draft}/caliper?screws=${ids.join()}`);
    stream.current.addEventListener('piece', (e) => {
      const { screw, length } = JSON.parse((e as MessageEvent<string>).data) as { screw: string; length: number };
      set([[screw, length]], `Length of ${screw}`);
    });
    const end = () => {
      stream.current?.close();
      setMeasuring(false);
    };
    stream.current.addEventListener('end', end);
    stream.current.onerror = end;
  };
  if (!one) return <p className="text-quiet">There is no screw on this face yet.</p>;
  return (
    <div className="grid content-start gap-3">
      <p className="text-lg">
        <b>{one.id}</b> <span className="num">{one.drive}</span>, holds {one.holds.join(', ')}
      </p>
      <div className="flex items-end gap-2">
        <NumberInput
          key={one.id}
          label={`Length of ${one.id}`}
          value={one.length}
          bounds={limits('fasteners', 'length')}
          onChange={(mm) => set([[one.id, mm as number]], `Length of ${one.id}`)}
          onEnter={next}
        />
        <Button onClick={next} disabled={!screws[at + 1]}>
          Next
        </Button>
      </div>
      <p className="text-sm text-quiet">
        {at + 1} of {screws.length}, {measured.size} measured. Enter goes on to the next.
      </p>
      <Button onClick={measuring ? () => stream.current?.close() : measure} disabled={measuring}>
        {measuring ? 'Measuring…' : 'Measure from here on (simulated caliper)'}
      </Button>
      <label className="grid gap-1">
        <span className="text-sm text-quiet">A column of lengths, from this screw on</span>
        <textarea
          className="rounded-lg border border-line bg-ground p-2 font-mono"
          rows={4}
          value={pasted}
          onChange={(e) => setPasted(e.target.value)}
        />
      </label>
      {wrong && <p className="text-crimson">{wrong}</p>}
      <Button onClick={paste} disabled={pasted.trim() === ''}>
        Take the column
      </Button>
    </div>
  );
}
