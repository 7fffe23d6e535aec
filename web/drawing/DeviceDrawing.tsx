import { memo, useMemo } from 'react';
import { boundsOf, type Model, type Part } from '../../core/anatomy/index.ts';
import type { Device } from '../../core/judge/index.ts';
import { CONNECTORS } from '../../core/kinds/index.ts';
import { depthColour } from './depth.ts';
import { bondPath, partsAbove } from './geometry.ts';
import { ConnectorShape, FastenerShape, HingeLine, PartShape, RouteShape, Teeth } from './shapes.tsx';

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
  /** The address of a photograph of the body to lie beneath; parts are then drawn as lines. */
  beneath?: string | null;
  label: string;
  className?: string;
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
  beneath,
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
  const above = useMemo(
    () => new Set([...(lit ?? [])].filter((id) => model.items.has(id)).flatMap((id) => partsAbove(model, id))),
    [lit, model],
  );
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
  const somethingLit = lit !== undefined && lit.size > 0;
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
        {beneath && (
          <image href={beneath} width={body.width} height={body.height} preserveAspectRatio="none" data-beneath="" />
        )}
        {parts.map((p) => {
          const isPicked = picked?.has(p.id) ?? false;
          const isLit = has(p.id) || isPicked;
          const ghost = !gone(p) && (above.has(p.id) || (p.within === null && p.layer === 0 && focus > 0));
          // With everything shown at once the outermost parts, and covers over the whole, are a frame to look and reach through.
          const plain = !lit && layer === null && p.within === null && p.face !== 'edge' && (p.layer === 0 || shell(p));
          return (
            <PartShape
              key={p.id}
              part={p}
              state={isLit ? 'lit' : gone(p) ? 'off' : ghost ? 'above' : 'present'}
              frame={plain || (beneath !== null && beneath !== undefined)}
              tint={depthColour(model.depthOf(p.id) / deepest)}
              unit={unit}
              onPick={onPick}
              picked={isPicked}
            />
          );
        })}
        {bonds.map((b) => (
          <path
            key={b.id}
            data-bond={b.id}
            d={bondPath(model, b.id)}
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
        {connectors.map((c) => (
          <RouteShape key={`${c.id}route`} connector={c} lit={has(c.id)} />
        ))}
        {connectors
          .filter((c) => !CONNECTORS.of(c.kind).byItself)
          .map((c) => (
            <ConnectorShape
              key={c.id}
              connector={c}
              open={device?.open.has(c.id) ?? false}
              lit={has(c.id)}
              next={next === c.id}
              faint={somethingLit && !has(c.id)}
              unit={unit}
            />
          ))}
        {anatomy.fasteners
          .filter((f) => inView(f.id) && onLayer(f.id) && (has(f.id) || model.layerOf(f.id) >= focus))
          .map((f) => (
            <FastenerShape
              key={f.id}
              fastener={f}
              out={device?.out.has(f.id) ?? false}
              lit={has(f.id)}
              next={next === f.id}
              faint={somethingLit && !has(f.id)}
              unit={unit}
              body={body}
              mirrored={mirrored}
              onTap={has(f.id) ? onScrew : undefined}
            />
          ))}
        <HingeLine hinge={anatomy.hinge} unit={unit} />
      </g>
    </svg>
  );
});
