/** Kinds of one sort of thing, each with every fact that holds for it wherever it stands. */
export interface Table<K extends string, F> {
  /** Every kind, in the order in which they are offered. */
  readonly kinds: readonly K[];
  readonly entries: readonly (readonly [kind: K, facts: F])[];
  /** @throws RangeError when there is no such kind */
  of: (kind: K) => F;
  has: (kind: string) => kind is K;
  /** Kinds for which something holds. */
  where: (holds: (facts: F) => boolean) => K[];
  /**
   * One more kind, as a test or another house brings it; readers, lists and forms know it from then on.
   * @returns takes it away again
   */
  add: (kind: string, facts: F) => () => void;
}

/** The kinds of a table. */
export type KindOf<T> = T extends { readonly kinds: readonly (infer K)[] } ? K : never;

/** Counted up with every kind that comes or goes: what is made of tables once is made anew. */
let turn = 0;
export const tablesNow = (): number => turn;

/**
 * A table of kinds: `table<Facts>('bond')({ tape: { … }, … })`.
 * @param what what it is a kind of, in the error for one that is none
 */
export function table<F>(what: string) {
  return <K extends string>(entries: Readonly<Record<K, F>>): Table<K, F> => {
    const facts = new Map(Object.entries(entries) as [K, F][]);
    let kinds = [...facts.keys()];
    const changed = () => {
      kinds = [...facts.keys()];
      turn++;
    };
    return {
      get kinds() {
        return kinds;
      },
      get entries() {
        return [...facts];
      },
      of: (kind) => {
        const found = facts.get(kind);
        if (found === undefined) throw new RangeError(`${kind} is no kind of ${what}: ${kinds.join(', ')}`);
        return found;
      },
      has: (kind): kind is K => facts.has(kind as K),
      where: (holds) => kinds.filter((kind) => holds(facts.get(kind) as F)),
      add: (kind, added) => {
        if (facts.has(kind as K)) throw new RangeError(`${kind} is a kind of ${what} already`);
        facts.set(kind as K, added);
        changed();
        return () => {
          facts.delete(kind as K);
          changed();
        };
      },
    };
  };
}
