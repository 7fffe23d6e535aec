import { memo, useMemo, type KeyboardEvent } from 'react';
import {
  bondRegion,
  boundsOf,
  regionsOverlap,
  ringOf,
  type Model,
  type Outline,
  type Part,
  type Region,
} from '../../core/anatomy/index.ts';
import type { Device } from '../../core/dive/index.ts';
import { depthColour } from './depth.ts';
import { ScrewGlyph } from './marks.tsx';

export interface DrawingProps {
  model: Model;
  /** The face that is up; the back is drawn mirrored, as it is seen. */
  face: 'front' | 'back';
  /** Items the step is about. */
  lit?: ReadonlySet<string>;
  /** The one item that comes next within the step. */
  next?: string | null;
  /** What is off, out, open; left out, the device is closed. */
  device?: Device | null;
  /** Show one layer only; left out, all. */
  layer?: number | null;
  /** Parts that can be chosen by pointer or key. */
  onPick?: (id: string) => void;
  picked?: ReadonlySet<string>;
  /** Screws of the step that can be tapped; they get a finger's room. */
  onScrew?: ((id: string) => void) | undefined;
  label: string;
  className?: string;
}

const path = (outline: Outline): string =>
  `M${ringOf(outline)
    .map(([x, y]) => `${x.toFixed(2)} ${y.toFixed(2)}`)
    .join('L')}Z`;

function regionPath(region: Region): string {
  const polygons = (Array.isArray(region[0]?.[0]?.[0]) ? region : [region]) as number[][][][];
  return polygons
    .flat()
    .map((ring) => `M${ring.map(([x, y]) => `${x!.toFixed(2)} ${y!.toFixed(2)}`).join('L')}Z`)
    .join('');
}

/** The device, to scale, from its anatomy: present, done, lit and next told apart by line and fill as well as colour. */
export const DeviceDrawing = memo(function DeviceDrawing({
  model,
  face,
  lit,
  next,
  device,
  layer = null,
  onPick,
  picked,
  onScrew,
  label,
  className,
}: DrawingProps) {
  const { anatomy } = model;
  const { body } = anatomy;
  const litContexts = useMemo(
    () => new Set([...(lit ?? [])].flatMap((id) => (model.items.has(id) ? [model.contextOf(id)] : []))),
    [lit, model],
  );
  const deepest = useMemo(
    () => Math.max(1, ...anatomy.parts.filter((p) => !p.fixed).map((p) => model.depthOf(p.id))),
    [anatomy, model],
  );
  const has = (id: string) => lit?.has(id) ?? false;
  const inView = (id: string): boolean => {
    const context = model.contextOf(id);
    if (context !== null)
      return (
        litContexts.has(context) ||
        (picked?.has(id) ?? false) ||
        (onPick !== undefined && device === undefined && lit === undefined)
      );
    const at = model.faceOf(id);
    return at === face || at === 'edge';
  };
  const onLayer = (id: string) => layer === null || model.layerOf(id) === layer;
  const gone = (p: Part) => device?.removed.has(p.id) || device?.swung.has(p.id);
  const focus =
    lit && lit.size > 0
      ? Math.min(99, ...[...lit].filter((id) => model.items.has(id)).map((id) => model.layerOf(id)))
      : 0;
  // What lies above the lit items is drawn as a line only, so that they are seen.
  const above = useMemo(() => {
    const items = [...(lit ?? [])].filter((id) => model.items.has(id));
    return new Set(
      anatomy.parts
        .filter(
          (p) =>
            p.within === null &&
            items.some(
              (id) =>
                p.layer < model.layerOf(id) &&
                p.face === model.faceOf(id) &&
                regionsOverlap(model.accessOf(p.id), model.accessOf(id)),
            ),
        )
        .map((p) => p.id),
    );
  }, [lit, model, anatomy]);
  const parts = anatomy.parts
    .filter((p) => !p.fixed && inView(p.id) && onLayer(p.id))
    .sort((a, b) => model.depthOf(b.id) - model.depthOf(a.id));
  const shell = (p: Part) => {
    const [, , w, h] = boundsOf(p.outline);
    return w * h > 0.75 * body.width * body.height;
  };
  const mirrored = face === 'back';
  const unit = Math.max(body.width, body.height) / 150;
  const bonds = anatomy.bonds.filter(
    (b) => b.joins.some((id) => model.parts.has(id)) && inView(b.id) && onLayer(b.id) && (has(b.id) || layer !== null),
  );
  const connectors = anatomy.connectors.filter(
    (c) => inView(c.id) && onLayer(c.id) && (has(c.id) || model.layerOf(c.id) >= focus),
  );
  const pick = (id: string) =>
    onPick
      ? {
          role: 'button',
          tabIndex: 0,
          'aria-pressed': picked?.has(id) ?? false,
          'aria-label': model.nameOf(id),
          className: 'cursor-pointer',
          onClick: () => onPick(id),
          onKeyDown: (e: KeyboardEvent) => {
            if (e.key === 'Enter' || e.key === ' ') {
              e.preventDefault();
              onPick(id);
            }
          },
        }
      : {};

  return (
    <svg
      viewBox={`${-6 * unit} ${-6 * unit} ${body.width + 12 * unit} ${body.height + 12 * unit}`}
      className={className}
      role={onPick ? 'group' : 'img'}
      aria-label={label}
      data-face={face}
    >
      <defs>
        <pattern id="bond-hatch" width="1.6" height="1.6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V1.6" stroke="var(--mauve)" strokeWidth="1" />
        </pattern>
        <pattern id="lit-hatch" width="2.4" height="2.4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V2.4" stroke="var(--ink)" strokeWidth=".5" opacity=".55" />
        </pattern>
      </defs>
      <g transform={mirrored ? `translate(${body.width} 0) scale(-1 1)` : undefined}>
        <rect
          width={body.width}
          height={body.height}
          rx={body.cornerRadius}
          fill="var(--sunk)"
          stroke="var(--ink)"
          strokeWidth={0.9 * unit}
        />
        {parts.map((p) => {
          const isLit = has(p.id) || picked?.has(p.id);
          const ghost = !isLit && !gone(p) && (above.has(p.id) || (p.within === null && p.layer === 0 && focus > 0));
          const off = gone(p) && !isLit;
          // With everything shown at once the outermost parts, and covers over the whole, are a frame to look and reach through.
          const frame = !lit && layer === null && p.within === null && p.face !== 'edge' && (p.layer === 0 || shell(p));
          const tint = depthColour(model.depthOf(p.id) / deepest);
          return (
            <g
              key={p.id}
              {...pick(p.id)}
              data-part={p.id}
              data-state={isLit ? 'lit' : off ? 'off' : ghost ? 'above' : 'present'}
            >
              <title>{p.name}</title>
              <path
                d={path(p.outline)}
                fill={off || ghost ? (onPick ? 'transparent' : 'none') : tint}
                fillOpacity={off || ghost ? 1 : isLit ? (frame ? 0.35 : 1) : frame ? 0.1 : 0.82}
                stroke="var(--ink)"
                pointerEvents={frame ? 'stroke' : undefined}
                strokeWidth={(isLit ? 1.5 : 0.32) * unit}
                strokeOpacity={off ? 0.35 : ghost ? 0.4 : isLit ? 1 : 0.7}
                strokeDasharray={off ? `${1.4 * unit} ${1.2 * unit}` : undefined}
                strokeLinejoin="round"
              />
              {isLit && <path d={path(p.outline)} fill="url(#lit-hatch)" pointerEvents="none" />}
            </g>
          );
        })}
        {bonds.map((b) => (
          <path
            key={b.id}
            data-bond={b.id}
            d={regionPath(bondRegion(b, (id) => model.parts.get(id)!.outline))}
            fill="url(#bond-hatch)"
            stroke="var(--mauve)"
            strokeWidth={0.35 * unit}
            fillRule="evenodd"
            pointerEvents="none"
          />
        ))}
        {bonds
          .filter((b) => has(b.id))
          .flatMap((b) =>
            b.tabs.map(([x, y], i) => (
              <circle
                key={`${b.id}${i}`}
                cx={x}
                cy={y}
                r={1.8 * unit}
                fill="var(--panel)"
                stroke="var(--mauve)"
                strokeWidth={0.7 * unit}
              />
            )),
          )}
        {anatomy.latches
          .filter((l) => (has(l.id) || layer !== null) && inView(l.id) && onLayer(l.id))
          .map((l) => {
            const owner = model.parts.get(l.joins.find((id) => !model.parts.get(id)!.fixed) ?? l.joins[0]!)!;
            return <Teeth key={l.id} outline={owner.outline} edge={l.edge} count={l.count} unit={unit} />;
          })}
        {connectors.flatMap((c) =>
          c.route
            ? [
                <polyline
                  key={`${c.id}route`}
                  data-route={c.id}
                  points={c.route.line.map((p) => p.join(',')).join(' ')}
                  fill="none"
                  pointerEvents="none"
                  stroke="var(--teal)"
                  strokeOpacity={has(c.id) ? 0.9 : 0.4}
                  strokeWidth={c.route.width}
                  strokeLinecap="round"
                  strokeLinejoin="round"
                >
                  <title>{c.name}</title>
                </polyline>,
              ]
            : [],
        )}
        {connectors
          .filter((c) => c.kind !== 'contact')
          .map((c) => {
            const open = device?.open.has(c.id) ?? false;
            const isLit = has(c.id);
            const [w, h] = c.size;
            return (
              <g
                key={c.id}
                data-connector={c.id}
                data-state={open ? 'open' : 'mated'}
                pointerEvents="none"
                opacity={isLit || !lit || lit.size === 0 ? 1 : 0.55}
              >
                <rect
                  x={c.at[0] - w / 2}
                  y={c.at[1] - h / 2}
                  width={w}
                  height={h}
                  rx={0.5 * unit}
                  fill={open ? 'var(--panel)' : 'var(--teal)'}
                  stroke={isLit ? 'var(--ink)' : 'var(--teal)'}
                  strokeWidth={(isLit ? 0.9 : 0.4) * unit}
                />
                {!open && (
                  <path
                    d={`M${c.at[0] - w * 0.3} ${c.at[1]}h${w * 0.6}`}
                    stroke="var(--on-job)"
                    strokeWidth={0.4 * unit}
                  />
                )}
                {next === c.id && (
                  <circle
                    cx={c.at[0]}
                    cy={c.at[1]}
                    r={Math.max(w, h) * 0.9}
                    fill="none"
                    stroke="var(--ink)"
                    strokeWidth={0.8 * unit}
                  />
                )}
              </g>
            );
          })}
        {anatomy.fasteners
          .filter((f) => inView(f.id) && onLayer(f.id) && (has(f.id) || model.layerOf(f.id) >= focus))
          .map((f) => {
            const out = device?.out.has(f.id) ?? false;
            const isLit = has(f.id);
            const [x, y] = [f.at[0], Math.min(body.height + 1.5 * unit, Math.max(-1.5 * unit, f.at[1]))];
            const r = Math.max(f.head / 2, 1.05 * unit) * (isLit ? 1.35 : 1);
            return (
              <g
                key={f.id}
                data-fastener={f.id}
                data-state={out ? 'out' : 'in'}
                pointerEvents="none"
                opacity={isLit || !lit || lit.size === 0 ? 1 : 0.5}
              >
                <ScrewGlyph
                  x={x}
                  y={y}
                  r={r}
                  drive={f.drive}
                  standoff={f.kind === 'standoff'}
                  ghost={out}
                  mirrored={mirrored}
                  fill={out ? 'var(--panel)' : isLit ? '#f0d58c' : '#d8bd77'}
                  stroke={out ? 'var(--brass)' : '#3d2d05'}
                />
                {next === f.id && (
                  <circle cx={x} cy={y} r={r + 1.4 * unit} fill="none" stroke="var(--ink)" strokeWidth={0.8 * unit} />
                )}
                {/* Space does the same from the keyboard. */}
                {onScrew && isLit && (
                  // biome-ignore lint/a11y/noStaticElementInteractions: the step's own list is the keyboard's way
                  <circle
                    cx={x}
                    cy={y}
                    r={Math.max(r + 1.5 * unit, 4 * unit)}
                    fill="transparent"
                    pointerEvents="all"
                    className="cursor-pointer"
                    data-tap={f.id}
                    onClick={() => onScrew(f.id)}
                  />
                )}
                {isLit && (
                  <ScrewLabel
                    x={x}
                    y={y}
                    r={r}
                    unit={unit}
                    width={body.width}
                    mirrored={mirrored}
                    text={String(f.length)}
                  />
                )}
              </g>
            );
          })}
      </g>
    </svg>
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

function Teeth({
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
