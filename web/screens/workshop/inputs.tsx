import { useId, useState, type ReactNode } from 'react';
import { readNumber } from '../../../core/units/index.ts';
import {
  EDGES,
  FACES,
  MOTION_FROM,
  MOTIONS,
  boundsOf,
  DRIVES,
  type Anatomy,
  type Bond,
  type Connector,
  type Fastener,
  type Latch,
  type Limits,
  type EdgeGap,
  type Motion,
  type Outline,
  type Part,
  type Point,
} from '../../../core/anatomy/index.ts';
import { same } from '../../../core/draft/index.ts';
import { Button, Check } from '../../controls/index.tsx';
import { boundsSaid } from '../../controls/bounds.ts';
import { limits, namesOf, type Field, type Named } from './fields.ts';
import { isWithin, type Bounds } from '../../../core/format/index.ts';

/*
 * Fields of the inspector. What is typed becomes one edit when it is left or confirmed with Enter; what is refused stays there.
 */

type Change = (to: unknown) => void;

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[7.5rem_minmax(0,1fr)] items-center gap-2">
      <span className="text-sm text-quiet">{label}</span>
      <div className="flex min-w-0 flex-wrap items-center gap-1.5">{children}</div>
    </div>
  );
}

const small = 'min-h-11 rounded-lg border border-line bg-ground px-2 py-1 text-ink';

/**
 * What is typed, until what is so becomes another: then that stands there, in the same stroke. An effect would come a moment later,
 * and a field that is left meanwhile would take what was so before for typed.
 */
function useTyped(so: string): [text: string, type: (text: string) => void] {
  const [text, type] = useState(so);
  const [seen, setSeen] = useState(so);
  if (so !== seen) {
    setSeen(so);
    type(so);
  }
  return [text, type];
}

export function TextInput({
  label,
  value,
  onChange,
  long,
}: {
  label: string;
  value: string;
  onChange: Change;
  long?: boolean;
}) {
  const [text, type] = useTyped(value);
  const done = () => text.trim() !== value && onChange(text.trim());
  const common = { 'aria-label': label, className: `${small} w-full`, value: text, onBlur: done };
  return long ? (
    <textarea {...common} rows={2} onChange={(e) => type(e.target.value)} />
  ) : (
    <input {...common} onChange={(e) => type(e.target.value)} onKeyDown={(e) => e.key === 'Enter' && done()} />
  );
}

/** A number that is typed, with a point or a comma; what does not fit is said and not taken. */
export function NumberInput({
  label,
  value,
  bounds,
  unit = bounds.unit,
  none,
  onChange,
  width = 'w-24',
  onEnter,
}: {
  label: string;
  value: number | null;
  /** What the format, or whatever else asks for it, takes. */
  bounds: Bounds;
  /** Another word beside it than the format's; `''` is none. */
  unit?: string | undefined;
  none?: boolean | undefined;
  onChange: Change;
  width?: string;
  onEnter?: () => void;
}) {
  const shown = value === null ? '' : String(value);
  const [text, type] = useTyped(shown);
  const read = text.trim() === '' ? null : readNumber(text);
  const fits = read === null ? Boolean(none) && text.trim() === '' : isWithin(bounds, read);
  const done = () => {
    if (fits && read !== value) onChange(read);
    // What stands there is what is so; a change that was taken shows itself.
    type(shown);
  };
  return (
    <span className="flex items-center gap-1">
      <input
        aria-label={label}
        aria-invalid={!fits}
        title={fits ? undefined : boundsSaid(bounds)}
        inputMode="decimal"
        className={`${small} num ${width} aria-invalid:border-crimson`}
        value={text}
        onChange={(e) => type(e.target.value)}
        onBlur={done}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return;
          // A number is taken, not the form that it stands in.
          e.preventDefault();
          done();
          onEnter?.();
        }}
      />
      {unit && <span className="text-sm text-quiet">{unit}</span>}
    </span>
  );
}

export function Select({
  label,
  value,
  of,
  none,
  onChange,
}: {
  label: string;
  value: string | null;
  of: readonly (string | { id: string; name: string })[];
  none?: boolean | undefined;
  onChange: Change;
}) {
  const options = of.map((o) => (typeof o === 'string' ? { id: o, name: o } : o));
  const known = value === null || options.some((o) => o.id === value);
  return (
    <select
      aria-label={label}
      className={`${small} w-full min-w-0`}
      value={value ?? ''}
      onChange={(e) => onChange(e.target.value === '' ? null : e.target.value)}
    >
      {(none || value === null) && <option value="">none</option>}
      {!known && <option value={value}>{value} (missing)</option>}
      {options.map((o) => (
        <option key={o.id} value={o.id}>
          {o.name}
        </option>
      ))}
    </select>
  );
}

/** Ids in a list: each can be taken out, another put in. */
export function Many({
  label,
  value,
  anatomy,
  of,
  onChange,
}: {
  label: string;
  value: readonly string[];
  anatomy: Anatomy;
  of: Named;
  onChange: Change;
}) {
  const all = namesOf(anatomy, of);
  return (
    <>
      {value.map((id) => (
        <button
          key={id}
          type="button"
          className={`min-h-9 rounded-full px-3 text-sm ${all.some((n) => n.id === id) ? 'bg-sunk' : 'bg-crimson text-on-job'}`}
          aria-label={`${label}: take out ${id}`}
          onClick={() => onChange(value.filter((v) => v !== id))}
        >
          {id} ×
        </button>
      ))}
      <select
        aria-label={`${label}: add`}
        className={`${small} w-24`}
        value=""
        onChange={(e) => e.target.value && onChange([...value, e.target.value])}
      >
        <option value="">+ add</option>
        {all
          .filter((n) => !value.includes(n.id))
          .map((n) => (
            <option key={n.id} value={n.id}>
              {n.name}
            </option>
          ))}
      </select>
    </>
  );
}

function PointInput({ label, value, onChange }: { label: string; value: Point; onChange: Change }) {
  return (
    <>
      <NumberInput
        label={`${label}, x`}
        value={value[0]}
        bounds={limits('parts', 'pryAt', '0')}
        width="w-20"
        onChange={(x) => onChange([x, value[1]])}
      />
      <NumberInput
        label={`${label}, y`}
        value={value[1]}
        bounds={limits('parts', 'pryAt', '1')}
        width="w-20"
        unit="mm"
        onChange={(y) => onChange([value[0], y])}
      />
    </>
  );
}

/** An outline by its numbers; a rectangle can be made an outline of corners. */
export function OutlineInput({ value, onChange }: { value: Outline; onChange: Change }) {
  const id = useId();
  if ('circle' in value) {
    const [x, y, r] = value.circle;
    return (
      <>
        <PointInput label="Middle" value={[x, y]} onChange={(p) => onChange({ circle: [...(p as Point), r] })} />
        <NumberInput
          label="Radius"
          value={r}
          bounds={limits('parts', 'outline', 'circle', '2')}
          unit="mm radius"
          width="w-20"
          onChange={(v) => onChange({ circle: [x, y, v] })}
        />
      </>
    );
  }
  if ('polygon' in value) {
    const [x, y, w, h] = boundsOf(value);
    return (
      <details className="w-full">
        <summary className="min-h-11 content-center text-sm">
          {value.polygon.length} corners, {w.toFixed(1)} × {h.toFixed(1)} mm at {x.toFixed(1)}, {y.toFixed(1)}
        </summary>
        <ul className="grid max-h-64 gap-1 overflow-auto">
          {value.polygon.map((p, i) => (
            <li key={`${id}${i}`} className="flex items-center gap-1">
              <PointInput
                label={`Corner ${i + 1}`}
                value={p}
                onChange={(to) => onChange({ polygon: value.polygon.with(i, to as Point) })}
              />
              <button
                type="button"
                className="size-11"
                aria-label={`Take out corner ${i + 1}`}
                disabled={value.polygon.length < 4}
                onClick={() => onChange({ polygon: value.polygon.toSpliced(i, 1) })}
              >
                ×
              </button>
              <button
                type="button"
                className="size-11"
                aria-label={`Corner after ${i + 1}`}
                onClick={() => {
                  const q = value.polygon[(i + 1) % value.polygon.length]!;
                  onChange({ polygon: value.polygon.toSpliced(i + 1, 0, [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]) });
                }}
              >
                +
              </button>
            </li>
          ))}
        </ul>
      </details>
    );
  }
  const [x, y, w, h] = value.rect;
  const set = (rect: [number, number, number, number], radius = value.radius) =>
    onChange(radius ? { rect, radius } : { rect });
  return (
    <>
      <NumberInput
        label="Left"
        value={x}
        bounds={limits('parts', 'outline', 'rect', '0')}
        width="w-20"
        onChange={(v) => set([v as number, y, w, h])}
      />
      <NumberInput
        label="Top"
        value={y}
        bounds={limits('parts', 'outline', 'rect', '1')}
        width="w-20"
        unit="mm"
        onChange={(v) => set([x, v as number, w, h])}
      />
      <NumberInput
        label="Width"
        value={w}
        bounds={limits('parts', 'outline', 'rect', '2')}
        unit=""
        width="w-20"
        onChange={(v) => set([x, y, v as number, h])}
      />
      <NumberInput
        label="Height"
        value={h}
        bounds={limits('parts', 'outline', 'rect', '3')}
        width="w-20"
        unit="mm"
        onChange={(v) => set([x, y, w, v as number])}
      />
      <NumberInput
        label="Radius"
        value={value.radius ?? 0}
        bounds={limits('parts', 'outline', 'radius')}
        width="w-20"
        unit="radius"
        onChange={(v) => set([x, y, w, h], v as number)}
      />
      <Button
        weight="quiet"
        onClick={() =>
          onChange({
            polygon: [
              [x, y],
              [x + w, y],
              [x + w, y + h],
              [x, y + h],
            ],
          })
        }
      >
        To corners
      </Button>
    </>
  );
}

function MotionInput({ label, value, onChange }: { label: string; value: Motion | null; onChange: Change }) {
  if (!value)
    return (
      <Button weight="quiet" onClick={() => onChange({ how: 'lift', from: null, degrees: null })}>
        Straight; say otherwise
      </Button>
    );
  return (
    <>
      <Select label={`${label}: how`} value={value.how} of={MOTIONS} onChange={(how) => onChange({ ...value, how })} />
      <Select
        label={`${label}: from`}
        value={value.from}
        of={MOTION_FROM}
        none
        onChange={(from) => onChange({ ...value, from })}
      />
      <NumberInput
        label={`${label}: degrees`}
        value={value.degrees}
        bounds={limits('parts', 'leaves', 'degrees')}
        unit="°"
        none
        width="w-20"
        onChange={(degrees) => onChange({ ...value, degrees })}
      />
      <Button weight="quiet" onClick={() => onChange(null)}>
        Straight
      </Button>
    </>
  );
}

function SwingInput({ part, anatomy, onChange }: { part: Part; anatomy: Anatomy; onChange: Change }) {
  const { swing } = part;
  if (!swing) {
    const tether = anatomy.connectors.filter((c) => c.from === part.id).map((c) => c.id);
    return (
      <Button weight="quiet" onClick={() => onChange({ hinge: 'right', degrees: 90, tether, gap: null })}>
        It does
      </Button>
    );
  }
  return (
    <>
      <Select label="Hinge" value={swing.hinge} of={EDGES} onChange={(hinge) => onChange({ ...swing, hinge })} />
      <NumberInput
        label="Opens by"
        value={swing.degrees}
        bounds={limits('parts', 'swing', 'degrees')}
        unit="°"
        width="w-20"
        onChange={(degrees) => onChange({ ...swing, degrees })}
      />
      <Many
        label="Stay mated"
        value={swing.tether}
        anatomy={anatomy}
        of="connectors"
        onChange={(tether) => onChange({ ...swing, tether })}
      />
      <Button weight="quiet" onClick={() => onChange(null)}>
        It does not
      </Button>
    </>
  );
}

function PairingInput({ part, anatomy, onChange }: { part: Part; anatomy: Anatomy; onChange: Change }) {
  const { pairing } = part;
  return (
    <div className="grid w-full gap-2">
      {pairing.map((pair, i) => (
        <div key={i} className="grid gap-1 rounded-lg bg-sunk p-2">
          <Select
            label={`Pairing ${i + 1} with`}
            value={pair.with}
            of={namesOf(anatomy, 'parts')}
            onChange={(to) => onChange(pairing.with(i, { ...pair, with: to as string }))}
          />
          <div className="flex flex-wrap gap-1">
            <Many
              label={`Pairing ${i + 1} loses`}
              value={pair.loses}
              anatomy={anatomy}
              of="functions"
              onChange={(loses) => onChange(pairing.with(i, { ...pair, loses: loses as string[] }))}
            />
          </div>
          <TextInput
            label={`Pairing ${i + 1} remedy`}
            value={pair.remedy}
            onChange={(remedy) => onChange(pairing.with(i, { ...pair, remedy: remedy as string }))}
          />
          <Button weight="quiet" onClick={() => onChange(pairing.toSpliced(i, 1))}>
            Not paired
          </Button>
        </div>
      ))}
      <Select
        label="Pair with"
        value={null}
        of={namesOf(anatomy, 'parts').filter((p) => p.id !== part.id)}
        onChange={(to) => to && onChange([...pairing, { with: to, loses: [], remedy: '' }])}
      />
    </div>
  );
}

function BondPlace({ bond, anatomy, onChange }: { bond: Bond; anatomy: Anatomy; onChange: Change }) {
  const { at } = bond;
  if ('area' in at) return <OutlineInput value={at.area} onChange={(area) => onChange({ area })} />;
  if ('line' in at)
    return (
      <>
        <span className="text-sm">{at.line.length} points</span>
        <NumberInput
          label="Strip width"
          value={at.width}
          bounds={limits('bonds', 'at', 'width')}
          unit="mm wide"
          width="w-20"
          onChange={(width) => onChange({ ...at, width })}
        />
      </>
    );
  const gap = (i: number, change: Partial<EdgeGap>) =>
    onChange({ ...at, gaps: at.gaps.with(i, { ...at.gaps[i]!, ...change }) });
  return (
    <>
      <Select
        label="Round"
        value={at.perimeterOf}
        of={namesOf(anatomy, 'parts')}
        onChange={(perimeterOf) => onChange({ ...at, perimeterOf })}
      />
      <NumberInput
        label="Inset"
        value={at.inset}
        bounds={limits('bonds', 'at', 'inset')}
        unit="mm in"
        width="w-20"
        onChange={(inset) => onChange({ ...at, inset })}
      />
      <NumberInput
        label="Width"
        value={at.width}
        bounds={limits('bonds', 'at', 'width')}
        unit="mm wide"
        width="w-20"
        onChange={(width) => onChange({ ...at, width })}
      />
      {at.gaps.map((g, i) => (
        <span key={i} className="flex flex-wrap items-center gap-1 rounded-lg bg-sunk p-1">
          <Select
            label={`Gap ${i + 1}: edge`}
            value={g.edge}
            of={EDGES}
            onChange={(edge) => gap(i, { edge: edge as EdgeGap['edge'] })}
          />
          <NumberInput
            label={`Gap ${i + 1}: from`}
            value={g.from}
            bounds={limits('bonds', 'at', 'gaps', 'from')}
            width="w-16"
            onChange={(from) => gap(i, { from: from as number })}
          />
          <NumberInput
            label={`Gap ${i + 1}: to`}
            value={g.to}
            bounds={limits('bonds', 'at', 'gaps', 'to')}
            width="w-16"
            onChange={(to) => gap(i, { to: to as number })}
          />
          <Button weight="quiet" onClick={() => onChange({ ...at, gaps: at.gaps.toSpliced(i, 1) })}>
            ×
          </Button>
        </span>
      ))}
      <Button weight="quiet" onClick={() => onChange({ ...at, gaps: [...at.gaps, { edge: 'top', from: 10, to: 20 }] })}>
        + gap
      </Button>
    </>
  );
}

/** One field of an entry. */
export function FieldRow({
  field: f,
  entry,
  anatomy,
  onChange,
}: {
  field: Field;
  entry: Record<string, unknown>;
  anatomy: Anatomy;
  onChange: Change;
}) {
  const value = entry[f.field];
  const row = (children: ReactNode) => <Row label={f.label}>{children}</Row>;
  switch (f.as) {
    case 'text':
    case 'words':
      return row(
        <TextInput
          label={f.label}
          value={(value as string | null) ?? ''}
          long={f.as === 'words'}
          onChange={(to) => onChange(f.none && to === '' ? null : to)}
        />,
      );
    case 'number':
      return row(
        <NumberInput
          label={f.label}
          value={value as number | null}
          bounds={f.bounds}
          none={f.none}
          onChange={onChange}
        />,
      );
    case 'choice':
      return row(<Select label={f.label} value={value as string | null} of={f.of} none={f.none} onChange={onChange} />);
    case 'yes':
      return (
        <Check checked={Boolean(value)} onChange={(e) => onChange(e.target.checked)} className="text-sm">
          {f.label}
        </Check>
      );
    case 'point':
      if (value === null)
        return row(
          <Button weight="quiet" onClick={() => onChange([anatomy.body.width / 2, anatomy.body.height / 2])}>
            Say where
          </Button>,
        );
      return row(
        <>
          <PointInput label={f.label} value={value as Point} onChange={onChange} />
          {f.none && (
            <Button weight="quiet" onClick={() => onChange(null)}>
              ×
            </Button>
          )}
        </>,
      );
    case 'size': {
      const [w, h] = value as [number, number];
      return row(
        <>
          <NumberInput
            label="Width"
            value={w}
            bounds={limits('connectors', 'size', '0')}
            unit=""
            width="w-20"
            onChange={(v) => onChange([v, h])}
          />
          <NumberInput
            label="Height"
            value={h}
            bounds={limits('connectors', 'size', '1')}
            width="w-20"
            unit="mm"
            onChange={(v) => onChange([w, v])}
          />
        </>,
      );
    }
    case 'one':
      return row(
        <Select
          label={f.label}
          value={value as string | null}
          of={namesOf(anatomy, f.of)}
          none={f.none}
          onChange={onChange}
        />,
      );
    case 'many':
      return row(
        <Many
          label={f.label}
          value={(value as string[] | undefined) ?? []}
          anatomy={anatomy}
          of={f.of}
          onChange={(to) => onChange(f.orNone && (to as string[]).length === 0 ? undefined : to)}
        />,
      );
    case 'outline':
      return row(<OutlineInput value={value as Outline} onChange={onChange} />);
    case 'swing':
      return row(<SwingInput part={entry as unknown as Part} anatomy={anatomy} onChange={onChange} />);
    case 'pairing':
      return row(<PairingInput part={entry as unknown as Part} anatomy={anatomy} onChange={onChange} />);
    case 'motion':
      return row(<MotionInput label={f.label} value={value as Motion | null} onChange={onChange} />);
    case 'route': {
      const plug = entry as unknown as Connector;
      if (!plug.route)
        return row(
          <Button weight="quiet" onClick={() => onChange({ line: [plug.at, [plug.at[0], plug.at[1] + 8]], width: 3 })}>
            Draw it
          </Button>,
        );
      const { line, width } = plug.route;
      return row(
        <details className="w-full">
          <summary className="min-h-11 content-center text-sm">{line.length} points</summary>
          <NumberInput
            label="Width of the flex"
            value={width}
            bounds={limits('connectors', 'route', 'width')}
            unit="mm wide"
            onChange={(v) => onChange({ line, width: v })}
          />
          {line.map((p, i) => (
            <span key={i} className="flex items-center gap-1">
              <PointInput
                label={`Point ${i + 1}`}
                value={p}
                onChange={(to) => onChange({ line: line.with(i, to as Point), width })}
              />
              <button
                type="button"
                className="size-11"
                aria-label={`Point after ${i + 1}`}
                onClick={() => onChange({ line: line.toSpliced(i + 1, 0, [p[0] + 2, p[1] + 2]), width })}
              >
                +
              </button>
            </span>
          ))}
          <Button weight="quiet" onClick={() => onChange(null)}>
            Not known
          </Button>
        </details>,
      );
    }
    case 'bondAt':
      return row(<BondPlace bond={entry as unknown as Bond} anatomy={anatomy} onChange={onChange} />);
    case 'tabs':
      return row(
        <>
          {(value as Point[]).map((p, i) => (
            <span key={i} className="flex items-center gap-1">
              <PointInput
                label={`Tab ${i + 1}`}
                value={p}
                onChange={(to) => onChange((value as Point[]).with(i, to as Point))}
              />
              <Button weight="quiet" onClick={() => onChange((value as Point[]).toSpliced(i, 1))}>
                ×
              </Button>
            </span>
          ))}
          {(value as Point[]).length === 0 && <span className="text-sm text-quiet">none; T sets one</span>}
        </>,
      );
    case 'reachedBy': {
      const swung = (value as Connector['reachedBy'])?.swing ?? null;
      const swinging = anatomy.parts.filter((p) => p.swing !== null).map((p) => ({ id: p.id, name: p.name }));
      return row(
        <Select
          label={f.label}
          value={swung}
          of={swinging}
          none
          onChange={(id) => onChange(id === null ? null : { swing: id })}
        />,
      );
    }
    case 'edges': {
      const edges = value as Latch['alsoAt'];
      return row(
        EDGES.filter((edge) => edge !== entry.edge).map((edge) => (
          <Check
            key={edge}
            className="text-sm"
            checked={edges.includes(edge)}
            onChange={(e) => onChange(e.target.checked ? [...edges, edge] : edges.filter((v) => v !== edge))}
          >
            {edge}
          </Check>
        )),
      );
    }
    case 'alternatives': {
      const others = value as Fastener['alternatives'];
      return row(
        <>
          {others.map((o, i) => (
            <span key={o.drive} className="flex flex-wrap items-center gap-1 rounded-lg bg-sunk p-1">
              {o.drive}
              <TextInput
                label={`Caution with ${o.drive}`}
                value={o.caution}
                onChange={(caution) => onChange(others.with(i, { ...o, caution: caution as string }))}
              />
              <Button weight="quiet" onClick={() => onChange(others.toSpliced(i, 1))}>
                ×
              </Button>
            </span>
          ))}
          <Select
            label="Another driver"
            value={null}
            of={DRIVES.filter((d) => d !== entry.drive && !others.some((o) => o.drive === d))}
            onChange={(drive) => drive && onChange([...others, { drive, caution: '' }])}
          />
        </>,
      );
    }
    case 'exits': {
      const exits = value as Part['exits'];
      return row(
        <>
          {exits.map((exit, i) => (
            <span key={i} className="flex items-center gap-1">
              <Select
                label={`Other way ${i + 1}`}
                value={exit.face}
                of={FACES}
                onChange={(face) => onChange(exits.with(i, { ...exit, face: face as (typeof exit)['face'] }))}
              />
              <NumberInput
                label={`Its layer ${i + 1}`}
                value={exit.layer}
                bounds={limits('parts', 'exits', 'layer')}
                width="w-16"
                onChange={(layer) => onChange(exits.with(i, { ...exit, layer: layer as number }))}
              />
              <Button weight="quiet" onClick={() => onChange(exits.toSpliced(i, 1))}>
                ×
              </Button>
            </span>
          ))}
          {exits.length < 2 && (
            <Button weight="quiet" onClick={() => onChange([...exits, { face: 'back', layer: 0 }])}>
              + way
            </Button>
          )}
        </>,
      );
    }
    case 'limits': {
      const borne = (value as Part['limits']) ?? NO_LIMITS;
      const say = (change: Partial<Limits>) => {
        const next = { ...borne, ...change };
        onChange(same(next, NO_LIMITS) ? undefined : next);
      };
      return row(
        <>
          <NumberInput
            label="Hottest that it bears"
            value={borne.hottest}
            bounds={limits('parts', 'limits', 'hottest')}
            none
            width="w-20"
            onChange={(hottest) => say({ hottest: hottest as number | null })}
          />
          <span className="text-sm text-quiet">°C</span>
          {LIMITED.map(([field, label]) => (
            <Check
              key={field}
              className="text-sm"
              checked={!borne[field]}
              onChange={(e) => say({ [field]: !e.target.checked })}
            >
              {label}
            </Check>
          ))}
        </>,
      );
    }
    default:
      return f satisfies never;
  }
}

/** Nothing is known of what a part bears. */
const NO_LIMITS: Limits = { hottest: null, solvent: true, bend: true, suction: true };
const LIMITED = [
  ['solvent', 'no solvent'],
  ['bend', 'no bending'],
  ['suction', 'no cup'],
] as const;
