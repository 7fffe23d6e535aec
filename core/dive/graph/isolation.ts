import type { Connector, Model } from '../../anatomy/index.ts';
import { CONNECTORS } from '../../kinds/index.ts';
import { once } from '../../once/index.ts';
import { NoDive } from '../types.ts';
import { actionOf, type Action } from './keys.ts';

/** What isolation has to know of a step graph. */
export interface Reached {
  /** Everything that is done before an action in every order, itself included, power aside. */
  before(key: string): Iterable<Action>;
  openingOf(connector: string): string;
  /** Spring contacts that part by an action. */
  contactsBroken(action: Action): readonly string[];
}

interface Isolator {
  key: string;
  plug: Connector;
  before: ReadonlySet<string>;
  /** What of that opens a plug that cuts no power. */
  live: readonly string[];
}

/** A4: what cuts the power off, and what is opened before it. */
export class Isolation {
  readonly keys: readonly string[];
  private readonly isolators: readonly Isolator[];
  private readonly liveNeeds = new Map<string, ReadonlySet<string>>();

  /** @throws NoDive when a soldered joint would have to be worked live */
  constructor(
    private readonly model: Model,
    private readonly reached: Reached,
  ) {
    const plugs = model.anatomy.connectors.filter((c) => c.isolatesPower);
    this.keys = plugs.map((c) => reached.openingOf(c.id));
    this.isolators = plugs.map((plug, i) => {
      const actions = [...reached.before(this.keys[i]!)];
      return { key: this.keys[i]!, plug, before: new Set(actions.map((a) => a.key)), live: this.liveAmong(actions) };
    });
    for (const { plug, before, key } of this.isolators)
      for (const k of before) {
        const c = k === key ? undefined : model.connectors.get(actionOf(k).item);
        if (c && CONNECTORS.of(c.kind).joint && !c.isolatesPower && model.isolatorsOf(c.id).includes(plug))
          throw new NoDive('connectors', { code: 'soldered-before-isolation', item: c.id });
      }
  }

  /** What has to be cut off before an action opens these plugs: all that feeds them, but for what lies behind the action itself. */
  before(action: string, plugs: readonly string[]): string[] {
    // An isolator waits for no other.
    if (this.keys.includes(action)) return [];
    const feeding = new Set(plugs.flatMap((id) => this.model.isolatorsOf(id)));
    const cutting = this.isolators.filter(({ plug }) => feeding.has(plug));
    // On the way to one of them it waits for those that ask for nothing live but what it asks for as well.
    const sooner = cutting.some(({ before }) => before.has(action)) ? this.liveNeedsOf(action) : null;
    return cutting
      .filter(({ live }) => sooner === null || live.every((other) => sooner.has(other)))
      .map(({ key }) => key);
  }

  /** Of these what opens a plug that cuts no power. */
  private liveAmong(actions: readonly Action[]): string[] {
    const parts = (action: Action) =>
      this.reached.contactsBroken(action).some((c) => !this.model.connectors.get(c)!.isolatesPower);
    return actions.filter((a) => !this.keys.includes(a.key) && (a.kind === 'open' || parts(a))).map((a) => a.key);
  }

  /** What is opened live before an action in every order, itself left out. */
  private liveNeedsOf(action: string): ReadonlySet<string> {
    const sooner = () => this.liveAmong([...this.reached.before(action)]).filter((other) => other !== action);
    return once(this.liveNeeds, action, () => new Set(sooner()));
  }
}
