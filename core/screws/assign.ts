/** A minimum-cost assignment with its dual prices, which prove it and serve to ask "what if not". */
export interface Assignment {
  /** Column of each row. */
  columns: Int32Array;
  cost: number;
  rowPrice: Float64Array;
  columnPrice: Float64Array;
  /** Row of each column, -1 for none. */
  rows: Int32Array;
}

/**
 * Minimum-cost assignment of every row to a column of its own, by shortest augmenting paths with dual prices
 * (Jonker and Volgenant 1987, from memory).
 * @param costs row-major, `n` rows by `m` columns, n ≤ m; `Infinity` forbids a pair
 * @throws Error when sizes do not agree, a cost is NaN, or some row cannot be assigned
 */
export function assign(costs: Float64Array, n: number, m: number): Assignment {
  if (n > m) throw new Error(`${n} rows cannot have a column of their own among ${m}; add columns or swap them`);
  if (costs.length !== n * m) throw new Error(`a ${n} × ${m} matrix has ${n * m} costs, not ${costs.length}`);
  const made: Assignment = {
    columns: new Int32Array(n).fill(-1),
    cost: 0,
    rowPrice: new Float64Array(n),
    columnPrice: new Float64Array(m),
    rows: new Int32Array(m).fill(-1),
  };
  for (let row = 0; row < n; row++) augment(costs, m, made, row);
  for (let row = 0; row < n; row++) made.cost += costs[row * m + made.columns[row]!]!;
  return made;
}

/** Finds the cheapest way to give `row` a column, moving others where that helps. Keeps the prices right. */
function augment(costs: Float64Array, m: number, made: Assignment, row: number): void {
  const { columns, rows, rowPrice, columnPrice } = made;
  const best = new Float64Array(m).fill(Number.POSITIVE_INFINITY);
  const from = new Int32Array(m).fill(-1);
  const done = new Uint8Array(m);
  let at = row;
  let spent = 0;
  let end = -1;
  const path: number[] = [];
  while (end < 0) {
    let next = -1;
    let low = Number.POSITIVE_INFINITY;
    for (let j = 0; j < m; j++) {
      if (done[j]) continue;
      const cost = costs[at * m + j]!;
      if (Number.isNaN(cost)) throw new Error(`the cost of row ${at} and column ${j} is not a number`);
      const through = spent + cost - rowPrice[at]! - columnPrice[j]!;
      if (through < best[j]!) {
        best[j] = through;
        from[j] = at;
      }
      if (best[j]! < low) {
        low = best[j]!;
        next = j;
      }
    }
    if (next < 0) throw new Error(`row ${row} cannot be assigned: every column is forbidden`);
    spent = low;
    done[next] = 1;
    path.push(next);
    if (rows[next]! < 0) end = next;
    else at = rows[next]!;
  }
  rowPrice[row] = rowPrice[row]! + spent;
  for (const j of path) {
    if (j === end) continue;
    rowPrice[rows[j]!] = rowPrice[rows[j]!]! + spent - best[j]!;
    columnPrice[j] = columnPrice[j]! - (spent - best[j]!);
  }
  for (let j = end; j >= 0; ) {
    const i = from[j]!;
    const before = columns[i]!;
    columns[i] = j;
    rows[j] = i;
    j = i === row ? -1 : before;
  }
}

/**
 * What the whole assignment would cost if `row` had to take one of the columns for which `allowed` holds: one
 * more augmenting path from the optimum, not a new solution. The matrix is square; fill it with rows of no cost.
 * @throws Error when it is not square
 * @returns `Infinity` when that cannot be
 */
export function costIfRestricted(
  costs: Float64Array,
  n: number,
  m: number,
  optimum: Assignment,
  row: number,
  allowed: (column: number) => boolean,
): number {
  if (n !== m) throw new Error(`a ${n} × ${m} matrix is not square; add rows of no cost`);
  if (allowed(optimum.columns[row]!)) return optimum.cost;
  const restricted = costs.slice();
  for (let j = 0; j < m; j++) if (!allowed(j)) restricted[row * m + j] = Number.POSITIVE_INFINITY;
  const made: Assignment = {
    columns: optimum.columns.slice(),
    rows: optimum.rows.slice(),
    cost: 0,
    rowPrice: optimum.rowPrice.slice(),
    columnPrice: optimum.columnPrice.slice(),
  };
  made.rows[made.columns[row]!] = -1;
  made.columns[row] = -1;
  try {
    augment(restricted, m, made, row);
  } catch {
    return Number.POSITIVE_INFINITY;
  }
  let cost = 0;
  for (let i = 0; i < n; i++) cost += restricted[i * m + made.columns[i]!]!;
  return cost;
}
