/** What can be done to an item on the way in. */
export const ACTION_KINDS = ['loosen', 'open', 'release', 'ease', 'swing', 'lift'] as const;
export type ActionKind = (typeof ACTION_KINDS)[number];

/**
 * One thing done to one item on the way in. Fasteners are loosened, connectors opened, bonds and
 * latches released, parts eased open by a gap, swung or lifted.
 */
export interface Action {
  key: ActionKey;
  kind: ActionKind;
  item: string;
}

/** Names an action: `lift:battery`. Made by `keyOf` and read by `actionOf` only. */
export type ActionKey = string;

export const keyOf = (kind: ActionKind, item: string): ActionKey => `${kind}:${item}`;

/** The action that a key names; the id of an item may itself hold no colon. */
export function actionOf(key: ActionKey): Action {
  const at = key.indexOf(':');
  return { key, kind: key.slice(0, at) as ActionKind, item: key.slice(at + 1) };
}
