import type { Bond, Model, Part, PartKind } from '../../anatomy/index.ts';
import { CONNECTORS } from '../../kinds/index.ts';
import { draft, type Draft } from '../entry/draft.ts';
import { poseOf } from '../graph/pose.ts';
import { rule } from '../graph/reasons.ts';
import { isGated } from '../house/bondKinds.ts';
import type { Hint } from '../hints.ts';
import { CONNECTOR_KINDS } from '../house/connectorKinds.ts';
import { SECONDS } from '../house/times.ts';
import { deviceFaceOf } from '../order/bundles.ts';
import type { Ascent } from './ascent.ts';

/** Kinds of spares that are worth a trial before they are bonded. Origin: common practice. */
const TRIED_DRY: ReadonlySet<PartKind> = new Set(['display', 'battery', 'camera', 'board']);

/** Steps of a trial, or why there is none; neither where none is asked for. */
export interface Trial {
  steps: Draft[];
  why: readonly Hint[];
}

const NONE: Trial = { steps: [], why: [] };

/**
 * R10: a new display, cell, camera or board is tried before its bond is made, where its plugs and the battery's can
 * be reached then. One that is proved on its open plugs before it is sealed needs no trial of its own.
 * @param i the bundle by which the part comes back
 * @param fresh the new bonds that it is laid on
 * @param proved whether it was tested already by then
 */
export function tryDry(ascent: Ascent, i: number, part: Part, fresh: readonly Bond[], proved: boolean): Trial {
  const { rules, replaced, phase, graph } = ascent;
  const { model } = graph;
  const bonded = fresh.some((b) => isGated(model, b));
  const asked = rules.trySpare === 'dry' && phase === 'ascent' && replaced.has(part.id);
  if (!asked || !TRIED_DRY.has(part.kind) || !bonded || proved) return NONE;
  const isolating = model.anatomy.connectors.filter((c) => c.isolatesPower).map((c) => c.id);
  const all = [...new Set([...graph.joins(part.id).connectors, ...isolating])];
  const plugs = all.filter((id) => !byItself(model, id) && isOpen(ascent, id, i));
  const hidden = plugs.find((id) => !isInReach(ascent, id, i, part.id));
  if (hidden !== undefined || all.some((id) => byItself(model, id))) {
    const why: Hint = hidden === undefined ? { code: 'contacts-meet-later' } : { code: 'reach-later', item: hidden };
    return { steps: [], why: [why] };
  }
  const kinds = plugs.map((id) => CONNECTOR_KINDS.of(model.connectors.get(id)!.kind));
  const seconds = kinds.reduce(
    (sum, { seat, open }) => sum + seat.seconds + open.seconds,
    SECONDS.powerOn + SECONDS.perTest + SECONDS.powerOffAfterTest,
  );
  const step = draft(phase, 'try', [part.id, ...plugs], {
    tool: 'spudger',
    seconds,
    because: [rule('R10')],
    cautions: part.kind === 'battery' ? ['lithium', 'static'] : ['static'],
    hint: [{ code: 'try-dry', items: plugs }],
  });
  return { steps: [step], why: [] };
}

const byItself = (model: Model, connector: string): boolean =>
  CONNECTORS.of(model.connectors.get(connector)!.kind).byItself;

/** Is a connector still open when bundle `i` comes back? */
const isOpen = ({ order, bundles }: Ascent, connector: string, i: number): boolean =>
  order.slice(order.indexOf(i)).some((j) => bundles[j]!.kind === 'open' && bundles[j]!.items[0] === connector);

/** Is a part still off or open when bundle `i` comes back? */
const isAway = ({ order, bundles }: Ascent, part: string, i: number): boolean =>
  order
    .slice(order.indexOf(i))
    .some((j) => (bundles[j]!.kind === 'lift' || bundles[j]!.kind === 'swing') && bundles[j]!.items[0] === part);

/** Is a battery still out when bundle `i` comes back? */
export const cellsAway = (ascent: Ascent, i: number): boolean =>
  ascent.graph.model.anatomy.parts.some((p) => p.kind === 'battery' && isAway(ascent, p.id, i));

/** Can a connector be come at when bundle `i` comes back, with `tried` laid in? */
function isInReach(ascent: Ascent, connector: string, i: number, tried: string): boolean {
  const { model, covers } = ascent.graph;
  const c = model.connectors.get(connector)!;
  if (c.reachedBy) return false;
  const there = (part: string) => part === tried || !isAway(ascent, part, i);
  if (![c.from, c.to].every(there)) return false;
  // On the other side it could be mated only by turning over what lies loose.
  if (lyingFor(model, connector) !== lyingFor(model, tried)) return false;
  return covers.get(connector)!.every((part) => part === tried || isAway(ascent, part, i));
}

/** How the device lies while an item is worked. */
function lyingFor(model: Model, item: string): string {
  const face = deviceFaceOf(model, item);
  return poseOf(model, item, face) ?? face;
}
