import { isWithin, type Bounds } from '../../core/format/index.ts';
import { boundsSaid } from './bounds.ts';
import { useState } from 'react';
import { readNumber } from '../../core/units/index.ts';

/** A number as it is typed, with a point or a comma; what does not fit is said beside it. */
export function NumberField({
  label,
  value,
  bounds,
  onChange,
}: {
  label: string;
  value: number;
  /** What fits; where a format asks for it, what the format says. */
  bounds: Bounds;
  /** Not a number while what stands in the field does not fit: what was computed of another value is not to stand. */
  onChange: (value: number) => void;
}) {
  const [text, setText] = useState(String(value));
  const [seen, setSeen] = useState(value);
  const fits = (v: number | null): v is number => v !== null && isWithin(bounds, v);
  // What is set from elsewhere, a recipe or another source, is what stands there.
  if (Number.isFinite(value) && value !== seen) {
    setSeen(value);
    if (readNumber(text) !== value) setText(String(value));
  }
  const wrong = !fits(readNumber(text));
  return (
    <label className="w-32">
      <span className="label">{label}</span>
      <input
        className="field num"
        inputMode="decimal"
        value={text}
        aria-invalid={wrong}
        onChange={(e) => {
          const read = readNumber(e.target.value);
          setText(e.target.value);
          if (fits(read)) setSeen(read);
          onChange(fits(read) ? read : Number.NaN);
        }}
      />
      {wrong && <span className="block text-sm text-crimson">{boundsSaid(bounds)}</span>}
    </label>
  );
}
