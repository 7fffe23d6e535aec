import { memo, useMemo, type KeyboardEvent } from 'react';
import { boundsOf, type Edge, type Model, type Point } from '../../core/anatomy/index.ts';
import { CUP, type CutRun } from '../../core/opening/index.ts';
import { outlinePath, viewBoxOf } from './geometry.ts';
import type { Cut } from '../workers/heat.worker.ts';

/**
 * What of the device is drawn, mm, and how many times deeper than true the cut is, so that tenths of a millimetre can
 * be told apart: a small part is looked at closely instead.
 */
export function seamView(
  model: Model,
  part: string,
): { x: number; y: number; width: number; height: number; deeper: number } {
  const { body } = model.anatomy;
  const [x, y, width, height] = boundsOf(model.parts.get(part)!.outline);
  if (Math.max(width, height) > 0.5 * Math.max(body.width, body.height))
    return { x: 0, y: 0, width: body.width, height: body.height, deeper: 2.2 };
  const around = 0.3 * Math.max(width, height);
  return { x: x - around, y: y - around, width: width + 2 * around, height: height + 2 * around, deeper: 1 };
}

/**
 * The seam from the side it is opened from: how deep the pick goes on each stretch, in what order, what lies behind,
 * and where it begins.
 */
export const SeamDrawing = memo(function SeamDrawing({
  model,
  cut: { plan, seam },
  chosen,
  onChoose,
  label,
  className,
}: {
  model: Model;
  cut: Cut;
  chosen?: CutRun | null;
  onChoose?: (run: CutRun) => void;
  label: string;
  className?: string;
}) {
  const { body } = model.anatomy;
  const view = seamView(model, plan.part);
  const unit = Math.max(view.width, view.height) / 150;
  const part = model.parts.get(plan.part)!;
  const mirrored = part.face === 'back';
  const near = useMemo(() => new Set(plan.runs.flatMap((r) => r.behind)), [plan]);
  const scale = view.deeper;
  /** The ground that a run sweeps. */
  const ground = (run: CutRun): string => {
    const n = seam.samples.length;
    const first = seam.samples.findIndex((s) => Math.abs(s.s - run.s[0]) < 1e-6);
    const last = seam.samples.findIndex((s) => Math.abs(s.s - run.s[1]) < 1e-6);
    const here: number[] = [];
    for (let i = first; ; i = (i + 1) % n) {
      here.push(i);
      if (i === last) break;
    }
    const depth = (run.n === null ? run.need : run.depth) * scale;
    const outer = here.map((i) => seam.samples[i]!.at);
    const inner = here
      .map((i): Point => {
        const { at, inward } = seam.samples[i]!;
        return [at[0] + inward[0] * depth, at[1] + inward[1] * depth];
      })
      .reverse();
    return `M${[...outer, ...inner].map(([x, y]) => `${x.toFixed(2)} ${y.toFixed(2)}`).join('L')}Z`;
  };
  const middle = (run: CutRun): { at: Point; inward: Point } => {
    const n = seam.samples.length;
    const first = seam.samples.findIndex((s) => Math.abs(s.s - run.s[0]) < 1e-6);
    const { at, inward } = seam.samples[(first + Math.round(run.length / (2 * (seam.path.length / n)))) % n]!;
    return { at, inward };
  };
  const press = (run: CutRun) =>
    onChoose
      ? {
          role: 'button',
          tabIndex: 0,
          'aria-label': run.n === null ? `${run.edge} edge, left` : `Run ${run.n}, ${run.depth} mm`,
          className: 'cursor-pointer',
          onClick: () => onChoose(run),
          onKeyDown: (e: KeyboardEvent) => {
            if (e.key === 'Enter' || e.key === ' ') {
              e.preventDefault();
              onChoose(run);
            }
          },
        }
      : {};
  const flip = (x: number) => (mirrored ? body.width - x : x);
  const out = (edge: Edge, by: number): Point =>
    ({ top: [0, -by], bottom: [0, by], left: [mirrored ? by : -by, 0], right: [mirrored ? -by : by, 0] })[
      edge
    ] as Point;
  const cup = plan.gaps[0]!;
  const room = 19 * unit;
  return (
    <svg
      viewBox={viewBoxOf(view, room, { across: body.width, mirrored })}
      role={onChoose ? 'group' : 'img'}
      aria-label={label}
      className={className}
      data-testid="seam"
    >
      <defs>
        <pattern
          id="seam-left"
          width="2.2"
          height="2.2"
          patternUnits="userSpaceOnUse"
          patternTransform={`scale(${unit}) rotate(45)`}
        >
          <path d="M0 0V2.2" stroke="var(--crimson)" strokeWidth="1" />
        </pattern>
        <pattern id="seam-hook" width="3" height="3" patternUnits="userSpaceOnUse" patternTransform={`scale(${unit})`}>
          <circle cx="1.5" cy="1.5" r=".6" fill="var(--mauve)" />
        </pattern>
        <pattern
          id="seam-near"
          width="2"
          height="2"
          patternUnits="userSpaceOnUse"
          patternTransform={`scale(${unit}) rotate(-45)`}
        >
          <path d="M0 0V2" stroke="var(--crimson)" strokeWidth=".5" />
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
        <path d={outlinePath(part.outline)} fill="var(--panel)" stroke="var(--ink)" strokeWidth={0.5 * unit} />
        {seam.obstacles.map((o, i) => {
          const limits = near.has(o.item);
          const stroke = limits ? 'var(--crimson)' : 'var(--quiet)';
          return 'line' in o.shape ? (
            <polyline
              key={i}
              points={o.shape.line.map((p) => p.join(',')).join(' ')}
              fill="none"
              stroke={stroke}
              strokeOpacity={limits ? 0.8 : 0.3}
              strokeWidth={o.shape.width}
              strokeLinecap="round"
            >
              <title>{o.name}</title>
            </polyline>
          ) : (
            <path
              key={i}
              d={outlinePath(o.shape.outline)}
              fill={limits ? 'url(#seam-near)' : 'none'}
              stroke={stroke}
              strokeOpacity={limits ? 1 : 0.55}
              strokeWidth={(limits ? 0.8 : 0.35) * unit}
            >
              <title>{o.name}</title>
            </path>
          );
        })}
        {plan.runs.map((run, i) => {
          const hooked = plan.hooked.includes(run.edge) && run.n === null;
          return (
            <path
              key={i}
              d={ground(run)}
              data-run={run.n ?? 'left'}
              fill={
                run.n !== null
                  ? run.mark === 1 && plan.marks.length > 1
                    ? 'var(--teal)'
                    : 'var(--petrol)'
                  : hooked
                    ? 'url(#seam-hook)'
                    : 'url(#seam-left)'
              }
              fillOpacity={run === chosen ? 1 : 0.8}
              stroke={run === chosen ? 'var(--ink)' : 'var(--panel)'}
              strokeWidth={(run === chosen ? 1.4 : 0.4) * unit}
              {...press(run)}
            >
              <title>
                {run.n === null
                  ? `${run.edge} edge: ${hooked ? 'slid out of its hooks' : 'left'}`
                  : `${run.n}: ${run.depth} mm`}
              </title>
            </path>
          );
        })}
        {cup.way === 'thin-blade' && (
          <path
            transform={
              `translate(${cup.at[0]} ${cup.at[1]}) ` +
              `rotate(${(Math.atan2(plan.entry.inward[1], plan.entry.inward[0]) * 180) / Math.PI})`
            }
            d={`M${-1.4 * unit} ${-5 * unit}H${1.4 * unit}V${5 * unit}H${-1.4 * unit}Z`}
            fill="var(--ember)"
            stroke="var(--panel)"
            strokeWidth={0.6 * unit}
          >
            <title>thin blade</title>
          </path>
        )}
        {cup.way !== 'thin-blade' && (
          <circle
            cx={cup.at[0]}
            cy={cup.at[1]}
            r={CUP.radius}
            fill="none"
            stroke="var(--ink)"
            strokeOpacity={0.5}
            strokeWidth={0.7 * unit}
            strokeDasharray={`${2.4 * unit} ${1.8 * unit}`}
          />
        )}
        <g
          transform={
            `translate(${plan.entry.at[0]} ${plan.entry.at[1]}) ` +
            `rotate(${(Math.atan2(plan.entry.inward[1], plan.entry.inward[0]) * 180) / Math.PI})`
          }
        >
          <path
            d={`M${-11 * unit} 0H${-2 * unit}m${-4 * unit} ${-3 * unit}l${4 * unit} ${3 * unit}l${-4 * unit} ${3 * unit}`}
            fill="none"
            stroke="var(--ember)"
            strokeWidth={2 * unit}
            strokeLinejoin="round"
          />
        </g>
        {plan.runs
          .filter((r) => r.pick)
          .map((r) => {
            const [x, y] = r.to;
            return (
              <path
                key={`${r.n}pick`}
                transform={`translate(${x} ${y})`}
                d={`M0 ${-2.8 * unit}L${2.6 * unit} ${2 * unit}H${-2.6 * unit}Z`}
                fill="var(--brass)"
                stroke="var(--panel)"
                strokeWidth={0.6 * unit}
              >
                <title>second pick</title>
              </path>
            );
          })}
      </g>
      {plan.runs
        .filter((r) => r.length > 8 * unit || r.n === null)
        .map((r, i) => {
          if (r.n === null && r.length < 12 * unit) return null;
          const { at } = middle(r);
          const [ox, oy] = out(r.edge, 8 * unit);
          // Beside the arrow, not under it.
          const aside =
            r.n === 1 ? (r.edge === 'left' || r.edge === 'right' ? [0, -9 * unit] : [14 * unit, 0]) : [0, 0];
          return (
            <text
              key={i}
              x={flip(at[0]) + ox + aside[0]!}
              y={at[1] + oy + aside[1]! + 1.6 * unit}
              textAnchor={
                r.edge === 'left'
                  ? mirrored
                    ? 'start'
                    : 'end'
                  : r.edge === 'right'
                    ? mirrored
                      ? 'end'
                      : 'start'
                    : 'middle'
              }
              fontSize={5 * unit}
              fontWeight={700}
              fontFamily="var(--font-mono)"
              fill={r.behind.length > 0 ? 'var(--crimson)' : 'var(--ink)'}
            >
              {r.n === null ? (plan.hooked.includes(r.edge) ? 'hooks' : 'left') : `${r.depth}`}
            </text>
          );
        })}
      {plan.runs
        .filter((r) => r.n !== null && r.length > 6 * unit)
        .map((r) => {
          const { at, inward } = middle(r);
          const inset = r.depth * scale + 5.4 * unit;
          return (
            <g
              key={`n${r.n}`}
              transform={`translate(${flip(at[0] + inward[0] * inset)} ${at[1] + inward[1] * inset})`}
              pointerEvents="none"
            >
              <circle r={3.6 * unit} fill="var(--ink)" />
              <text y={1.7 * unit} textAnchor="middle" fontSize={4.8 * unit} fontWeight={700} fill="var(--panel)">
                {r.n}
              </text>
            </g>
          );
        })}
    </svg>
  );
});
