import { boundsOf, readAnatomy, type Anatomy, type Edge, type Part, type Point } from '../core/anatomy/index.ts';
import { newEntry } from '../core/draft/index.ts';
import type { Draw } from './synthetic.ts';

/*
 * A device that somebody drew, told otherwise in a few places: a bond that is kept, a catch that hooks in, a part that leaves by
 * the other side as well, a plug of another kind. What a reader refuses is left as it was, so that every device of these is
 * sound; whether it comes apart is not said.
 */

const DRIVES = ['PH000', 'T4', 'Y000', 'IP3', 'SL1.5'] as const;
const PLUGS = ['press', 'flip-lock', 'slide-lock', 'coax', 'clipped', 'contact'] as const;
const EDGES: readonly Edge[] = ['top', 'right', 'bottom', 'left'];

type Change = (a: Anatomy, draw: Draw) => void;

const oneOf = <T>(list: readonly T[], draw: Draw): T | undefined => list[draw(Math.max(1, list.length))];
const loose = (a: Anatomy): Part[] => a.parts.filter((p) => !p.fixed);
const middle = (p: Part): Point => {
  const [x, y, w, h] = boundsOf(p.outline);
  return [x + w / 2, y + h / 2];
};

/** Does a change to one entry of a list, where there is one. */
const to =
  <T>(list: (a: Anatomy) => readonly T[], change: (entry: T, draw: Draw, a: Anatomy) => void): Change =>
  (a, draw) => {
    const entry = oneOf(list(a), draw);
    if (entry !== undefined) change(entry, draw, a);
  };
const bonds = (a: Anatomy) => a.bonds;
const latches = (a: Anatomy) => a.latches;
const screws = (a: Anatomy) => a.fasteners.filter((f) => f.drive !== 'none');
const plugs = (a: Anatomy) => a.connectors.filter((c) => c.kind !== 'solder');

const CHANGES: readonly Change[] = [
  // Bonds.
  to(bonds, (b, draw) => (b.fate = (['keep', 'renew', 'renew-if-damaged'] as const)[draw(3)]!)),
  to(bonds, (b, draw) => (b.softensAt = draw(3) === 0 ? null : 55 + draw(60))),
  to(bonds, (b) => (b.solvent = !b.solvent)),
  to(bonds, (b, draw) => (b.kind = (['tape', 'glue', 'thermal', 'foil'] as const)[draw(4)]!)),
  to(bonds, (b, draw, a) => {
    const over = a.connectors.filter((c) => b.joins.includes(c.from) || b.joins.includes(c.to));
    b.flex = oneOf(over, draw)?.id ?? null;
  }),
  to(bonds, (b, draw) => (b.staysOn = oneOf(b.joins, draw) ?? null)),
  (a, draw) => {
    const part = oneOf(loose(a), draw);
    const other =
      part &&
      oneOf(
        a.parts.filter((p) => p !== part && p.layer > part.layer && p.face === part.face),
        draw,
      );
    if (!part || !other) return;
    const [x, y] = middle(part);
    a.bonds.push(
      newEntry.bond(`strip-${a.bonds.length}`, {
        kind: draw(2) ? 'tape' : 'glue',
        joins: [part.id, other.id],
        at: { area: { rect: [x - 1.5, y - 1, 3, 2] } },
        softensAt: 70,
        solvent: draw(2) === 0,
        fate: draw(2) ? 'renew' : 'keep',
      }),
    );
  },
  // Catches.
  to(latches, (l) => (l.mate = l.mate === 'first' ? 'last' : 'first')),
  to(latches, (l) => (l.release = l.release === 'last' ? 'any' : 'last')),
  to(latches, (l) => (l.letsGo = l.letsGo === 'turned' ? 'pried' : 'turned')),
  to(latches, (l, draw) => (l.count = 1 + draw(6))),
  to(loose, (p, draw, a) =>
    a.latches.push(
      newEntry.latch(`catch-${a.latches.length}`, {
        joins: [p.id, a.parts.find((f) => f.fixed)!.id],
        edge: EDGES[draw(4)]!,
        mate: draw(2) ? 'first' : 'last',
      }),
    ),
  ),
  // Screws.
  to(screws, (f) => (f.kind = f.kind === 'captive' ? 'screw' : 'captive')),
  to(screws, (f) => (f.threadlock = !f.threadlock)),
  to(screws, (f, draw) => (f.drive = DRIVES[draw(DRIVES.length)]!)),
  to(screws, (f, draw) => (f.fate = draw(2) ? 'renew' : 'keep')),
  to(screws, (f, draw, a) => {
    const beside = a.fasteners.filter((o) => o.holds[0] === f.holds[0] && o.face === f.face);
    const from = draw(beside.length);
    beside.forEach((o, i) => (o.order = 1 + ((i + from) % beside.length)));
  }),
  to(screws, (f, draw, a) => {
    // One screw through two that lie over each other.
    const held = a.parts.find((p) => p.id === f.holds[0]);
    const under =
      held &&
      oneOf(
        loose(a).filter((p) => p.face === held.face && p.layer > held.layer),
        draw,
      );
    if (under && under.id !== f.into) f.holds.push(under.id);
  }),
  // Plugs.
  to(plugs, (c, draw) => {
    if (!c.isolatesPower) c.kind = PLUGS[draw(PLUGS.length)]!;
  }),
  to(plugs, (c, draw, a) => {
    const other = oneOf(plugs(a), draw);
    if (other && other !== c) c.after.push(other.id);
  }),
  to(plugs, (c, draw, a) => {
    const over = oneOf(
      loose(a).filter((p) => p.id !== c.from && p.id !== c.to),
      draw,
    );
    if (over) c.under.push(over.id);
  }),
  to(plugs, (c, draw, a) => {
    const other = oneOf(
      plugs(a).filter((o) => o !== c && o.to === c.to),
      draw,
    );
    if (other) c.liesOver.push(other.id);
  }),
  (a, draw) => {
    // The plug that cuts power goes last whatever a list says.
    const free = plugs(a).filter((c) => !c.isolatesPower);
    const [one, two] = [oneOf(free, draw), oneOf(free, draw)];
    if (one && two && one !== two) a.mateOrder.push([one.id, two.id]);
  },
  // Parts.
  to(loose, (p) => (p.glass = !p.glass)),
  to(loose, (p) => (p.conductive = !p.conductive)),
  to(loose, (p, draw) => {
    if (p.face !== 'edge' && p.within === null)
      p.exits = [{ face: p.face === 'front' ? 'back' : 'front', layer: draw(5) }];
  }),
  to(loose, (p, draw, a) => {
    const own = a.connectors.filter((c) => c.from === p.id).map((c) => c.id);
    const degrees = [40, 75, 90, 120][draw(4)]!;
    p.swing = p.swing ? null : { hinge: EDGES[draw(4)]!, degrees, tether: own, gap: null };
  }),
  to(loose, (p, draw) => {
    const how = (['slide', 'tilt', 'hook', 'rotate'] as const)[draw(4)]!;
    p.leaves = { how, from: EDGES[draw(4)]!, degrees: how === 'slide' ? null : 20 };
  }),
  to(loose, (p, draw, a) => {
    const other = oneOf(loose(a), draw);
    const lost = oneOf(a.functions, draw);
    if (other && other !== p && lost)
      p.pairing.push({ with: other.id, loses: [lost.id], remedy: 'calibrate it again' });
  }),
  to(loose, (p, draw) => {
    p.limits = { hottest: draw(2) ? 60 : null, solvent: draw(2) === 0, bend: true, suction: draw(2) === 0 };
  }),
  to(loose, (p, draw) => (p.fate = draw(2) ? 'renew' : 'keep')),
  // What the maker says of the order, and of the device.
  (a, draw) => {
    const ids = [...loose(a), ...plugs(a).filter((c) => c.kind !== 'contact')].map((x) => x.id);
    const [first, then] = [oneOf(ids, draw), oneOf(ids, draw)];
    if (first && then && first !== then) a.orders.push({ first, then, because: 'the maker says so' });
  },
  to(
    (a) => a.functions,
    (f) => (f.afterClosing = !f.afterClosing),
  ),
  (a) => (a.body.ingress = a.body.ingress === null ? 'IP67' : null),
  to(loose, (p, draw, a) => {
    const over = loose(a).filter((o) => o.face === p.face && o !== p);
    const other = oneOf(over, draw);
    if (other)
      a.spares.push({
        id: `assembly-${a.spares.length}`,
        name: 'assembly',
        replaces: p.id,
        includes: [p.id, other.id],
        brings: [],
      });
  }),
];

/** How many sorts of change there are. */
export const SORTS = CHANGES.length;

/**
 * A sound device that differs from a sound one in up to `amount` places.
 * @param amount changes that are tried; those that a reader refuses are not made
 */
export function varied(anatomy: Anatomy, draw: Draw, amount: number): Anatomy {
  let sound = structuredClone(anatomy);
  for (let k = 0; k < amount; k++) {
    const next = structuredClone(sound);
    CHANGES[draw(CHANGES.length)]!(next, draw);
    if (next.parts.some((p) => p.limits)) next.schema = 'nibrel.anatomy/2';
    const read = readAnatomy(structuredClone(next));
    if (read.ok) sound = read.value;
  }
  return sound;
}
