import type { Model } from '../../core/anatomy/index.ts';
import { FASTENERS } from '../../core/kinds/index.ts';
import { classesOf, wellLabel, type TrayPlan, type TraySize } from '../../core/screws/index.ts';
import { ScrewGlyph } from './marks.tsx';

/** The tray as it lies on the bench: which class goes into which well, and from which step. */
export function ScrewTray({
  plan,
  size,
  model,
  className,
}: {
  plan: TrayPlan;
  size: TraySize;
  model: Model;
  className?: string;
}) {
  const classes = new Map(classesOf(model).map((c) => [c.letter, c]));
  const most = Math.max(1, ...plan.wells.map((well) => plan.wells.filter((other) => other === well).length));
  const [w, h] = [42, 12 + 9 * Math.max(2, most)];
  const each = size.rows * size.columns;
  return (
    <div className={className}>
      {Array.from({ length: size.trays }, (_, t) => (
        <svg
          key={t}
          viewBox={`-1 -1 ${size.columns * w + 2} ${size.rows * h + 2}`}
          role="img"
          aria-label={`Tray ${t + 1}: ${plan.labels.map((label, i) => `${label} ${plan.lots[i]!.letter}`).join(', ')}`}
          className="w-full"
        >
          {Array.from({ length: each }, (_, k) => {
            const well = t * each + k;
            const lots = plan.lots.filter((_, i) => plan.wells[i] === well);
            const [x, y] = [(k % size.columns) * w, Math.floor(k / size.columns) * h];
            return (
              <g key={k} transform={`translate(${x} ${y})`}>
                <rect
                  x={1}
                  y={1}
                  width={w - 2}
                  height={h - 2}
                  rx={3}
                  fill={lots.length > 0 ? 'var(--sunk)' : 'none'}
                  stroke="var(--line)"
                  strokeWidth={0.7}
                />
                <text x={3} y={7} fontSize={5} fill="var(--quiet)" fontFamily="var(--font-mono)">
                  {wellLabel(well, size)}
                </text>
                {lots.map((lot, i) => {
                  const shape = classes.get(lot.letter)!.shape;
                  const at = 9 + i * 9;
                  return (
                    <g key={i}>
                      <ScrewGlyph
                        x={7}
                        y={at + 4}
                        r={3.2}
                        drive={shape.drive}
                        fill="var(--brass)"
                        stroke="var(--panel)"
                        standoff={FASTENERS.of(shape.kind).seat}
                      />
                      <text x={12.5} y={at + 6.2} fontSize={6.5} fontWeight="bold" fill="var(--ink)">
                        {lot.letter}
                      </text>
                      <text
                        x={w - 3}
                        y={at + 6}
                        fontSize={5.4}
                        textAnchor="end"
                        fill="var(--ink)"
                        fontFamily="var(--font-mono)"
                      >
                        {lot.fasteners.length}×{shape.length ?? '?'}
                      </text>
                    </g>
                  );
                })}
                {lots[0] && (
                  <text
                    x={w - 3}
                    y={7}
                    fontSize={4.4}
                    textAnchor="end"
                    fill="var(--quiet)"
                    fontFamily="var(--font-mono)"
                  >
                    step {lots[0].step}
                  </text>
                )}
              </g>
            );
          })}
        </svg>
      ))}
    </div>
  );
}
