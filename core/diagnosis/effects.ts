import type { Model, Point } from '../anatomy/index.ts';
import { ACROSS_BOARD, PASSING } from './chances.ts';

/** What a fault of an item does: functions with the share of its strength, 0 to 1, in one way in which it may show. */
export interface Effect {
  /** Share of the faults that show in this way. */
  share: number;
  /** It shows in much at once; all faults of the item that do so are told as one. */
  wide?: boolean;
  on: ReadonlyMap<string, number>;
}

/** mm around a screw within which one that is too long or loose reaches a flex, a track or a plug. Origin: own estimate. */
const NEAR_SCREW = 12;

const distance = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

const all = (ids: Iterable<string>, share = 1): Map<string, number> => new Map([...ids].map((id) => [id, share]));

function strongest(...maps: ReadonlyMap<string, number>[]): Map<string, number> {
  const on = new Map<string, number>();
  for (const map of maps) for (const [id, share] of map) on.set(id, Math.max(share, on.get(id) ?? 0));
  return on;
}

/** How a new part that is bad shows: it is bought as one piece, with all that travels in it. */
export function effectsOfSpare(model: Model, item: string): readonly Effect[] {
  const whole = model.familyOf(item).flatMap((id) => effectsOf(model, id));
  const sum = whole.reduce((total, e) => total + e.share, 0);
  return whole.map((e) => ({ ...e, share: e.share / sum }));
}

/**
 * In which ways a fault of an item shows. Most show in what the item carries; what feeds the device may take everything
 * down at once, and a board may fail here and there.
 */
export function effectsOf(model: Model, item: string): readonly Effect[] {
  const known = effects.get(model) ?? new Map<string, readonly Effect[]>();
  effects.set(model, known);
  const there = known.get(item);
  if (there) return there;
  const shown = waysOf(model, item).filter((e) => e.on.size > 0);
  const sum = shown.reduce((total, e) => total + e.share, 0);
  const found = shown.map((e) => ({ ...e, share: e.share / sum }));
  known.set(item, found);
  return found;
}

const effects = new WeakMap<Model, Map<string, readonly Effect[]>>();

function waysOf(model: Model, item: string): Effect[] {
  const { anatomy } = model;
  const everything = () => all(anatomy.functions.map((f) => f.id));
  const found = model.items.get(item)!;
  switch (found.type) {
    case 'connector': {
      const own = all(found.item.carries);
      const feeds = found.item.isolatesPower || model.parts.get(found.item.from)?.kind === 'battery';
      return feeds
        ? [
            { share: 0.6, on: own },
            { share: 0.4, wide: true, on: everything() },
          ]
        : [{ share: 1, on: own }];
    }
    case 'part': {
      const own = all(found.item.functions);
      const family = all(model.familyOf(item).flatMap((id) => model.parts.get(id)!.functions));
      const { kind } = found.item;
      const joined = anatomy.connectors.filter((c) => c.from === item || c.to === item);
      if (kind === 'battery')
        return [
          { share: 0.4, on: own },
          { share: 0.2, on: strongest(own, all(joined.flatMap((c) => c.carries))) },
          { share: 0.4, wide: true, on: everything() },
        ];
      if (kind === 'board') {
        const through = all(
          joined.flatMap((c) => c.carries),
          ACROSS_BOARD,
        );
        return [
          { share: 0.7, on: own },
          { share: 0.3, wide: true, on: strongest(own, through) },
        ];
      }
      const passing = joined.filter((c) => c.from === item || model.parts.get(c.to)?.kind !== 'board');
      const through = all(
        passing.flatMap((c) => c.carries),
        PASSING,
      );
      // Mostly it is the part with what travels in it, or the part itself; now and then all that passes through it as well.
      return [
        { share: 0.4, on: own },
        { share: 0.4, on: family },
        { share: 0.2, on: strongest(family, through) },
      ];
    }
    case 'fastener': {
      const { at, holds } = found.item;
      // What is too long comes out on the other side: the nearest plug may lie on either.
      const near = anatomy.connectors
        .filter((c) => distance(c.at, at) <= NEAR_SCREW)
        .sort((a, b) => distance(a.at, at) - distance(b.at, at))
        .slice(0, 1);
      // A bracket that does not press lets one of the plugs beneath it come loose.
      const under = anatomy.connectors.filter(
        (c) => !near.includes(c) && holds.some((part) => model.overlaps(part, c.id)),
      );
      return [
        ...near.map((c) => ({ share: 2, on: all(c.carries) })),
        ...under.map((c) => ({ share: 1 / under.length, on: all(c.carries) })),
        ...holds.map((part) => ({ share: 0.3, on: all(model.parts.get(part)?.functions ?? []) })),
      ];
    }
    case 'bond': {
      const seal = 'perimeterOf' in found.item.at;
      return [{ share: 1, on: all(functionsOfParts(model, found.item.joins), seal ? 0.2 : 1) }];
    }
    case 'latch':
      return [{ share: 1, on: all(functionsOfParts(model, found.item.joins), 0.3) }];
    default:
      return found satisfies never;
  }
}

function functionsOfParts(model: Model, parts: readonly string[]): string[] {
  return parts.filter((id) => !model.parts.get(id)?.fixed).flatMap((id) => model.parts.get(id)?.functions ?? []);
}
