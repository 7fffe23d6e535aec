import type { Fields, Shape, What } from './shape.ts';

const isOf = (shape: Shape, version: number): boolean => (shape.since ?? 1) <= version;

/** The same format as it was in an earlier version: without the fields and kinds that came later. */
export function asOf<T>(shape: Shape<T>, version: number): Shape<T> {
  const { what } = shape;
  switch (what.is) {
    case 'record': {
      const known = Object.entries(what.fields).filter(([, field]) => isOf(field, version));
      const fields: Fields = Object.fromEntries(known.map(([name, field]) => [name, asOf(field, version)]));
      return { ...shape, what: { is: 'record', fields } };
    }
    case 'list':
      return { ...shape, what: { ...what, each: asOf(what.each, version) } };
    case 'choice': {
      const { since } = what;
      return since
        ? { ...shape, what: { ...what, of: () => what.of().filter((kind) => since(kind) <= version) } }
        : shape;
    }
    default:
      return shape;
  }
}

/** What a document says that came to its format after a version: paths such as `fasteners[4].kind`. */
export function laterThan(shape: Shape, version: number, value: unknown, path = ''): string[] {
  const { what } = shape;
  if (value === undefined || value === null) return [];
  if (!isOf(shape, version)) return [path];
  if (what.is === 'list')
    return (value as unknown[]).flatMap((each, i) => laterThan(what.each, version, each, `${path}[${i}]`));
  if (what.is === 'choice') return (what.since?.(value as string) ?? 1) > version ? [path] : [];
  if (what.is !== 'record') return [];
  return Object.entries(what.fields).flatMap(([name, field]) =>
    laterThan(field, version, (value as Record<string, unknown>)[name], path === '' ? name : `${path}.${name}`),
  );
}

/** Is everything there that a record cannot do without? */
const isLike = (shape: Shape, value: object): boolean =>
  shape.what.is === 'record' &&
  Object.entries(shape.what.fields).every(([name, field]) => name in value || field.filled || 'leftOut' in field);

/** A document that was checked once, with every field that its format has gained since; the very same one where none is missing. */
export const completed = <T>(shape: Shape<T>, value: Partial<T>): T => full(shape, value) as T;

const IS_WHOLE: ReadonlySet<What['is']> = new Set(['text', 'number', 'yes', 'any', 'choice', 'row', 'own']);

function full(shape: Shape, value: unknown): unknown {
  if (value === undefined || value === null || typeof value !== 'object') return value;
  const { what } = shape;
  if (what.is === 'list') {
    // Points and ids have no fields: there may be thousands.
    if (IS_WHOLE.has(what.each.what.is)) return value;
    const each = (value as unknown[]).map((one) => full(what.each, one));
    return each.some((one, i) => one !== (value as unknown[])[i]) ? each : value;
  }
  if (what.is === 'either') {
    const way = what.ways.find((w) => isLike(w, value));
    return way ? full(way, value) : value;
  }
  if (what.is !== 'record') return value;
  const given = value as Record<string, unknown>;
  let next = given;
  for (const [name, field] of Object.entries(what.fields)) {
    const there = given[name];
    const now = there === undefined && field.filled ? madeOf(field.filled.by, given) : full(field, there);
    if (now === there) continue;
    if (next === given) next = { ...given };
    next[name] = now;
  }
  return next;
}

/** What stands for what was left out. A list or record is a new one each time: whoever is given it may write into it. */
function madeOf(by: unknown, around: object): unknown {
  if (typeof by === 'function') return (by as (around: object) => unknown)(around);
  return typeof by === 'object' && by !== null ? structuredClone(by) : by;
}
