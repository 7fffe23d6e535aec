import { table, type KindOf } from '../format/index.ts';

/** What holds for every connector of a kind. */
export interface ConnectorFacts {
  /** It parts when its part is lifted and closes when it is fitted; no step opens or seats it, and it has no flex of its own. */
  byItself: boolean;
  /** It is a joint that an iron opens and makes. */
  joint: boolean;
  /** How much oftener or rarer one is left unseated. */
  unseated: number;
}

const plug = (unseated: number): ConnectorFacts => ({ byItself: false, joint: false, unseated });

/**
 * Kinds of connectors. How often one is left unseated: own estimates; a bar or a snap tells by itself. How each is opened and
 * seated, and in what time, stands in the planner's table (`core/dive/house/connectorKinds.ts`).
 */
export const CONNECTORS = table<ConnectorFacts>('connector')({
  press: plug(1.2),
  'flip-lock': plug(1.3),
  'slide-lock': plug(1.3),
  coax: plug(1.2),
  clipped: plug(0.8),
  /** Parts when its `from` part is lifted, closes when it is fitted. */
  contact: { ...plug(0.6), byItself: true },
  solder: { ...plug(0.5), joint: true },
});
export type ConnectorKind = KindOf<typeof CONNECTORS>;
