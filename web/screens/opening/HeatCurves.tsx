import {
  Chart,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartOptions,
  type Plugin,
  Filler,
} from 'chart.js';
import { useRef } from 'react';
import { Line } from 'react-chartjs-2';
import { LIMITS } from '../../../core/heat/index.ts';
import type { Heating } from '../../workers/heat.worker.ts';

Chart.register(LineController, LineElement, LinearScale, PointElement, Tooltip, Legend, Filler);

/** Seam, cell and panel against time, with their limits and the chosen moment. Dashes and words tell them apart as well as colour. */
export default function HeatCurves({ heating, time }: { heating: Heating; time: number }) {
  const { run, softensAt } = heating;
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  const last = run.times.at(-1)!;
  const curve = (
    label: string,
    values: readonly number[] | undefined,
    stroke: string,
    dash: number[] = [],
    width = 2.5,
  ) =>
    values
      ? [
          {
            label,
            data: values.map((y, i) => ({ x: run.times[i]!, y })),
            borderColor: colour(stroke),
            borderDash: dash,
            borderWidth: width,
            pointRadius: 0,
          },
        ]
      : [];
  /** The band of a curve: both ends of what is assumed, with the ground between them tinted. */
  const between = (
    label: string,
    { low, high }: { low: readonly number[]; high: readonly number[] },
    stroke: string,
  ) => {
    const end = (values: readonly number[], name: string, fill: false | '-1') => ({
      label: `${label}, ${name}`,
      data: values.map((y, i) => ({ x: run.times[i]!, y })),
      borderColor: `color-mix(in srgb, ${colour(stroke)} 35%, transparent)`,
      backgroundColor: `color-mix(in srgb, ${colour(stroke)} 14%, transparent)`,
      borderWidth: 1,
      pointRadius: 0,
      fill,
    });
    return [end(low, 'at the least', false), end(high, 'at the most', '-1')];
  };
  const limit = (label: string, y: number, stroke: string) => ({
    label,
    data: [
      { x: 0, y },
      { x: last, y },
    ],
    borderColor: colour(stroke),
    borderDash: [3, 5],
    borderWidth: 1.5,
    pointRadius: 0,
  });
  // The chart keeps the plugin that it was made with; what it draws is read where it is now.
  const marks = useRef({ time, ends: heating.heatEnds });
  marks.current = { time, ends: heating.heatEnds };
  const moment = useRef<Plugin<'line'>>({
    id: 'moment',
    afterDatasetsDraw: ({ ctx, chartArea, scales }) => {
      const x = scales.x!.getPixelForValue(marks.current.time);
      ctx.save();
      ctx.strokeStyle = colour('--ink');
      ctx.lineWidth = 2;
      ctx.beginPath();
      ctx.moveTo(x, chartArea.top);
      ctx.lineTo(x, chartArea.bottom);
      ctx.stroke();
      const off = scales.x!.getPixelForValue(marks.current.ends);
      ctx.fillStyle = colour('--quiet');
      ctx.font = '12px sans-serif';
      ctx.textAlign = off > chartArea.right - 70 ? 'right' : 'left';
      ctx.setLineDash([2, 3]);
      ctx.lineWidth = 1;
      ctx.beginPath();
      ctx.moveTo(off, chartArea.top);
      ctx.lineTo(off, chartArea.bottom);
      ctx.stroke();
      ctx.fillText('heat off', off + 4, chartArea.bottom - 6);
      ctx.restore();
    },
  });
  const minute = (v: string | number) =>
    `${Math.floor(Number(v) / 60)}:${String(Math.round(Number(v) % 60)).padStart(2, '0')}`;
  const options: ChartOptions<'line'> = {
    maintainAspectRatio: false,
    animation: false,
    parsing: false,
    interaction: { mode: 'nearest', axis: 'x', intersect: false },
    plugins: {
      legend: {
        position: 'bottom',
        labels: {
          color: colour('--ink'),
          usePointStyle: false,
          boxWidth: 34,
          boxHeight: 0,
          padding: 10,
          filter: ({ text }) => !text.endsWith('at the least') && !text.endsWith('at the most'),
        },
      },
      tooltip: {
        callbacks: {
          title: (items) => minute(items[0]!.parsed.x ?? 0),
          label: (item) => `${item.dataset.label}: ${(item.parsed.y ?? 0).toFixed(1)} °C`,
        },
      },
    },
    scales: {
      x: {
        type: 'linear',
        min: 0,
        max: last,
        ticks: { color: colour('--quiet'), stepSize: last > 900 ? 240 : 60, callback: minute },
        grid: { color: colour('--line') },
      },
      y: { ticks: { color: colour('--quiet'), callback: (v) => `${v} °C` }, grid: { color: colour('--line') } },
    },
  };
  return (
    <div className="h-72">
      <Line
        role="img"
        aria-label={`Temperatures over ${minute(last)} minutes`}
        plugins={[moment.current]}
        options={options}
        data={{
          datasets: [
            ...curve('seam, coldest', run.coldest, '--mauve', [], 3.5),
            ...curve('seam, warmest', run.warmest, '--mauve', [8, 4]),
            ...curve('cell', run.zones.cell, '--crimson', [2, 3], 3),
            ...(heating.band.cell ? between('cell', heating.band.cell, '--crimson') : []),
            ...between('seam', heating.band.coldest, '--mauve'),
            ...curve('panel', run.zones.panel, '--teal', [10, 3, 2, 3]),
            limit(`soft ${softensAt} °C`, softensAt, '--mauve'),
            ...(run.zones.cell ? [limit(`cell stop ${LIMITS.cell.stop} °C`, LIMITS.cell.stop, '--crimson')] : []),
            ...(run.zones.panel && Math.max(...run.zones.panel) > LIMITS.panel.stop - 15
              ? [limit(`panel stop ${LIMITS.panel.stop} °C`, LIMITS.panel.stop, '--teal')]
              : []),
          ],
        }}
      />
    </div>
  );
}
