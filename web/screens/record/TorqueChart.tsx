import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js';
import { Bar } from 'react-chartjs-2';
import type { Model } from '../../../core/anatomy/index.ts';
import { torqueTarget, TORQUE_TOLERANCE } from '../../../core/screws/index.ts';

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

/** Bins of 5 % around the target. */
const FROM = 70;
const BINS = 14;

/** How the peaks of all driven screws lie around their targets. */
export default function TorqueChart({
  model,
  readings,
}: {
  model: Model;
  readings: readonly { fastener: string; value: number }[];
}) {
  const shares = readings.flatMap(({ fastener, value }) => {
    const f = model.fasteners.get(fastener);
    return f ? [(100 * value) / torqueTarget(f).target] : [];
  });
  const counts = Array.from(
    { length: BINS },
    (_, i) => shares.filter((s) => Math.min(BINS - 1, Math.max(0, Math.floor((s - FROM) / 5))) === i).length,
  );
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  const inside = (i: number) =>
    FROM + 5 * i >= 100 * (1 - TORQUE_TOLERANCE) - 0.01 && FROM + 5 * (i + 1) <= 100 * (1 + TORQUE_TOLERANCE) + 0.01;
  return (
    <div className="h-44">
      <Bar
        aria-label={`Torque of ${shares.length} screws against their targets`}
        role="img"
        data={{
          labels: counts.map((_, i) => `${FROM + 5 * i}`),
          datasets: [
            {
              data: counts,
              backgroundColor: counts.map((_, i) => (inside(i) ? colour('--brass') : colour('--crimson'))),
            },
          ],
        }}
        options={{
          maintainAspectRatio: false,
          animation: false,
          plugins: { legend: { display: false } },
          scales: {
            x: {
              title: { display: true, text: '% of the target', color: colour('--quiet') },
              ticks: { color: colour('--quiet') },
            },
            y: { ticks: { precision: 0, color: colour('--quiet') } },
          },
        }}
      />
    </div>
  );
}
