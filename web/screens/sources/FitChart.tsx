import { Chart, Legend, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { Line } from 'react-chartjs-2';
import type { Reading } from '../../../core/heat/index.ts';

Chart.register(LineController, LineElement, LinearScale, PointElement, Legend);

/** Readings as points, what the fit says as a line. */
export default function FitChart({
  readings,
  fitted,
}: {
  readings: readonly Reading[];
  fitted: readonly number[] | null;
}) {
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  return (
    <div className="h-64">
      <Line
        role="img"
        aria-label={`${readings.length} readings${fitted ? ' and the fit' : ''}`}
        data={{
          datasets: [
            {
              label: 'measured',
              data: readings.map((r) => ({ x: r.time, y: r.temperature })),
              showLine: false,
              pointRadius: 4,
              borderColor: colour('--ember'),
              backgroundColor: colour('--panel'),
              borderWidth: 2,
            },
            ...(fitted && fitted.length === readings.length
              ? [
                  {
                    label: 'fitted',
                    data: readings.map((r, i) => ({ x: r.time, y: fitted[i]! })),
                    pointRadius: 0,
                    pointStyle: 'line' as const,
                    borderColor: colour('--petrol'),
                    borderWidth: 2.5,
                  },
                ]
              : []),
          ],
        }}
        options={{
          maintainAspectRatio: false,
          animation: false,
          parsing: false,
          plugins: { legend: { labels: { color: colour('--ink'), usePointStyle: true } } },
          scales: {
            x: {
              type: 'linear',
              title: { display: true, text: 's', color: colour('--quiet') },
              ticks: { color: colour('--quiet') },
              grid: { color: colour('--line') },
            },
            y: {
              title: { display: true, text: '°C', color: colour('--quiet') },
              ticks: { color: colour('--quiet') },
              grid: { color: colour('--line') },
            },
          },
        }}
      />
    </div>
  );
}
