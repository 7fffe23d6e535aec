import { memo, type KeyboardEvent } from 'react';
import {
  boundsOf,
  type Connector,
  type Fastener,
  type Hinge,
  type Outline,
  type Part,
} from '../../core/anatomy/index.ts';
import { FASTENERS } from '../../core/kinds/index.ts';
import { outlinePath } from './geometry.ts';
import { ScrewGlyph } from './marks.tsx';

/*
 * The items of a device as they are drawn. Each is drawn anew only when something about it changed: a press of the run
 * changes two or three of a hundred.
 */

/** How a part stands out: it is meant, it is off, it lies above what is meant, or it is just there. */
export type PartState = 'lit' | 'off' | 'above' | 'present';

export const PartShape = memo(function PartShape({
  part,
  state,
  frame,
  tint,
  unit,
  onPick,
  picked,
}: {
  part: Part;
  state: PartState;
  /** Drawn as a frame to look and reach through. */
  frame: boolean;
  tint: string;
  /** What a line or a mark is measured in, mm. */
  unit: number;
  onPick: ((id: string) => void) | undefined;
  picked: boolean;
}) {
  const { id, name } = part;
  const lit = state === 'lit';
  const hollow = state === 'off' || state === 'above';
  const pick = onPick && {
    role: 'button',
    tabIndex: 0,
    'aria-pressed': picked,
    'aria-label': name,
    className: 'cursor-pointer',
    onClick: () => onPick(id),
    onKeyDown: (e: KeyboardEvent) => {
      if (e.key !== 'Enter' && e.key !== ' ') return;
      e.preventDefault();
      onPick(id);
    },
  };
  const opacity = { lit: 1, off: 0.35, above: 0.4, present: 0.7 }[state];
  return (
    <g {...pick} data-part={id} data-state={state}>
      <title>{name}</title>
      <path
        d={outlinePath(part.outline)}
        fill={hollow ? (onPick ? 'transparent' : 'none') : tint}
        fillOpacity={hollow ? 1 : lit ? (frame ? 0.35 : 1) : frame ? 0.1 : 0.82}
        stroke="var(--ink)"
        pointerEvents={frame ? 'stroke' : undefined}
        strokeWidth={(lit ? 1.5 : 0.32) * unit}
        strokeOpacity={opacity}
        strokeDasharray={state === 'off' ? `${1.4 * unit} ${1.2 * unit}` : undefined}
        strokeLinejoin="round"
      />
      {lit && <path d={outlinePath(part.outline)} fill="url(#lit-hatch)" pointerEvents="none" />}
    </g>
  );
});

export const RouteShape = memo(function RouteShape({ connector, lit }: { connector: Connector; lit: boolean }) {
  const { route, id, name } = connector;
  if (!route) return null;
  return (
    <polyline
      data-route={id}
      points={route.line.map((p) => p.join(',')).join(' ')}
      fill="none"
      pointerEvents="none"
      stroke="var(--teal)"
      strokeOpacity={lit ? 0.9 : 0.4}
      strokeWidth={route.width}
      strokeLinecap="round"
      strokeLinejoin="round"
    >
      <title>{name}</title>
    </polyline>
  );
});

export const ConnectorShape = memo(function ConnectorShape({
  connector,
  open,
  lit,
  next,
  faint,
  unit,
}: {
  connector: Connector;
  open: boolean;
  lit: boolean;
  next: boolean;
  /** Something else is meant. */
  faint: boolean;
  unit: number;
}) {
  const {
    id,
    at: [x, y],
    size: [w, h],
  } = connector;
  return (
    <g data-connector={id} data-state={open ? 'open' : 'mated'} pointerEvents="none" opacity={faint ? 0.55 : 1}>
      <rect
        x={x - w / 2}
        y={y - h / 2}
        width={w}
        height={h}
        rx={0.5 * unit}
        fill={open ? 'var(--panel)' : 'var(--teal)'}
        stroke={lit ? 'var(--ink)' : 'var(--teal)'}
        strokeWidth={(lit ? 0.9 : 0.4) * unit}
      />
      {!open && <path d={`M${x - w * 0.3} ${y}h${w * 0.6}`} stroke="var(--on-job)" strokeWidth={0.4 * unit} />}
      {next && (
        <circle cx={x} cy={y} r={Math.max(w, h) * 0.9} fill="none" stroke="var(--ink)" strokeWidth={0.8 * unit} />
      )}
    </g>
  );
});

export const FastenerShape = memo(function FastenerShape({
  fastener,
  out,
  lit,
  next,
  faint,
  unit,
  body,
  mirrored,
  onTap,
}: {
  fastener: Fastener;
  out: boolean;
  lit: boolean;
  next: boolean;
  /** Something else is meant. */
  faint: boolean;
  unit: number;
  body: { width: number; height: number };
  mirrored: boolean;
  /** A screw of the step that can be tapped gets a finger's room. */
  onTap: ((id: string) => void) | undefined;
}) {
  const { id } = fastener;
  const [x, y] = [fastener.at[0], Math.min(body.height + 1.5 * unit, Math.max(-1.5 * unit, fastener.at[1]))];
  const r = Math.max(fastener.head / 2, 1.05 * unit) * (lit ? 1.35 : 1);
  return (
    <g data-fastener={id} data-state={out ? 'out' : 'in'} pointerEvents="none" opacity={faint ? 0.5 : 1}>
      <ScrewGlyph
        x={x}
        y={y}
        r={r}
        drive={fastener.drive}
        standoff={FASTENERS.of(fastener.kind).seat}
        ghost={out}
        mirrored={mirrored}
        fill={out ? 'var(--panel)' : lit ? '#f0d58c' : '#d8bd77'}
        stroke={out ? 'var(--brass)' : '#3d2d05'}
      />
      {next && <circle cx={x} cy={y} r={r + 1.4 * unit} fill="none" stroke="var(--ink)" strokeWidth={0.8 * unit} />}
      {/* Space does the same from the keyboard. */}
      {onTap && lit && (
        // biome-ignore lint/a11y/noStaticElementInteractions: the step's own list is the keyboard's way
        <circle
          cx={x}
          cy={y}
          r={Math.max(r + 1.5 * unit, 4 * unit)}
          fill="transparent"
          pointerEvents="all"
          className="cursor-pointer"
          data-tap={id}
          onClick={() => onTap(id)}
        />
      )}
      {lit && (
        <ScrewLabel
          x={x}
          y={y}
          r={r}
          unit={unit}
          width={body.width}
          mirrored={mirrored}
          text={String(fastener.length)}
        />
      )}
    </g>
  );
});

function ScrewLabel({
  x,
  y,
  r,
  unit,
  width,
  mirrored,
  text,
}: {
  x: number;
  y: number;
  r: number;
  unit: number;
  width: number;
  mirrored: boolean;
  text: string;
}) {
  // Towards the middle of the device, where there is room.
  const side = x > width / 2 ? -1 : 1;
  return (
    <text
      transform={`translate(${x + side * (r + 1 * unit)} ${y + 1.2 * unit}) scale(${mirrored ? -1 : 1} 1)`}
      textAnchor={side > 0 !== mirrored ? 'start' : 'end'}
      fontSize={3.6 * unit}
      fontFamily="var(--font-mono)"
      fontWeight={700}
      fill="var(--ink)"
      stroke="var(--panel)"
      strokeWidth={0.9 * unit}
      paintOrder="stroke"
    >
      {text}
    </text>
  );
}

/** The latches along an edge. */
export function Teeth({
  outline,
  edge,
  count,
  unit,
}: {
  outline: Outline;
  edge: 'top' | 'right' | 'bottom' | 'left';
  count: number;
  unit: number;
}) {
  const [x, y, w, h] = boundsOf(outline);
  const size = 1.8 * unit;
  const teeth = Array.from({ length: count }, (_, i) => {
    const t = (i + 1) / (count + 1);
    if (edge === 'top') return [x + w * t, y, 0] as const;
    if (edge === 'bottom') return [x + w * t, y + h, 180] as const;
    if (edge === 'left') return [x, y + h * t, 270] as const;
    return [x + w, y + h * t, 90] as const;
  });
  return (
    <g pointerEvents="none">
      {teeth.map(([tx, ty, turn], i) => (
        <path
          key={i}
          transform={`translate(${tx} ${ty}) rotate(${turn})`}
          d={`M${-size} 0H${size}L0 ${size * 1.5}Z`}
          fill="var(--mauve)"
          stroke="var(--panel)"
          strokeWidth={0.3 * unit}
        />
      ))}
    </g>
  );
}

/** Where a fold folds: over everything, for it is seen whatever is off. */
export function HingeLine({ hinge, unit }: { hinge: Hinge | null | undefined; unit: number }) {
  if (!hinge) return null;
  const [[x1, y1], [x2, y2]] = hinge.line;
  return (
    <line
      {...{ x1, y1, x2, y2 }}
      stroke="var(--ink)"
      strokeWidth={0.6 * unit}
      strokeDasharray={`${4 * unit} ${1.4 * unit} ${0.8 * unit} ${1.4 * unit}`}
      pointerEvents="none"
      data-hinge=""
    />
  );
}
