import type { Anatomy, Connector, Rail } from './types.ts';

/** The rail of a device whose document tells of none: it feeds all of it. */
const MAIN_RAIL: Rail = { id: 'main', name: 'Battery', feeds: [] };

/** What feeds a device: the rails that its document tells, or the one of every other device. */
export const railsOf = ({ rails }: Pick<Anatomy, 'rails'>): readonly Rail[] => rails ?? [MAIN_RAIL];

/** The rail that a connector cuts, or `null` where it cuts none. */
function railCutBy(anatomy: Pick<Anatomy, 'rails'>, connector: Connector): string | null {
  if (!connector.isolatesPower) return null;
  return connector.isolates ?? railsOf(anatomy)[0]!.id;
}

/** Does a rail feed a body? One that names none feeds all of them, and so does any where the body is not known. */
const feeds = (rail: Rail, body: string | null): boolean =>
  rail.feeds.length === 0 || body === null || rail.feeds.includes(body);

/**
 * Connectors that have to be open before a body is dead: all that cut a rail that feeds it.
 * @param body `null` is any of them
 */
export function isolatorsOf(anatomy: Anatomy, body: string | null): Connector[] {
  const feeding = new Set(
    railsOf(anatomy)
      .filter((rail) => feeds(rail, body))
      .map((rail) => rail.id),
  );
  return anatomy.connectors.filter((c) => c.isolatesPower && feeding.has(railCutBy(anatomy, c)!));
}

/** What is live of a device, rail by rail: one is while a plug that cuts it is mated. @param open plugs that are open */
export function railsLive(anatomy: Anatomy, open: ReadonlySet<string>): { rail: Rail; live: boolean }[] {
  return railsOf(anatomy).map((rail) => ({
    rail,
    live: anatomy.connectors.some((c) => railCutBy(anatomy, c) === rail.id && !open.has(c.id)),
  }));
}
