import { actionOf, keyOf } from '../dive/index.ts';
import type { ActFile } from '../explore/index.ts';
import type { Told } from './dives.ts';

/** What a technician said, by the names that things have over all dives. */
export interface Answers {
  /** Screw → the part that it held. */
  holds: ReadonlyMap<string, string>;
  /** Pairs of actions, `first then`, of which the second did not wait for the first. */
  free: ReadonlySet<string>;
}

export const NO_ANSWERS: Answers = { holds: new Map(), free: new Set() };

/** A question is named by what it asks of, in the names of its own dive, so that an answer outlives what is learnt later. */
export const holdsQuestion = (screws: readonly string[]): string => `holds:${screws.join(',')}`;
export const orderQuestion = (first: string, then: string): string => `order:${first}>${then}`;

/** What a question asks of, `holds` or `order`, and of which things. */
export function askedOf(id: string): { kind: string; things: string } {
  const at = id.indexOf(':');
  return { kind: id.slice(0, at), things: id.slice(at + 1) };
}

/** Answer to a question of order: it could have been done the other way round. */
export const FREE = 'free';
export const NEEDED = 'needed';
/** Skipped: it is not asked again. */
export const SKIPPED = 'skipped';

/** Reads the answers of every dive. What names nothing that is known any more says nothing. */
export function answersOf(files: readonly ActFile[], told: Told): Answers {
  const holds = new Map<string, string>();
  const free = new Set<string>();
  for (const [n, { answers }] of files.entries()) {
    const { names } = told.dives[n]!;
    for (const [id, answer] of Object.entries(answers)) {
      const { kind, things } = askedOf(id);
      if (kind === 'holds') {
        const part = names.get(answer);
        if (part === undefined) continue;
        for (const screw of things.split(',')) if (names.has(screw)) holds.set(names.get(screw)!, part);
      }
      if (kind === 'order' && answer === FREE) {
        const [first, then] = things.split('>').map((key) => {
          const { kind: action, item } = actionOf(key);
          return names.has(item) ? keyOf(action, names.get(item)!) : null;
        });
        if (first && then) free.add(`${first} ${then}`);
      }
    }
  }
  return { holds, free };
}
