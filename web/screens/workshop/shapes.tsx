import { memo } from 'react';
import {
  bondRegion,
  boundsOf,
  type Anatomy,
  type Bond,
  type Connector,
  type Fastener,
  type Latch,
  type Outline,
  type Part,
} from '../../../core/anatomy/index.ts';
import { CONNECTORS, FASTENERS } from '../../../core/kinds/index.ts';
import { depthColour } from '../../drawing/depth.ts';
import { outlinePath } from '../../drawing/geometry.ts';
import { ScrewGlyph } from '../../drawing/marks.tsx';
import { Teeth } from '../../drawing/shapes.tsx';

/* The items of a draft on the board: each is drawn anew only when it, or how it is looked at, changes. */

interface Look {
  chosen: boolean;
  /** It has a fault. */
  faulty: boolean;
  /** Not in the layer that is looked at. */
  ghost: boolean;
  /** A photograph lies beneath. */
  over: boolean;
  unit: number;
}

const line = ({ chosen, faulty, unit }: Look): { stroke: string; strokeWidth: number; strokeDasharray?: string } => ({
  stroke: faulty ? 'var(--crimson)' : 'var(--ink)',
  strokeWidth: (chosen ? 0.75 : 0.32) * unit,
  ...(faulty ? { strokeDasharray: `${1.2 * unit} ${0.7 * unit}` } : {}),
});

const DraftPart = memo(function DraftPart({ part, tint, ...look }: Look & { part: Part; tint: string }) {
  const { chosen, ghost, over } = look;
  const d = outlinePath(part.outline);
  return (
    <g data-item={part.id} opacity={ghost ? 0.35 : 1}>
      {over && <path d={d} fill="none" stroke="#fffdf7" strokeOpacity={0.75} strokeWidth={0.9 * look.unit} />}
      <path
        d={d}
        fill={tint}
        fillOpacity={ghost ? 0 : chosen ? 0.4 : over ? 0.14 : 0.55}
        {...line(look)}
        strokeLinejoin="round"
      />
    </g>
  );
});

const DraftScrew = memo(function DraftScrew({
  fastener,
  mirrored,
  ...look
}: Look & { fastener: Fastener; mirrored: boolean }) {
  const [x, y] = fastener.at;
  const r = fastener.head / 2;
  return (
    <g data-item={fastener.id} opacity={look.ghost ? 0.4 : 1}>
      <ScrewGlyph
        x={x}
        y={y}
        r={r}
        drive={fastener.drive}
        standoff={FASTENERS.of(fastener.kind).seat}
        mirrored={mirrored}
        fill={look.over ? '#f0d58ccc' : '#d8bd77'}
        stroke={look.faulty ? '#a30f2b' : '#3d2d05'}
      />
      {(look.chosen || look.faulty) && (
        <circle
          cx={x}
          cy={y}
          r={r + 0.8 * look.unit}
          fill="none"
          stroke={look.faulty ? 'var(--crimson)' : 'var(--ink)'}
          strokeWidth={0.6 * look.unit}
        />
      )}
    </g>
  );
});

const DraftPlug = memo(function DraftPlug({ plug, ...look }: Look & { plug: Connector }) {
  const [x, y] = plug.at;
  const [w, h] = plug.size;
  return (
    <g data-item={plug.id} opacity={look.ghost ? 0.4 : 1}>
      {plug.route && (
        <polyline
          points={plug.route.line.map((p) => p.join(',')).join(' ')}
          fill="none"
          stroke="var(--teal)"
          strokeOpacity={look.chosen ? 0.8 : 0.45}
          strokeWidth={Math.min(plug.route.width, 6)}
          strokeLinejoin="round"
        />
      )}
      <rect
        x={x - w / 2}
        y={y - h / 2}
        width={w}
        height={h}
        rx={0.3}
        fill={CONNECTORS.of(plug.kind).byItself ? 'var(--panel)' : 'var(--teal)'}
        {...line(look)}
        stroke={look.faulty ? 'var(--crimson)' : look.chosen ? 'var(--ink)' : '#fffdf7'}
      />
      {plug.isolatesPower && (
        <path
          d={`M${x - 0.5} ${y - h * 0.3}l.9 0-.5 ${h * 0.3}.7 0-1 ${h * 0.42}`}
          fill="none"
          stroke="#fffdf7"
          strokeWidth={0.25}
        />
      )}
    </g>
  );
});

/** Where a bond lies, as far as it can be cut: what it is round may be missing. */
function bondShape(bond: Bond, outlineOf: (id: string) => Outline): string | null {
  try {
    const polygons = bondRegion(bond, outlineOf) as number[][][][] | number[][][];
    const rings = (
      Array.isArray(polygons[0]?.[0]?.[0]) ? (polygons as number[][][][]).flat() : polygons
    ) as number[][][];
    return rings.map((ring) => `M${ring.map(([x, y]) => `${x!.toFixed(2)} ${y!.toFixed(2)}`).join('L')}Z`).join('');
  } catch {
    return null;
  }
}

const DraftBond = memo(function DraftBond({ bond, around, ...look }: Look & { bond: Bond; around: Outline | null }) {
  const d = bondShape(bond, () => {
    if (!around) throw new Error('it is round nothing');
    return around;
  });
  return (
    <g data-item={bond.id} opacity={look.ghost ? 0.4 : 1}>
      {d && (
        <path
          d={d}
          fillRule="evenodd"
          fill="var(--mauve)"
          fillOpacity={look.chosen ? 0.5 : 0.22}
          stroke={look.faulty ? 'var(--crimson)' : 'var(--mauve)'}
          strokeWidth={(look.chosen ? 0.6 : 0.25) * look.unit}
        />
      )}
      {bond.tabs.map(([x, y], i) => (
        <circle key={i} cx={x} cy={y} r={1.1} fill="var(--panel)" stroke="var(--mauve)" strokeWidth={0.5} />
      ))}
    </g>
  );
});

const DraftLatch = memo(function DraftLatch({
  latch,
  outline,
  unit,
}: {
  latch: Latch;
  outline: Outline;
  unit: number;
}) {
  return (
    <g data-item={latch.id}>
      {[latch.edge, ...latch.alsoAt].map((edge) => (
        <Teeth key={edge} outline={outline} edge={edge} count={latch.count} unit={unit * 0.7} />
      ))}
    </g>
  );
});

const holder = (anatomy: Anatomy, joins: readonly string[]): Part | undefined =>
  anatomy.parts.filter((p) => joins.includes(p.id) && !p.fixed).sort((a, b) => a.layer - b.layer)[0];

/** Everything of a draft that is seen from a face, down from a layer. */
export const DraftItems = memo(function DraftItems({
  anatomy,
  face,
  layer,
  solo,
  selected,
  faulty,
  over,
  unit,
}: {
  anatomy: Anatomy;
  face: 'front' | 'back';
  layer: number;
  solo: boolean;
  selected: readonly string[];
  faulty: ReadonlySet<string>;
  over: boolean;
  unit: number;
}) {
  const deepest = Math.max(1, ...anatomy.parts.map((p) => p.layer));
  const look = (id: string, at: number): Look => ({
    chosen: selected.includes(id),
    faulty: faulty.has(id),
    ghost: solo && at !== layer,
    over,
    unit,
  });
  const inView = (p: Part) =>
    !p.fixed && (p.within !== null || (p.face === face && p.layer >= layer) || (p.face === 'edge' && layer === 0));
  const parts = anatomy.parts.filter(inView).sort((a, b) => b.layer - a.layer);
  const shown = new Map(parts.map((p) => [p.id, p]));
  const byId = new Map(anatomy.parts.map((p) => [p.id, p]));
  const layerOfHeld = (ids: readonly string[]) =>
    Math.min(99, ...ids.flatMap((id) => (byId.get(id) && !byId.get(id)!.fixed ? [byId.get(id)!.layer] : [])));
  const mirrored = face === 'back';
  return (
    <>
      {parts.map((p) => (
        <DraftPart
          key={p.id}
          part={p}
          tint={depthColour((p.within ? p.layer + 1 : p.layer) / deepest)}
          {...look(p.id, p.layer)}
        />
      ))}
      {anatomy.bonds.map((b) => {
        const held = holder(anatomy, b.joins);
        if (!(held && shown.has(held.id)) && !selected.includes(b.id)) return null;
        const around = 'perimeterOf' in b.at ? (byId.get(b.at.perimeterOf)?.outline ?? null) : null;
        return <DraftBond key={b.id} bond={b} around={around} {...look(b.id, held?.layer ?? 0)} />;
      })}
      {anatomy.latches.map((l) => {
        const held = holder(anatomy, l.joins);
        if (!held || !shown.has(held.id)) return null;
        return <DraftLatch key={l.id} latch={l} outline={held.outline} unit={unit} />;
      })}
      {anatomy.connectors.map((c) => {
        const at = c.layer ?? byId.get(c.to)?.layer ?? 0;
        const owner = byId.get(c.to);
        if (c.face !== face || (at < layer && !owner?.fixed && !owner?.within && !selected.includes(c.id))) return null;
        return <DraftPlug key={c.id} plug={c} {...look(c.id, at)} />;
      })}
      {anatomy.fasteners.map((f) => {
        const at = f.layer ?? layerOfHeld(f.holds);
        if (f.face !== face || (at < layer && !selected.includes(f.id))) return null;
        return <DraftScrew key={f.id} fastener={f} mirrored={mirrored} {...look(f.id, at)} />;
      })}
    </>
  );
});

/** A millimetre rule along the top and the left edge of the body. */
export const Rules = memo(function Rules({
  width,
  height,
  mirrored,
  unit,
}: {
  width: number;
  height: number;
  mirrored: boolean;
  unit: number;
}) {
  const ticks = (length: number) =>
    Array.from({ length: Math.floor(length) + 1 }, (_, i) => ({
      at: i,
      long: i % 10 === 0 ? 2.6 : i % 5 === 0 ? 1.8 : 1.1,
    }));
  const top = -4.4 * unit;
  return (
    <g pointerEvents="none" fontFamily="var(--font-mono)" fontSize={2.6 * unit} fill="var(--quiet)">
      <path
        d={ticks(width)
          .map(({ at, long }) => `M${mirrored ? width - at : at} ${top}v${long * unit}`)
          .join('')}
        stroke="var(--quiet)"
        strokeWidth={0.16 * unit}
      />
      <path
        d={ticks(height)
          .map(({ at, long }) => `M${top} ${at}h${long * unit}`)
          .join('')}
        stroke="var(--quiet)"
        strokeWidth={0.16 * unit}
      />
      {ticks(width)
        .filter(({ at }) => at % 20 === 0)
        .map(({ at }) => (
          <text key={`x${at}`} x={mirrored ? width - at : at} y={top - 0.8 * unit} textAnchor="middle">
            {at}
          </text>
        ))}
      {ticks(height)
        .filter(({ at }) => at % 20 === 0 && at > 0)
        .map(({ at }) => (
          <text key={`y${at}`} x={top - 0.8 * unit} y={at + 0.9 * unit} textAnchor="end">
            {at}
          </text>
        ))}
    </g>
  );
});

/** Where a part can be taken hold of, to make it larger or smaller. */
export interface Grip {
  id: string;
  x: number;
  y: number;
  name: string;
}

export function gripsOf(outline: Outline): Grip[] {
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return [{ id: 'r', x: x + r, y, name: 'Rim' }];
  }
  if ('polygon' in outline) return outline.polygon.map(([x, y], i) => ({ id: `p${i}`, x, y, name: `Corner ${i + 1}` }));
  const [x, y, w, h] = boundsOf(outline);
  return [
    { id: 'nw', x, y, name: 'Top left' },
    { id: 'ne', x: x + w, y, name: 'Top right' },
    { id: 'se', x: x + w, y: y + h, name: 'Bottom right' },
    { id: 'sw', x, y: y + h, name: 'Bottom left' },
    { id: 'n', x: x + w / 2, y, name: 'Top edge' },
    { id: 'e', x: x + w, y: y + h / 2, name: 'Right edge' },
    { id: 's', x: x + w / 2, y: y + h, name: 'Bottom edge' },
    { id: 'w', x, y: y + h / 2, name: 'Left edge' },
  ];
}
