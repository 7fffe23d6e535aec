import type { ActionKind } from './graph/keys.ts';
import type { JudgeMessage } from '../judge/index.ts';

/** Something that has to be done before something else. */
export type NeededHint = { code: `doing-${ActionKind}`; item: string };

/** What is wrong with a request or an anatomy. `thing` is an id that the anatomy may not have. */
export type NoDiveMessage =
  | { code: 'name-a-part' | 'no-transplant-offered' | 'turn-while-open' }
  | { code: 'no-such-item' | 'no-such-spare'; anatomy: string; thing: string }
  | { code: 'no-such-part'; anatomy: string; thing: string; things: readonly string[] }
  | { code: 'never-comes-off' | 'soldered-before-isolation' | 'cannot-leave-anatomy'; item: string }
  | { code: 'no-battery-replaced'; thing: string }
  | { code: 'spare-of-another'; thing: string; item: string }
  /** Something would have to be done before itself, so that another way in may still do. */
  | { code: 'waits-for-itself'; circle: readonly NeededHint[] }
  | { code: 'wait-for-each-other'; needed: readonly NeededHint[] }
  /** A mating order that no dive keeps. */
  | { code: 'no-mating-order'; plugs: readonly string[] }
  | { code: 'no-sound-dive'; fault: JudgeMessage; rule: string; step: number };

/** Why no plan can be made. What a person reads of it is made of `said`, in `words/`. */
export class NoDive extends Error {
  constructor(
    /** The part or the field that stands in the way. */
    readonly path: string,
    readonly said: NoDiveMessage,
  ) {
    super(`${path}: ${JSON.stringify(said)}`);
    this.name = 'NoDive';
  }
}
