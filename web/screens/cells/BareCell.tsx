import { useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { ratingOf, transplantFaults, type BareCell as Bare, type OldPack } from '../../../core/cells/index.ts';
import { readNumber } from '../../../core/units/index.ts';

const FIELDS = [
  ['volts', 'V'],
  ['milliampHours', 'mAh'],
  ['chargeVolts', 'charged to, V'],
  ['width', 'wide, mm'],
  ['height', 'high, mm'],
  ['thickness', 'thick, mm'],
] as const;
type Key = (typeof FIELDS)[number][0];
type Texts = Record<Key, string>;

/** The numbers of a cell as they are typed; `null` while one of them is none. */
function cellOf(texts: Texts, cells: number): Bare | null {
  const v = Object.fromEntries(FIELDS.map(([key]) => [key, readNumber(texts[key])])) as Record<Key, number | null>;
  if (Object.values(v).some((n) => n === null || n <= 0)) return null;
  const { volts, milliampHours, chargeVolts, width, height, thickness } = v as Record<Key, number>;
  return { volts, milliampHours, cells, chargeVolts, size: { width, height, thickness } };
}

/** The bare cell against the old pack, both as they are measured: what speaks against joining them. */
export function BareCell({ model, fits }: { model: Model; fits: (whole: boolean) => void }) {
  const old = ratingOf(model.anatomy);
  const begun: Texts = {
    volts: String(old.volts),
    milliampHours: String(old.milliampHours),
    chargeVolts: '',
    width: '',
    height: '',
    thickness: '',
  };
  const [texts, setTexts] = useState({ bare: begun, pack: begun });
  const [room, setRoom] = useState('');
  const faultsOf = (now: typeof texts, boardRoom: number | null): string[] | null => {
    const [bare, pack] = [cellOf(now.bare, 1), cellOf(now.pack, old.cells)];
    return bare && pack && boardRoom !== null ? transplantFaults(bare, { ...pack, boardRoom } satisfies OldPack) : null;
  };
  const change = (now: typeof texts, typed: string) => {
    setTexts(now);
    setRoom(typed);
    fits(faultsOf(now, readNumber(typed))?.length === 0);
  };
  const faults = faultsOf(texts, readNumber(room));
  return (
    <fieldset className="grid gap-2">
      <legend className="label">Do they belong together? Both labels, both measured</legend>
      {(['bare', 'pack'] as const).map((which) => (
        <div key={which} className="flex flex-wrap gap-2">
          <span className="w-24 self-center font-semibold">{which === 'bare' ? 'Bare cell' : 'Old pack'}</span>
          {FIELDS.map(([key, label]) => (
            <label key={key} className="w-24">
              <span className="label">{label}</span>
              <input
                className="field num px-2"
                inputMode="decimal"
                aria-label={`${which === 'bare' ? 'Bare cell' : 'Old pack'}, ${label}`}
                value={texts[which][key]}
                onChange={(e) => change({ ...texts, [which]: { ...texts[which], [key]: e.target.value } }, room)}
              />
            </label>
          ))}
        </div>
      ))}
      <label className="w-52">
        <span className="label">Room for board and fold, mm</span>
        <input className="field num" inputMode="decimal" value={room} onChange={(e) => change(texts, e.target.value)} />
      </label>
      {faults === null ? (
        <p className="text-quiet">Every number is asked for.</p>
      ) : faults.length === 0 ? (
        <p className="font-semibold text-moss">✓ They belong together.</p>
      ) : (
        faults.map((f) => (
          <p key={f} className="font-semibold text-crimson">
            ✗ {f}
          </p>
        ))
      )}
    </fieldset>
  );
}
