import { areaCovered, areaOf, regionOf, type Region } from './geometry.ts';
import type { Anatomy, Part } from './types.ts';

/**
 * The body of a fold that a ground lies in: the one that holds most of it; `null` where it lies over several, as an inner
 * display does, and in a device of one body.
 */
export function bodyOfGround({ bodies }: Pick<Anatomy, 'bodies'>, region: Region): string | null {
  if (!bodies) return null;
  const shares = bodies.map((half) => ({
    id: half.id,
    share: areaCovered(region, [regionOf(half.outline)]) / areaOf(region),
  }));
  return shares.find(({ share }) => share >= MOST_OF_IT)?.id ?? null;
}

/** What lies in one body by less than this share lies over several. Origin: own choice. */
const MOST_OF_IT = 0.8;

/** The body that a part belongs to: as told, by what it is within, or by where it lies. */
export function bodyOfPart(anatomy: Anatomy, parts: ReadonlyMap<string, Part>, id: string): string | null {
  if (!anatomy.bodies) return null;
  for (let at = parts.get(id); at; at = at.within === null ? undefined : parts.get(at.within))
    if (at.body) return at.body;
  return bodyOfGround(anatomy, regionOf(parts.get(id)!.outline));
}

/**
 * The bodies whose power reaches what lies between these parts. A part that lies over several, as an inner display or a flex over
 * the hinge does, is reached from wherever it is plugged in; `null` among them is any.
 */
export function fedFrom(
  anatomy: Anatomy,
  parts: ReadonlyMap<string, Part>,
  between: readonly string[],
): (string | null)[] {
  const where = (part: string): (string | null)[] => {
    const body = bodyOfPart(anatomy, parts, part);
    if (body !== null || !anatomy.bodies) return [body];
    const beyond = anatomy.connectors
      .flatMap((c) => (c.from === part ? [c.to] : c.to === part ? [c.from] : []))
      .map((other) => bodyOfPart(anatomy, parts, other));
    return beyond.length > 0 ? beyond : [null];
  };
  return [...new Set(between.flatMap(where))];
}
