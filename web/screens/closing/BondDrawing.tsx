import { memo } from 'react';
import { boundsOf, type Bond, type Model, type Outline, type Point } from '../../../core/anatomy/index.ts';
import { rimOf } from '../../../core/closing/index.ts';
import { bondPath, outlinePath, viewBoxOf } from '../../drawing/geometry.ts';
import type { BondClosing } from '../../workers/closing.worker.ts';

export const BOND_VIEWS = ['strips', 'bead', 'press'] as const;
export type BondView = (typeof BOND_VIEWS)[number];

/** What of the device is drawn, mm: all of it, or a small part closely. */
function viewOf(model: Model, bond: Bond): { x: number; y: number; width: number; height: number } {
  const { body } = model.anatomy;
  const around: Outline =
    'perimeterOf' in bond.at
      ? model.parts.get(bond.at.perimeterOf)!.outline
      : 'area' in bond.at
        ? bond.at.area
        : { polygon: [...bond.at.line] };
  const [x, y, w, h] = 'line' in bond.at ? lineBounds(bond.at.line) : boundsOf(around);
  if (Math.max(w, h) > 0.5 * Math.max(body.width, body.height))
    return { x: 0, y: 0, width: body.width, height: body.height };
  const room = 0.35 * Math.max(w, h);
  return { x: x - room, y: y - room, width: w + 2 * room, height: h + 2 * room };
}

function lineBounds(line: readonly Point[]): [number, number, number, number] {
  const [xs, ys] = [line.map(([x]) => x), line.map(([, y]) => y)];
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return [x, y, Math.max(1, Math.max(...xs) - x), Math.max(1, Math.max(...ys) - y)];
}

const path = (points: readonly Point[], closed: boolean): string =>
  `M${points.map(([x, y]) => `${x.toFixed(2)} ${y.toFixed(2)}`).join('L')}${closed ? 'Z' : ''}`;

/** A bond as it is closed, to scale: its strips with their numbers, or its bead, or where clips stand; and what stays free. */
export const BondDrawing = memo(function BondDrawing({
  model,
  bond,
  closing,
  view,
  label,
  className,
}: {
  model: Model;
  bond: Bond;
  closing: BondClosing;
  view: BondView;
  label: string;
  className?: string;
}) {
  const { body, parts } = model.anatomy;
  const { x, y, width, height } = viewOf(model, bond);
  const unit = Math.max(width, height) / 150;
  const room = 12 * unit;
  const held = bond.joins.map((id) => model.parts.get(id)!).find((p) => !p.fixed);
  const mirrored = held?.face === 'back';
  const flip = (v: number) => (mirrored ? body.width - v : v);
  const { strips, bead, press } = closing;
  const cells = parts.filter((p) => p.kind === 'battery');
  const zones = strips?.zones ?? [];
  const [cx, cy] = [x + width / 2, y + height / 2];
  /** Beside a place, towards the middle of what is drawn. */
  const inward = ([px, py]: Point, by: number): Point => {
    const d = Math.hypot(cx - px, cy - py) || 1;
    return [px + ((cx - px) / d) * by, py + ((cy - py) / d) * by];
  };
  const text = (at: Point, words: string, className2: string, size = 4.4) => (
    <text
      key={`${words} ${at.join()}`}
      x={flip(at[0])}
      y={at[1] + (size * unit) / 3}
      fontSize={size * unit}
      textAnchor="middle"
      className={`num font-bold ${className2}`}
    >
      {words}
    </text>
  );
  return (
    <svg
      viewBox={viewBoxOf({ x, y, width, height }, room, { across: body.width, mirrored })}
      role="img"
      aria-label={label}
      className={className}
      data-testid="bond"
    >
      <defs>
        <pattern
          id="stays-free"
          width="2"
          height="2"
          patternUnits="userSpaceOnUse"
          patternTransform={`scale(${unit}) rotate(45)`}
        >
          <path d="M0 0V2" stroke="var(--ink)" strokeWidth=".5" />
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
        {held && (
          <path d={outlinePath(held.outline)} fill="var(--panel)" stroke="var(--quiet)" strokeWidth={0.4 * unit} />
        )}
        {cells.map((p) => (
          <path
            key={p.id}
            d={outlinePath(p.outline)}
            fill="none"
            stroke="var(--quiet)"
            strokeWidth={0.4 * unit}
            strokeDasharray={`${2 * unit} ${1.5 * unit}`}
          />
        ))}
        <path d={bondPath(model, bond.id)} fill="var(--mauve)" opacity={0.18} fillRule="evenodd" />
        {zones.map((z) => (
          <path
            key={z.part}
            d={outlinePath(z.outline)}
            fill="url(#stays-free)"
            stroke="var(--ink)"
            strokeWidth={0.4 * unit}
          />
        ))}
        {view === 'strips' &&
          strips?.strips.map((s) => (
            <path
              key={s.n}
              data-strip={s.n}
              d={path(rimOf(s), true)}
              fill="var(--mauve)"
              stroke="var(--panel)"
              strokeWidth={0.35 * unit}
            />
          ))}
        {view === 'strips' &&
          strips?.joints.map((at) => {
            const [ix, iy] = inward(at, 5 * unit);
            const [ox, oy] = inward(at, -4 * unit);
            return <path key={at.join()} d={`M${ix} ${iy}L${ox} ${oy}`} stroke="var(--ink)" strokeWidth={0.7 * unit} />;
          })}
        {view === 'bead' &&
          bead.lines.map((line, i) => (
            <path
              key={i}
              d={path(line, false)}
              fill="none"
              stroke="var(--mauve)"
              strokeWidth={Math.max(bead.width, 0.8 * unit)}
              strokeLinecap="round"
            />
          ))}
        {view === 'press' &&
          press.clips.map((c, i) => (
            <circle
              key={i}
              data-clip=""
              cx={c.at[0]}
              cy={c.at[1]}
              r={Math.max((press.clip?.foot ?? 4) / 2, 2 * unit)}
              fill="var(--panel)"
              stroke="var(--brass)"
              strokeWidth={1.1 * unit}
            />
          ))}
        {view === 'press' &&
          press.clips.map((c, i) => <circle key={i} cx={c.at[0]} cy={c.at[1]} r={0.8 * unit} fill="var(--brass)" />)}
      </g>
      {view === 'strips' &&
        strips?.strips.map((s) =>
          text(inward(s.line[Math.floor(s.line.length / 2)]!, s.width / 2 + 6 * unit), String(s.n), 'fill-mauve', 5.4),
        )}
      {view === 'press' && press.clips.map((c) => text(inward(c.at, 8 * unit), c.newtons.toFixed(0), 'fill-brass'))}
      {cells.map((p) => {
        const [px, py, pw, ph] = boundsOf(p.outline);
        return text([px + pw / 2, py + ph / 2], 'cell', 'fill-quiet', 4);
      })}
    </svg>
  );
});
