import type { Connector, Model } from '../../anatomy/index.ts';
import { CONNECTORS } from '../../kinds/index.ts';
import { onceEach } from '../../once/index.ts';
import type { Standing } from '../types.ts';
import type { Bundle } from './bundles.ts';
import { neededBy } from './precedence.ts';

/**
 * Whether metal may part the rim of what a bundle opens, in every order that the bundles allow (A5): the device is
 * isolated by then, or nothing of it is open yet.
 */
export function bladesOf(model: Model, bundles: readonly Bundle[], from: Standing | undefined): (i: number) => boolean {
  const earlier = onceEach((i: number) => neededBy(bundles, i));
  const opens = (b: Bundle) =>
    !b.finished && (b.kind === 'lift' || b.kind === 'swing') && model.parts.get(b.items[0]!)!.face !== 'edge';
  const openings = bundles.flatMap((b, i) => (opens(b) ? [i] : []));
  const openAlready = [...(from?.removed ?? []), ...(from?.swung ?? [])].some(
    (id) => !from!.absent.has(id) && model.parts.get(id)?.face !== 'edge',
  );
  return (i) => {
    const before = earlier(i);
    const isolating = model.isolatorsOf(bundles[i]!.items[0]!);
    const cuts = (c: Connector) =>
      from?.open.has(c.id) ||
      [...before].some((j) => {
        const { kind, items } = bundles[j]!;
        return kind === 'open'
          ? items.includes(c.id)
          : kind === 'lift' && CONNECTORS.of(c.kind).byItself && items[0] === c.from;
      });
    if (isolating.length > 0 && isolating.every(cuts)) return true;
    return !openAlready && openings.every((k) => !before.has(k) && (k === i || earlier(k).has(i)));
  };
}
