import { memo, useMemo } from 'react';
import { ringOf, type Edge, type Model, type Point } from '../../core/anatomy/index.ts';
import { contour } from './contour.ts';
import { outlinePath } from './geometry.ts';

export type EdgeState = 'soft' | 'not yet' | 'cooling';

export interface HeatMapProps {
  model: Model;
  /** Which way round: the face that is warmed is looked at. */
  face: 'front' | 'back';
  grid: { nx: number; ny: number; dx: number; dy: number };
  /** Where the grid begins in the device, mm: elsewhere than at its corner for one half of a fold. */
  origin: Point;
  /** Share of each cell that is device. */
  body: ArrayLike<number>;
  /** °C over the plane, row by row. */
  values: ArrayLike<number>;
  /** °C of the palest and the deepest colour. */
  range: [number, number];
  /** The isotherm that counts. */
  softensAt: number;
  seam: { at: Point; edge: Edge; temperature: number; state: EdgeState }[];
  edges: Partial<Record<Edge, { temperature: number; state: EdgeState }>>;
  label: string;
  className?: string;
}

/** Pale sand to ember: warmth has its own scale, apart from that of depth. */
const STOPS: [number, number, number][] = [
  [233, 229, 216],
  [240, 214, 170],
  [238, 172, 104],
  [214, 112, 48],
  [160, 52, 18],
  [96, 20, 14],
];

export function warmth(share: number): [number, number, number] {
  const at = Math.min(1, Math.max(0, share)) * (STOPS.length - 1);
  const i = Math.min(STOPS.length - 2, Math.floor(at));
  const [a, b] = [STOPS[i]!, STOPS[i + 1]!];
  return [0, 1, 2].map((k) => Math.round(a[k]! + (b[k]! - a[k]!) * (at - i))) as [number, number, number];
}

/** How a state is drawn along its edge, so that colour is never alone. */
export const STATE_LINE: Record<EdgeState, { dash: string | undefined; sign: string }> = {
  soft: { dash: undefined, sign: '●' },
  'not yet': { dash: '0.1 4', sign: '○' },
  cooling: { dash: '5 3', sign: '◐' },
};

/** The device as a map of temperature, with isotherms every 10 °C, the one that counts drawn heavy, and its edges marked. */
export const HeatMap = memo(function HeatMap({
  model,
  face,
  grid,
  origin,
  body,
  values,
  range,
  softensAt,
  seam,
  edges,
  label,
  className,
}: HeatMapProps) {
  const { anatomy } = model;
  const { width, height, cornerRadius } = anatomy.body;
  const { nx, ny, dx, dy } = grid;
  const unit = Math.max(width, height) / 150;
  const picture = useMemo(() => {
    const canvas = document.createElement('canvas');
    canvas.width = nx;
    canvas.height = ny;
    const context = canvas.getContext('2d')!;
    const pixels = context.createImageData(nx, ny);
    for (let i = 0; i < nx * ny; i++) {
      const [r, g, b] = warmth((values[i]! - range[0]) / (range[1] - range[0]));
      pixels.data.set([r, g, b, body[i]! > 0.02 ? 255 : 0], 4 * i);
    }
    context.putImageData(pixels, 0, 0);
    return canvas.toDataURL();
  }, [nx, ny, values, range, body]);
  const lines = useMemo(() => {
    const levels: number[] = [];
    for (let level = Math.ceil(range[0] / 10) * 10; level < range[1]; level += 10) levels.push(level);
    const d = (level: number) =>
      contour(values, nx, ny, level)
        .map(
          ([x1, y1, x2, y2]) =>
            `M${((x1 + 0.5) * dx).toFixed(2)} ` +
            `${((y1 + 0.5) * dy).toFixed(2)}L${((x2 + 0.5) * dx).toFixed(2)} ${((y2 + 0.5) * dy).toFixed(2)}`,
        )
        .join('');
    return {
      thin: levels
        .filter((l) => l !== softensAt)
        .map(d)
        .join(''),
      heavy: d(softensAt),
    };
  }, [values, nx, ny, dx, dy, range, softensAt]);
  const battery = anatomy.parts.find((p) => p.kind === 'battery');
  const mirrored = face === 'back';
  const x = (v: number) => (mirrored ? width - v : v);
  const room = 27 * unit;
  const places: Record<Edge, { x: number; y: number; anchor: 'start' | 'middle' | 'end' }> = {
    top: { x: width / 2, y: -5 * unit, anchor: 'middle' },
    bottom: { x: width / 2, y: height + 9 * unit, anchor: 'middle' },
    left: { x: mirrored ? width + 4 * unit : -4 * unit, y: height / 2, anchor: mirrored ? 'start' : 'end' },
    right: { x: mirrored ? -4 * unit : width + 4 * unit, y: height / 2, anchor: mirrored ? 'end' : 'start' },
  };
  return (
    <svg
      viewBox={`${-room} ${-17 * unit} ${width + 2 * room} ${height + 34 * unit}`}
      role="img"
      aria-label={label}
      className={className}
      data-testid="heat-map"
    >
      <defs>
        <clipPath id="heat-body">
          <rect width={width} height={height} rx={cornerRadius} />
        </clipPath>
      </defs>
      <g transform={mirrored ? `translate(${width} 0) scale(-1 1)` : undefined}>
        <g clipPath="url(#heat-body)">
          <g transform={`translate(${origin[0]} ${origin[1]})`}>
            <image href={picture} width={nx * dx} height={ny * dy} preserveAspectRatio="none" />
            <path d={lines.thin} fill="none" stroke="#172326" strokeOpacity={0.45} strokeWidth={0.3 * unit} />
            <path d={lines.heavy} fill="none" stroke="#172326" strokeWidth={1 * unit} data-testid="isotherm" />
          </g>
        </g>
        {battery && (
          <path
            d={outlinePath(battery.outline)}
            fill="none"
            stroke="#172326"
            strokeWidth={0.5 * unit}
            strokeDasharray={`${2 * unit} ${1.4 * unit}`}
          />
        )}
        <rect
          width={width}
          height={height}
          rx={cornerRadius}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={0.9 * unit}
        />
        {seam.map((s, i) =>
          s.state === 'soft' ? (
            <circle
              key={i}
              cx={s.at[0]}
              cy={s.at[1]}
              r={1.25 * unit}
              fill="#fffdf7"
              stroke="#172326"
              strokeWidth={0.5 * unit}
            />
          ) : s.state === 'cooling' ? (
            <path
              key={i}
              d={`M${s.at[0] - 1.2 * unit} ${s.at[1]}h${2.4 * unit}`}
              stroke="#172326"
              strokeWidth={0.9 * unit}
            />
          ) : (
            <circle key={i} cx={s.at[0]} cy={s.at[1]} r={0.55 * unit} fill="#172326" />
          ),
        )}
      </g>
      {battery && (
        <text
          x={x(
            battery.outline &&
              ringOf(battery.outline).reduce((sum, p) => sum + p[0], 0) / ringOf(battery.outline).length,
          )}
          y={ringOf(battery.outline).reduce((sum, p) => sum + p[1], 0) / ringOf(battery.outline).length}
          fontSize={4.4 * unit}
          textAnchor="middle"
          fill="#172326"
          stroke="#f7f5ef"
          strokeWidth={1.1 * unit}
          paintOrder="stroke"
          fontWeight={700}
        >
          cell
        </text>
      )}
      {(Object.entries(edges) as [Edge, { temperature: number; state: EdgeState }][]).map(
        ([edge, { temperature, state }]) => (
          <g
            key={edge}
            transform={`translate(${places[edge].x} ${places[edge].y})`}
            textAnchor={places[edge].anchor}
            fill="var(--ink)"
            data-edge={edge}
            data-state={state}
          >
            <text fontSize={5.6 * unit} fontWeight={700} fontFamily="var(--font-mono)">
              {Math.floor(temperature + 1e-6)} °C
            </text>
            <text y={edge === 'top' ? -5.6 * unit : 5.6 * unit} fontSize={4.6 * unit}>
              {STATE_LINE[state].sign} {state}
            </text>
          </g>
        ),
      )}
    </svg>
  );
});
