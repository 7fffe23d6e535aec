import { memo, useId, useMemo } from 'react';
import type { Plan, Step } from '../../core/dive/index.ts';
import { tradeOf } from '../trade.ts';
import { depthColour } from './depth.ts';
import { TradeMark } from './marks.tsx';
import { spoken } from '../../words/index.ts';

interface ProfileProps {
  plan: Plan;
  /** Id of the step at which the technician stands. */
  at?: string | null;
  /** Ids of the steps that are done. */
  done?: { has(id: string): boolean };
  /** The step under the pointer or chosen. */
  chosen?: number | null;
  onChoose?: (step: number) => void;
  height?: number;
  className?: string;
}

const WIDTH = 1200;
const SIDE = 26;

/** The running depth of each limb: going down it only deepens, coming up it only rises. */
function envelope(steps: readonly Step[]): number[] {
  const turn = steps.findLastIndex((s) => s.phase === 'turn');
  const depths = steps.map((s) => s.depth);
  const out = [...depths];
  for (let i = 1; i <= turn; i++) out[i] = Math.max(out[i]!, out[i - 1]!);
  for (let i = steps.length - 2; i > turn; i--) out[i] = Math.max(out[i]!, out[i + 1]!);
  return out;
}

/** Where the steps of a plan lie on the drawing, in its units. */
interface Chart {
  steps: readonly Step[];
  deepest: number;
  top: number;
  floor: number;
  /** Half the distance of two marks. */
  half: number;
  /** Radius of a mark. */
  r: number;
  x: (i: number) => number;
  y: (depth: number) => number;
}

function chartOf({ steps }: Plan, height: number): Chart {
  const deepest = Math.max(1, ...steps.map((s) => s.depth));
  const [top, floor] = [26, height - 24];
  const half = (WIDTH - 2 * SIDE) / steps.length / 2;
  return {
    steps,
    deepest,
    top,
    floor,
    half,
    r: Math.min(8, Math.max(4, half / 1.45)),
    x: (i) => SIDE + half * (2 * i + 1),
    y: (depth) => top + ((floor - top) * depth) / deepest,
  };
}

/**
 * The dive, to scale in steps and depth. What is taken off on the left is level with where it goes
 * back on the right; what has no partner stands out hollow.
 */
export const DiveProfile = memo(function DiveProfile({
  plan,
  at,
  done,
  chosen,
  onChoose,
  height = 250,
  className,
}: ProfileProps) {
  const chart = useMemo(() => chartOf(plan, height), [plan, height]);
  const { steps, deepest, top, r, x, y } = chart;
  const standing = at ? (steps.find((s) => s.id === at)?.n ?? null) : null;
  const focus = chosen ?? standing;
  const partner = focus ? steps[focus - 1]?.mirrors : null;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className={className}
      role="img"
      aria-label={`Dive profile: ${steps.length} steps, ${deepest} parts deep${standing ? `, standing at step ${standing}` : ''}`}
    >
      <Water chart={chart} />
      {focus && partner ? (
        <path
          d={`M${x(focus - 1)} ${y(steps[focus - 1]!.depth)}L${x(partner - 1)} ${y(steps[partner - 1]!.depth)}`}
          stroke="var(--ink)"
          strokeWidth={1.4}
          strokeDasharray="5 4"
        />
      ) : null}
      {steps.map((s) => (
        <StepMark
          key={s.n}
          chart={chart}
          step={s}
          done={done?.has(s.id) ?? false}
          ring={focus === s.n ? 'focus' : partner === s.n ? 'partner' : null}
          onChoose={onChoose}
        />
      ))}
      {standing ? (
        <g pointerEvents="none" data-marker={standing}>
          <path
            d={`M${x(standing - 1)} ${top - 12}V${y(steps[standing - 1]!.depth) - r - 7}`}
            stroke="var(--ink)"
            strokeWidth={2}
          />
          <path d={`M${x(standing - 1) - 8} ${top - 24}h16l-8 13Z`} fill="var(--ink)" />
        </g>
      ) : null}
    </svg>
  );
});

/** The depths, and the line along which the dive goes. */
const Water = memo(function Water({ chart: { steps, deepest, x, y } }: { chart: Chart }) {
  const id = useId();
  const line = envelope(steps);
  const shore = steps.map((_, i) => `${x(i).toFixed(1)} ${y(line[i]!).toFixed(1)}`).join('L');
  return (
    <>
      <defs>
        <clipPath id={`${id}-v`}>
          <path d={`M${x(0)} ${y(0)}L${shore}L${x(steps.length - 1)} ${y(0)}Z`} />
        </clipPath>
      </defs>
      <g clipPath={`url(#${id}-v)`}>
        {Array.from({ length: deepest }, (_, d) => (
          <rect
            key={d}
            x={0}
            y={y(d)}
            width={WIDTH}
            height={y(d + 1) - y(d) + 0.5}
            fill={depthColour((d + 0.4) / deepest)}
            opacity={0.5}
          />
        ))}
      </g>
      {Array.from({ length: deepest + 1 }, (_, d) => (
        <g key={d}>
          <path
            d={`M${SIDE - 8} ${y(d)}H${WIDTH - SIDE + 8}`}
            stroke="var(--line)"
            strokeWidth={d === 0 ? 2 : 1}
            strokeDasharray={d === 0 ? undefined : '2 6'}
          />
          <text x={6} y={y(d) + 4} fontSize={12} fontFamily="var(--font-mono)" fill="var(--quiet)">
            {d}
          </text>
        </g>
      ))}
      <path d={`M${shore}`} fill="none" stroke="var(--petrol)" strokeWidth={1.6} strokeLinejoin="round" opacity={0.7} />
    </>
  );
});

/** One step; drawn anew only when it is done, or the technician comes to stand at it. */
const StepMark = memo(function StepMark({
  chart: { top, floor, half, r, x, y },
  step,
  done,
  ring,
  onChoose,
}: {
  chart: Chart;
  step: Step;
  done: boolean;
  ring: 'focus' | 'partner' | null;
  onChoose: ((step: number) => void) | undefined;
}) {
  const [cx, cy] = [x(step.n - 1), y(step.depth)];
  const alone = step.mirrors === null && (step.phase === 'ascent' || step.phase === 'turn');
  return (
    // The list of steps is the keyboard's way to them; the profile adds a pointer's.
    // biome-ignore lint/a11y/noStaticElementInteractions: see above
    <g
      onMouseEnter={onChoose && (() => onChoose(step.n))}
      onClick={onChoose && (() => onChoose(step.n))}
      className={onChoose ? 'cursor-pointer' : undefined}
      opacity={done ? 0.45 : 1}
      data-step={step.n}
    >
      <title>{`${step.n}. ${step.gate ?? spoken.verbs[step.do]}`}</title>
      {onChoose && <rect x={cx - half} y={top - 14} width={2 * half} height={floor - top + 28} fill="transparent" />}
      <TradeMark trade={tradeOf(step)} x={cx} y={cy} r={r} hollow={alone} />
      {ring && (
        <circle cx={cx} cy={cy} r={r + 6} fill="none" stroke="var(--ink)" strokeWidth={ring === 'focus' ? 2.4 : 1.4} />
      )}
    </g>
  );
});

/** The same V in the small, for a line of a list. */
export function SmallProfile({
  depths,
  done,
  className,
}: {
  depths: readonly number[];
  done: number;
  className?: string;
}) {
  const deepest = Math.max(1, ...depths);
  const n = Math.max(1, depths.length);
  const x = (i: number) => 3 + (114 * (i + 0.5)) / n;
  const y = (d: number) => 5 + (30 * d) / deepest;
  if (depths.length === 0)
    return (
      <svg viewBox="0 0 120 40" className={className} aria-hidden="true">
        <path d="M3 5H117" stroke="var(--line)" strokeWidth={2} />
      </svg>
    );
  const turn = depths.indexOf(deepest);
  const line = depths.map((_, i) => (i <= turn ? Math.max(...depths.slice(0, i + 1)) : Math.max(...depths.slice(i))));
  const shore = line.map((d, i) => `${x(i).toFixed(1)} ${y(d).toFixed(1)}`).join('L');
  const at = Math.min(done, n - 1);
  return (
    <svg viewBox="0 0 120 40" className={className} aria-hidden="true">
      <path d={`M3 5L${shore}L117 5Z`} fill={depthColour(0.35)} opacity={0.45} />
      <path d={`M${shore}`} fill="none" stroke="var(--line)" strokeWidth={2} />
      {done > 0 && (
        <path
          d={`M${line
            .slice(0, at + 1)
            .map((d, i) => `${x(i).toFixed(1)} ${y(d).toFixed(1)}`)
            .join('L')}`}
          fill="none"
          stroke="var(--petrol)"
          strokeWidth={3}
          strokeLinecap="round"
        />
      )}
      {done > 0 && done < n && <circle cx={x(at)} cy={y(line[at]!)} r={4} fill="var(--ink)" />}
    </svg>
  );
}
