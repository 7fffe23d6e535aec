import { BONDS, CONNECTORS } from '../kinds/index.ts';
import { boundsOf, outlinesOverlap, rectAround, shareCovered } from './geometry.ts';
import { placementsOf, type Model } from './model.ts';
import { CLEARING_DEGREES, type Edge, type Fastener, type Fault, type Part, type Point, type Rect } from './types.ts';
import { called } from './called.ts';

/**
 * What a sound anatomy says without meaning it, each with the remedy. A warning does not fail a check: the anatomy is
 * planned on as it stands.
 */
export function warningsOf(model: Model): Fault[] {
  return [
    ...hiddenScrews(model),
    ...stretchedTethers(model),
    ...narrowSwings(model),
    ...stuckBonds(model),
    ...keptAdhesive(model),
    ...unheldParts(model),
    ...silentPlugs(model),
    ...plugsOnNothing(model),
  ];
}

/** Fields that would make the plan of this device say more, each with what it would say. */
export function worthFilling(model: Model): Fault[] {
  const { parts, connectors, latches } = model.anatomy;
  const found: Fault[] = [];
  parts.forEach((p, i) => {
    if (p.fixed) return;
    const hooked = latches.some((l) => l.joins.includes(p.id) && (l.mate === 'first' || l.release === 'last'));
    if (hooked && p.leaves === null)
      found.push({
        path: `parts[${i}].leaves`,
        message: `${called(p)} is hooked; say from which edge it leaves and at what angle`,
      });
    if (p.glass && p.face !== 'edge' && p.within === null && p.thickness === null)
      found.push({
        path: `parts[${i}].thickness`,
        message: `${called(p)} is glass; its thickness makes its heating truer`,
      });
  });
  connectors.forEach((c, i) => {
    if (c.under.length > 0 && c.shape === '')
      found.push({
        path: `connectors[${i}].shape`,
        message: `the flex of ${called(c)} runs under ${c.under.join(', ')}; say in which shape it must lie`,
      });
  });
  return found;
}

/** The part that takes a screw, standoffs followed down. */
function seatOf(model: Model, f: Fastener): string {
  const standoff = model.fasteners.get(f.into);
  return standoff ? seatOf(model, standoff) : f.into;
}

const liesOn = (part: Part, face: string): boolean => placementsOf(part).some((at) => at.face === face);

function hiddenScrews(model: Model): Fault[] {
  return model.anatomy.fasteners.flatMap((f, i): Fault[] => {
    if (f.face === 'edge' || f.layer !== null) return [];
    const held = f.holds.map((id) => model.parts.get(id)!);
    if (held.some((p) => p.fixed || liesOn(p, f.face) || p.within !== null)) return [];
    const seat = model.parts.get(seatOf(model, f))!;
    if (!seat.fixed && liesOn(seat, f.face)) return [];
    const hiding = model.anatomy.parts.filter(
      (p) => !p.fixed && p.within === null && liesOn(p, f.face) && model.overlaps(p.id, f.id),
    );
    if (hiding.length === 0) return [];
    return [
      {
        path: `fasteners[${i}].layer`,
        message:
          `${f.id} is driven from the ${f.face}, but what it holds leaves by another side: it is taken to lie ` +
          `beneath ${hiding.map(called).join(', ')}; give it the layer at which its head lies on the ${f.face}`,
      },
    ];
  });
}

/** mm from a point to an edge of a rectangle, straight across. */
function fromEdge([x, y]: Point, [rx, ry, w, h]: Rect, edge: Edge): number {
  return { left: x - rx, right: rx + w - x, top: y - ry, bottom: ry + h - y }[edge];
}

function stretchedTethers(model: Model): Fault[] {
  return model.anatomy.parts.flatMap((p, i) =>
    (p.swing?.tether ?? []).flatMap((id, j): Fault[] => {
      const c = model.connectors.get(id)!;
      if (CONNECTORS.of(c.kind).byItself || p.swing!.degrees < CLEARING_DEGREES || c.route !== null) return [];
      const bounds = boundsOf(p.outline);
      const across = p.swing!.hinge === 'left' || p.swing!.hinge === 'right' ? bounds[2] : bounds[3];
      if (fromEdge(c.at, bounds, p.swing!.hinge) <= across / 2) return [];
      return [
        {
          path: `parts[${i}].swing.tether[${j}]`,
          message:
            `${id} stays mated through a swing of ${p.swing!.degrees}° though its plug lies in the far half, away ` +
            `from the ${p.swing!.hinge} hinge; give the swing a gap through which it is opened, or the connector its route`,
        },
      ];
    }),
  );
}

function narrowSwings(model: Model): Fault[] {
  return model.anatomy.parts.flatMap((p, i): Fault[] => {
    if (!p.swing || p.swing.degrees >= CLEARING_DEGREES) return [];
    const reached = model.anatomy.connectors.some((c) => c.reachedBy?.swing === p.id);
    const beneath = model.anatomy.parts.filter(
      (q) =>
        !q.fixed &&
        q.id !== p.id &&
        q.within === p.within &&
        q.face === p.face &&
        q.layer > p.layer &&
        model.overlaps(p.id, q.id),
    );
    if (beneath.length === 0 || reached) return [];
    return [
      {
        path: `parts[${i}].swing.degrees`,
        message:
          `${called(p)} swings by ${p.swing.degrees}° only, so that nothing beneath it is uncovered (${CLEARING_DEGREES}° ` +
          `would): it is taken off to reach ${beneath.map(called).join(', ')}; ` +
          `correct the angle, or say reachedBy of what is reached under it`,
      },
    ];
  });
}

function stuckBonds(model: Model): Fault[] {
  return model.anatomy.bonds.flatMap((b, i): Fault[] => {
    if (BONDS.of(b.kind).takes === 'cure' && b.softensAt === null && !b.solvent && b.fate !== 'keep')
      return [
        {
          path: `bonds[${i}].softensAt`,
          message: `nothing softens ${b.id}; say the temperature at which it gives, or that solvent loosens it`,
        },
      ];
    if (b.face !== null && b.layer === null && !b.joins.some((id) => liesOn(model.parts.get(id)!, b.face!)))
      return [
        {
          path: `bonds[${i}].layer`,
          message:
            `${b.id} is worked from the ${b.face}, where nothing that it joins ` +
            `lies: it is taken to lie beneath everything there; give it its layer`,
        },
      ];
    return [];
  });
}

function keptAdhesive(model: Model): Fault[] {
  return model.anatomy.bonds.flatMap((b, i): Fault[] =>
    b.fate === 'keep' && BONDS.of(b.kind).spent
      ? [
          {
            path: `bonds[${i}].fate`,
            message: `${b.id} is ${b.kind} that is kept: it is lifted off and laid back, not cut; if it has to be cut, it is renewed`,
          },
        ]
      : [],
  );
}

/** Plugs that carry nothing: after they were opened nobody is asked to test anything. */
function silentPlugs(model: Model): Fault[] {
  return model.anatomy.connectors.flatMap((c, i): Fault[] =>
    c.carries.length > 0
      ? []
      : [
          {
            path: `connectors[${i}].carries`,
            message: `${called(c)} carries no function, so that nothing is tested after it was open; say what stops working without it`,
          },
        ],
  );
}

/** Plugs that are drawn where nothing of the part they mate with lies under them; springs reach beside their part. */
function plugsOnNothing(model: Model): Fault[] {
  return model.anatomy.connectors.flatMap((c, i): Fault[] => {
    const to = model.parts.get(c.to)!;
    if (CONNECTORS.of(c.kind).byItself || outlinesOverlap(rectAround(c.at, c.size), to.outline)) return [];
    return [
      {
        path: `connectors[${i}].at`,
        message: `${called(c)} is drawn where nothing of ${called(to)} lies under it; move it onto what it mates with, or correct what that is`,
      },
    ];
  });
}

/** A part that is half covered by others is held down by them. */
const HELD_DOWN = 0.05;

function unheldParts(model: Model): Fault[] {
  const { parts, fasteners, bonds, latches } = model.anatomy;
  return parts.flatMap((p, i): Fault[] => {
    if (p.fixed || p.face === 'edge' || p.within !== null) return [];
    const family = new Set(model.familyOf(p.id));
    const joins = (ids: readonly string[]) => ids.some((id) => family.has(id)) && !ids.every((id) => family.has(id));
    if (fasteners.some((f) => joins([...f.holds, seatOf(model, f)]))) return [];
    if (bonds.some((b) => joins(b.joins)) || latches.some((l) => joins(l.joins))) return [];
    const over = parts.filter(
      (q) => !q.fixed && q.id !== p.id && q.within === null && q.face === p.face && q.layer < p.layer,
    );
    if (
      shareCovered(
        p.outline,
        over.map((q) => q.outline),
      ) > HELD_DOWN
    )
      return [];
    return [
      {
        path: `parts[${i}]`,
        message: `nothing holds ${called(p)}: no screw, bond or catch, and nothing lies over it; it is taken to sit by its own fit`,
      },
    ];
  });
}
