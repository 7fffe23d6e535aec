import { Undo2 } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { specOf, type ActKind } from '../../../core/explore/index.ts';
import { Key } from '../../controls/index.tsx';
import type { Field } from './useField.ts';
import { calledThing, inHand, KEYS, WAY_SPECS, type Way } from './ways.ts';

/** One key each, wherever the focus is. */
export function useKeys(field: Field, turn: () => void) {
  const now = useRef({ field, turn });
  now.current = { field, turn };
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      if (e.ctrlKey || e.metaKey || e.altKey || target.closest('input, select, textarea')) return;
      const { field: f, turn: round } = now.current;
      const way = KEYS.find((w) => WAY_SPECS[w].key === e.key.toLowerCase());
      if (way) choose(f, way);
      else if (e.key === 'Backspace') f.takeBack();
      else if (e.key.toLowerCase() === 'm') f.act('turned-over', null, {});
      else if (e.key.toLowerCase() === 'r') round();
      else return;
      e.preventDefault();
      // The ground takes the taps of the keyboard.
      document.querySelector<SVGSVGElement>('[data-testid=ground]')?.focus();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}

function choose(field: Field, way: Way): void {
  const held = inHand(way, field.open);
  // What is in hand needs no place: it is where it was.
  if (held && (way === 'cut' || way === 'off' || way === 'swing')) {
    const { act } = WAY_SPECS[way];
    field.act(act!, held.id, { on: held.seen.on ?? null, tool: way === 'cut' ? 'pick' : null });
  }
  field.setWay(way);
}

const KEY = 'flex min-h-12 items-center justify-between gap-2 rounded-lg px-3 text-left font-semibold';

/** Acts as large keys along the thumb's edge. */
export function ActKeys({ field }: { field: Field }) {
  const { way, open } = field;
  const plug = field.thing?.type === 'connector' ? field.thing : null;
  const seam = inHand('cut', open) ?? null;
  const extra: [ActKind, string, string | null, boolean][] = [
    ['turned-over', 'Turned over', 'm', true],
    ['bent-aside', 'Flex aside', null, plug !== null && plug.stands === 'undone'],
    ['wetted', 'Solvent run in', null, seam !== null],
  ];
  return (
    <nav
      aria-label="Acts"
      className={
        'grid min-h-0 content-start gap-1.5 overflow-auto max-lg:sticky max-lg:bottom-0 max-lg:z-10 max-lg:order-2 ' +
        'max-lg:flex max-lg:overflow-x-auto max-lg:bg-ground max-lg:py-1 max-lg:[&>button]:min-w-36 ' +
        'max-lg:[&>button]:shrink-0 max-lg:[&>label]:min-w-44'
      }
    >
      {KEYS.map((w) => (
        <button
          key={w}
          type="button"
          aria-pressed={w === way}
          data-way={w}
          className={`${KEY} ${w === way ? 'bg-petrol text-on-petrol' : 'bg-panel'}`}
          onClick={(e) => {
            e.currentTarget.blur();
            choose(field, w);
          }}
        >
          {WAY_SPECS[w].word} <Key of={WAY_SPECS[w].key!} />
        </button>
      ))}
      {extra
        .filter(([, , , shown]) => shown)
        .map(([act, word, key]) => (
          <button
            key={act}
            type="button"
            className={`${KEY} bg-sunk`}
            onClick={(e) => {
              e.currentTarget.blur();
              const of = { connector: plug, bond: seam }[specOf(act).of as 'connector' | 'bond'];
              field.act(act, of?.id ?? null, {});
            }}
          >
            {word} {key && <Key of={key} />}
          </button>
        ))}
      <button
        type="button"
        data-testid="back"
        disabled={field.open.acts.length === 0}
        className={`${KEY} border-2 border-line disabled:opacity-45`}
        onClick={(e) => {
          e.currentTarget.blur();
          field.takeBack();
        }}
      >
        <span className="flex items-center gap-2">
          <Undo2 aria-hidden="true" size={20} /> Take back
        </span>
        <Key of="Backspace" />
      </button>
      <Where field={field} />
      <p className="px-1 text-sm text-quiet max-lg:hidden">
        The {open.up} is up; {open.bare[open.up]} {open.bare[open.up] === 1 ? 'layer' : 'layers'} off.
      </p>
    </nav>
  );
}

/** Which ground is worked on: the device, or the inner side of a part that stands open or is off. */
function Where({ field }: { field: Field }) {
  const parts = [...field.open.things.values()].filter((t) => t.type === 'part' && t.stands !== 'in');
  if (parts.length === 0) return null;
  return (
    <label>
      <span className="label">Worked on</span>
      <select className="field" value={field.on ?? ''} onChange={(e) => field.setOn(e.target.value || null)}>
        <option value="">the device</option>
        {parts.map((t) => (
          <option key={t.id} value={t.id}>
            {calledThing(t)}
          </option>
        ))}
      </select>
    </label>
  );
}
