/** Where answers are kept: a map, or one that lets go of what nobody asks of any more. */
interface Known<K, V> {
  has(key: K): boolean;
  get(key: K): V | undefined;
  set(key: K, value: V): unknown;
}

/**
 * An answer that is worked out the first time it is asked for, and kept.
 * @param known where it is kept; an answer may itself be `undefined`
 */
export function once<K, V>(known: Known<K, V>, key: K, make: () => V): V {
  if (!known.has(key)) known.set(key, make());
  return known.get(key)!;
}

/** A function of one argument that works each answer out once. */
export function onceEach<K, V>(make: (key: K) => V): (key: K) => V {
  const known = new Map<K, V>();
  return (key) => once(known, key, () => make(key));
}

/** Entries under their keys, each list in the order in which they came. */
export function listed<K, V>(entries: Iterable<readonly [K, V]>): Map<K, V[]> {
  const lists = new Map<K, V[]>();
  for (const [key, value] of entries) once(lists, key, (): V[] => []).push(value);
  return lists;
}
