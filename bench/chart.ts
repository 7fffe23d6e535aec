export interface LogLog {
  title: string;
  xLabel: string;
  yLabel: string;
  points: readonly { x: number; y: number }[];
  /** Slope of the line drawn through the middle of the points. */
  exponent: number;
}

const WIDTH = 640;
const HEIGHT = 360;
const MARGIN = { left: 70, right: 24, top: 48, bottom: 52 };

/** A small log-log chart as SVG, for the documents. */
export function logLogChart({ title, xLabel, yLabel, points, exponent }: LogLog): string {
  const pad = (values: number[]) => [Math.min(...values) / 1.3, Math.max(...values) * 1.3] as const;
  const [x0, x1] = pad(points.map((p) => p.x));
  const [y0, y1] = pad(points.map((p) => p.y));
  const at = (v: number, from: number, to: number) => Math.log(v / from) / Math.log(to / from);
  const x = (v: number) => MARGIN.left + at(v, x0, x1) * (WIDTH - MARGIN.left - MARGIN.right);
  const y = (v: number) => HEIGHT - MARGIN.bottom - at(v, y0, y1) * (HEIGHT - MARGIN.top - MARGIN.bottom);
  const mid = (of: (p: { x: number; y: number }) => number) =>
    Math.exp(points.reduce((sum, p) => sum + Math.log(of(p)), 0) / points.length);
  const [mx, my] = [mid((p) => p.x), mid((p) => p.y)];
  const line = [x0, x1].map((v) => `${x(v).toFixed(1)} ${y(my * (v / mx) ** exponent).toFixed(1)}`).join('L');
  const text = (tx: number, ty: number, words: string, rest = '') =>
    `<text x="${tx.toFixed(1)}" y="${ty.toFixed(1)}" font-family="sans-serif" font-size="13" fill="#172326" ${rest}>${words}</text>`;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" ` +
      `height="${HEIGHT}"><rect width="${WIDTH}" height="${HEIGHT}" fill="#f7f5ef"/>`,
    text(MARGIN.left, 28, title, 'font-weight="bold"'),
    text(WIDTH - MARGIN.right, HEIGHT - 12, xLabel, 'text-anchor="end"'),
    text(10, MARGIN.top - 6, yLabel),
    `<path d="M${MARGIN.left} ${MARGIN.top}V${HEIGHT - MARGIN.bottom}H${WIDTH - MARGIN.right}" fill="none" stroke="#4a5759"/>`,
    `<path d="M${line}" fill="none" stroke="#2f6a76" stroke-width="2" stroke-dasharray="6 4"/>`,
    ...points.flatMap((p) => [
      `<circle cx="${x(p.x).toFixed(1)}" cy="${y(p.y).toFixed(1)}" r="5" fill="#0e3f4d"/>`,
      text(x(p.x), y(p.y) - 12, `${p.y < 10 ? p.y.toFixed(1) : Math.round(p.y)}`, 'text-anchor="middle"'),
      text(x(p.x), HEIGHT - MARGIN.bottom + 18, String(p.x), 'text-anchor="middle"'),
    ]),
    '</svg>\n',
  ].join('\n');
}

export interface Curve {
  title: string;
  xLabel: string;
  yLabel: string;
  /** Shares, 0 to 1. */
  points: readonly { x: number; y: number; count: number }[];
}

/** Shares against shares, with the line on which both are the same. */
export function shareChart({ title, xLabel, yLabel, points }: Curve): string {
  const x = (v: number) => MARGIN.left + v * (WIDTH - MARGIN.left - MARGIN.right);
  const y = (v: number) => HEIGHT - MARGIN.bottom - v * (HEIGHT - MARGIN.top - MARGIN.bottom);
  const text = (tx: number, ty: number, words: string, rest = '') =>
    `<text x="${tx.toFixed(1)}" y="${ty.toFixed(1)}" font-family="sans-serif" font-size="13" fill="#172326" ${rest}>${words}</text>`;
  const path = points.map((p) => `${x(p.x).toFixed(1)} ${y(p.y).toFixed(1)}`).join('L');
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" ` +
      `height="${HEIGHT}"><rect width="${WIDTH}" height="${HEIGHT}" fill="#f7f5ef"/>`,
    text(MARGIN.left, 28, title, 'font-weight="bold"'),
    text(WIDTH - MARGIN.right, HEIGHT - 12, xLabel, 'text-anchor="end"'),
    text(MARGIN.left + 8, MARGIN.top + 4, yLabel),
    `<path d="M${MARGIN.left} ${MARGIN.top}V${HEIGHT - MARGIN.bottom}H${WIDTH - MARGIN.right}" fill="none" stroke="#4a5759"/>`,
    `<path d="M${x(0)} ${y(0)}L${x(1)} ${y(1)}" fill="none" stroke="#2f6a76" stroke-width="2" stroke-dasharray="6 4"/>`,
    `<path d="M${path}" fill="none" stroke="#0e3f4d" stroke-width="2"/>`,
    ...[0, 0.2, 0.4, 0.6, 0.8, 1].flatMap((v) => [
      text(x(v), HEIGHT - MARGIN.bottom + 18, `${Math.round(v * 100)}`, 'text-anchor="middle"'),
      text(MARGIN.left - 8, y(v) + 4, `${Math.round(v * 100)}`, 'text-anchor="end"'),
    ]),
    ...points.flatMap((p) => [
      `<circle cx="${x(p.x).toFixed(1)}" cy="${y(p.y).toFixed(1)}" r="5" fill="#0e3f4d"/>`,
      text(x(p.x) + 9, y(p.y) + 14, String(p.count)),
    ]),
    '</svg>\n',
  ].join('\n');
}
