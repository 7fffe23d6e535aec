export interface Table {
  title: string;
  /** What is measured beside what, and under which conditions. */
  note: string;
  columns: string[];
  rows: (string | number)[][];
}

export type Bench = () => Promise<Table> | Table;

/** Quantile of `values` by linear interpolation, `q` from 0 to 1. @throws Error when empty */
export function quantile(values: readonly number[], q: number): number {
  if (values.length === 0) throw new Error('no values to take a quantile of');
  const sorted = [...values].sort((a, b) => a - b);
  const at = (sorted.length - 1) * q;
  const low = Math.floor(at);
  return sorted[low]! + (sorted[Math.min(low + 1, sorted.length - 1)]! - sorted[low]!) * (at - low);
}

/** Milliseconds of one call, once for each of `times` calls after `warm` unmeasured ones. */
export function timed(work: () => void, times: number, warm = 1): number[] {
  for (let i = 0; i < warm; i++) work();
  return Array.from({ length: times }, () => {
    const from = performance.now();
    work();
    return performance.now() - from;
  });
}

export const ms = (value: number): string => `${value < 10 ? value.toFixed(2) : value.toFixed(1)} ms`;
export const ratio = (value: number): string => `${value < 10 ? value.toFixed(2) : value.toFixed(0)} ×`;

export function printTable({ title, note, columns, rows }: Table): void {
  const cells = [columns, ...rows.map((row) => row.map(String))];
  const widths = columns.map((_, i) => Math.max(...cells.map((row) => row[i]!.length)));
  const line = (row: string[]) =>
    row.map((cell, i) => (i === 0 ? cell.padEnd(widths[i]!) : cell.padStart(widths[i]!))).join('   ');
  process.stdout.write(`\n${title}\n${note}\n\n${cells.map(line).join('\n')}\n`);
}
