import type { Anatomy, Connector, Fastener, Outline } from '../core/anatomy/index.ts';
import type { Plan, Step } from '../core/dive/index.ts';

/*
 * The laws alone, replayed from the two documents as they stand: no rule of good work, no search, no shared look-ups; only the
 * types of the documents are imported, and nothing that runs. It is as small as it can be, so that planner and judge are both
 * held to something that neither can have broken. Where the documents leave a doubt it lets a step pass: what it refuses is
 * wrong.
 */
type Inside = (x: number, y: number) => boolean;
interface Area {
  box: [x0: number, y0: number, x1: number, y1: number];
  holds: Inside;
}

const circle = ([cx, cy, r]: readonly [number, number, number]): Area => ({
  box: [cx - r, cy - r, cx + r, cy + r],
  holds: (x, y) => (x - cx) ** 2 + (y - cy) ** 2 < r ** 2,
});

function area(outline: Outline): Area {
  if ('circle' in outline) return circle(outline.circle);
  if ('rect' in outline) {
    const [x0, y0, w, h] = outline.rect;
    const r = Math.min(outline.radius ?? 0, w / 2, h / 2);
    return {
      box: [x0, y0, x0 + w, y0 + h],
      holds: (x, y) => {
        const [u, v] = [Math.abs(x - x0 - w / 2) - (w / 2 - r), Math.abs(y - y0 - h / 2) - (h / 2 - r)];
        return u < r && v < r && (u <= 0 || v <= 0 || Math.hypot(u, v) < r);
      },
    };
  }
  const p = outline.polygon;
  const of = (k: 0 | 1) => p.map((q) => q[k]);
  return {
    box: [Math.min(...of(0)), Math.min(...of(1)), Math.max(...of(0)), Math.max(...of(1))],
    holds: (x, y) => {
      // How often the border turns around the point.
      let turns = 0;
      for (let i = 0; i < p.length; i++) {
        const [a, b] = [p[i]!, p[(i + 1) % p.length]!];
        turns += Math.atan2(
          (a[0] - x) * (b[1] - y) - (a[1] - y) * (b[0] - x),
          (a[0] - x) * (b[0] - x) + (a[1] - y) * (b[1] - y),
        );
      }
      return Math.abs(turns) > Math.PI;
    },
  };
}

const LOOKS = 24;
/** Do two areas share more than 0.02 mm², by looking at points? */
function meet(a: Area, b: Area): boolean {
  const [x0, y0] = [Math.max(a.box[0], b.box[0]), Math.max(a.box[1], b.box[1])];
  const [w, h] = [Math.min(a.box[2], b.box[2]) - x0, Math.min(a.box[3], b.box[3]) - y0];
  if (w <= 0 || h <= 0) return false;
  let hits = 0;
  for (let i = 0; i < LOOKS; i++)
    for (let k = 0; k < LOOKS; k++) {
      const [x, y] = [x0 + ((i + 0.5) * w) / LOOKS, y0 + ((k + 0.5) * h) / LOOKS];
      if (a.holds(x, y) && b.holds(x, y)) hits++;
    }
  return (hits * w * h) / LOOKS ** 2 > 0.02;
}

/** How much of an area another holds, by looking at points. */
function share(a: Area, b: Area): number {
  const [x0, y0, x1, y1] = a.box;
  let [own, both] = [0, 0];
  for (let i = 0; i < LOOKS; i++)
    for (let k = 0; k < LOOKS; k++) {
      const [x, y] = [x0 + ((i + 0.5) * (x1 - x0)) / LOOKS, y0 + ((k + 0.5) * (y1 - y0)) / LOOKS];
      if (!a.holds(x, y)) continue;
      own++;
      if (b.holds(x, y)) both++;
    }
  return own === 0 ? 0 : both / own;
}

/** Does a screw or a catch hold one of these? */
const isPressed = ({ parts, fasteners, latches }: Anatomy, joins: readonly string[]): boolean => {
  const moves = (id: string) => joins.includes(id) && !parts.some((p) => p.id === id && p.fixed);
  return (
    fasteners.some((f) => f.kind !== 'standoff' && f.holds.some(moves)) || latches.some((l) => l.joins.some(moves))
  );
};

/** @returns the first law that the plan breaks, in words; `null` when it breaks none */
export function lawBroken(anatomy: Anatomy, plan: Plan): string | null {
  const byId = <T extends { id: string }>(list: readonly T[]) => new Map(list.map((x) => [x.id, x]));
  const parts = byId(anatomy.parts);
  const screws = byId(anatomy.fasteners);
  const plugs = byId(anatomy.connectors);
  const joints = byId<{ id: string; joins: string[]; kind?: string; mate?: string; letsGo?: string }>([
    ...anatomy.bonds,
    ...anatomy.latches,
  ]);
  /** What parts with its part: paste, and a gasket that something presses and nothing glues. */
  const paste = new Set(
    anatomy.bonds
      .filter(
        (b) =>
          b.kind === 'thermal' ||
          b.compressedBy !== undefined ||
          (b.kind === 'gasket' && b.softensAt === null && !b.solvent && isPressed(anatomy, b.joins)),
      )
      .map((b) => b.id),
  );

  const around = (part: string | null): string[] => (part ? [part, ...around(parts.get(part)!.within)] : []);
  const within = (part: string, whole: string) => around(part).includes(whole);
  const seat = ({ into }: Fastener): string => (screws.has(into) ? seat(screws.get(into)!) : into);
  const ends = (id: string): readonly string[] => {
    const [screw, plug] = [screws.get(id), plugs.get(id)];
    if (screw) return [...screw.holds, seat(screw)];
    return plug ? [plug.from, plug.to] : (joints.get(id)?.joins ?? [id]);
  };
  /** Does this joint lie between the part with all that travels in it, and the rest? */
  const parting = (id: string, part: string) =>
    ends(id).some((p) => within(p, part)) && ends(id).some((p) => !within(p, part));

  const gone = new Set(plan.absent);
  const off = new Set<string>();
  const hung = new Set<string>();
  const ajar = new Set<string>();
  /** What is laid down and taped, so that it does not hang. */
  const taped = new Set<string>();
  /** Screws out, plugs open, bonds and catches let go. */
  const undone = new Set<string>();
  const seated = new Set<string>();
  const ever = new Set<string>();
  let [on, prepared] = [false, false];
  let up: string | null = null;
  let lying: string | undefined;

  const power = anatomy.connectors.filter((c) => c.isolatesPower && !gone.has(c.id));
  const rails = anatomy.rails ?? [];
  /** The body of a fold that most of a part lies in, `undefined` for several. */
  const body = (part: string): string | undefined =>
    around(part)
      .map((p) => parts.get(p)!.body)
      .find(Boolean) ?? anatomy.bodies?.find((b) => share(area(parts.get(part)!.outline), area(b.outline)) > 0.8)?.id;
  /** Is all cut that feeds where an item lies? */
  const dead = (id: string) => {
    const where = ends(id).flatMap((part) => {
      const met = anatomy.connectors
        .filter((c) => [c.from, c.to].includes(part))
        .map((c) => body(c.from === part ? c.to : c.from));
      return body(part) !== undefined || met.length === 0 ? [body(part)] : met;
    });
    const fed = rails.filter((r) => r.feeds.length === 0 || where.some((b) => b === undefined || r.feeds.includes(b)));
    const cutting = power.filter((c) => rails.length < 2 || fed.some((r) => r.id === (c.isolates ?? rails[0]!.id)));
    return cutting.length > 0 && cutting.every((c) => undone.has(c.id));
  };

  /** Only what lies directly in the device is looked at: what is in an assembly has a side of its own. */
  const ground = (item: Fastener | Connector): Area =>
    'head' in item
      ? circle([...item.at, item.head / 2])
      : area({ rect: [item.at[0] - item.size[0] / 2, item.at[1] - item.size[1] / 2, ...item.size] });
  const lies = new Map<string, boolean>();
  const over = (part: string, id: string): boolean => {
    const [p, item] = [parts.get(part)!, screws.get(id) ?? plugs.get(id)];
    if (!item || p.fixed || p.within || item.face === 'edge') return false;
    if (ends(id).some((x) => parts.get(x)!.within)) return false;
    const rests = 'head' in item ? item.holds : [item.to];
    if ('head' in item && rests.includes(part)) return false;
    if ('from' in item && item.from === part && !p.swing) return false;
    const key = `${part} ${id}`;
    if (!lies.has(key)) {
      const layers = rests.map((x) => parts.get(x)!).flatMap((x) => (x.face === item.face ? [x.layer] : []));
      const layer = item.layer ?? Math.min(...layers, Number.POSITIVE_INFINITY);
      const above = [p, ...p.exits].some((at) => at.face === item.face && at.layer < layer);
      lies.set(key, above && meet(area(p.outline), ground(item)));
    }
    return lies.get(key)!;
  };
  const clear = (part: string, item: string) =>
    off.has(part) ||
    gone.has(part) ||
    (hung.has(part) && (parts.get(part)!.swing!.degrees >= 60 || plugs.get(item)?.reachedBy?.swing === part)) ||
    (ajar.has(part) && parts.get(part)!.swing!.gap!.reaches.includes(item));
  const covered = (item: string) => [...parts.keys()].find((part) => !clear(part, item) && over(part, item));
  const away = (part: string) => around(part).some((p) => off.has(p));

  /** What still holds a part. */
  const held = (part: string, stays: readonly string[]): string | undefined =>
    [...screws.keys(), ...joints.keys(), ...plugs.keys()].find(
      (id) =>
        !undone.has(id) &&
        !gone.has(id) &&
        !stays.includes(id) &&
        !paste.has(id) &&
        plugs.get(id)?.kind !== 'contact' &&
        parting(id, part),
    );

  const INSIDE: readonly Step['do'][] = [
    'unscrew',
    'disconnect',
    'cut',
    'pull',
    'release',
    'lift',
    'swing',
    'heat',
    'fit',
    'connect',
    'fasten',
  ];

  const law = (step: Step, id: string): string | null => {
    switch (step.do) {
      case 'unscrew':
      case 'disconnect':
      case 'desolder': {
        const lid = covered(id);
        if (lid) return `A1: ${lid} lies over ${id}`;
        if (!plugs.has(id)) return null;
        const top = plugs.get(id)!.beneath.find((x) => !undone.has(x) && !gone.has(x));
        if (top) return `A1: ${top} lies on ${id}`;
        return step.do === 'desolder' && !dead(id) ? `A4: ${id} is soldered and live` : null;
      }
      case 'lift':
      case 'eject': {
        const by = held(id, []);
        return by ? `A2: ${by} still holds ${id}` : null;
      }
      case 'swing':
      case 'ease': {
        if (off.has(id) || taped.has(id)) return null;
        const swing = parts.get(id)!.swing;
        const by = held(id, [...(swing?.tether ?? []), ...(swing?.gap?.reaches ?? [])]);
        return by ? `A3: ${by} still holds ${id}` : null;
      }
      case 'fasten': {
        const lid = covered(id);
        if (lid) return `A7: ${lid} lies over ${id}`;
        const lost = screws.get(id)!.holds.find((p) => off.has(p) || hung.has(p));
        return lost ? `A7: ${id} holds ${lost}, which is not in its place` : null;
      }
      case 'connect':
      case 'solder': {
        const lid = covered(id);
        if (lid) return `A7: ${lid} lies over ${id}`;
        if (step.do === 'solder' && !dead(id)) return `A4: ${id} is soldered live`;
        for (const list of anatomy.mateOrder) {
          const early = list.slice(0, Math.max(0, list.indexOf(id))).find((x) => undone.has(x) && !gone.has(x));
          if (early) return `A7: ${early} is mated before ${id}`;
        }
        return null;
      }
      case 'fit': {
        if (![off, hung, ajar, taped].some((list) => list.has(id))) return `A7: ${id} is in its place already`;
        const left = [...undone].find((x) => !gone.has(x) && plugs.get(x)?.kind !== 'contact' && over(id, x));
        if (left) return `A7: ${id} closes over ${left}`;
        const unseen = [...ever].find(
          (x) => plugs.has(x) && plugs.get(x)!.kind !== 'contact' && !gone.has(x) && over(id, x) && !seated.has(x),
        );
        return unseen ? `G1: ${id} closes over ${unseen}, which nobody found seated` : null;
      }
      default:
        return null;
    }
  };

  const take = (step: Step, id: string): void => {
    switch (step.do) {
      case 'unscrew':
      case 'disconnect':
      case 'desolder':
      case 'cut':
      case 'pull':
      case 'release':
        undone.add(id);
        ever.add(id);
        seated.delete(id);
        break;
      case 'lift':
      case 'eject':
        hung.delete(id);
        ajar.delete(id);
        off.add(id);
        for (const c of plugs.values()) if (c.kind === 'contact' && parting(c.id, id)) undone.add(c.id);
        break;
      case 'swing':
      case 'ease':
        off.delete(id);
        hung.delete(id);
        ajar.delete(id);
        taped.delete(id);
        (step.do === 'swing' ? hung : ajar).add(id);
        break;
      case 'tape-down':
        hung.delete(id);
        ajar.delete(id);
        taped.add(id);
        break;
      case 'fit':
      case 'transfer':
        for (const list of [off, hung, ajar, taped]) list.delete(id);
        for (const c of plugs.values()) if (c.kind === 'contact' && !away(c.from) && !away(c.to)) undone.delete(c.id);
        // A foil is laid over it, and a catch snapped, afterwards; what lets go by itself as its part is turned takes hold so.
        for (const [j, { kind, mate, letsGo }] of joints)
          if (
            kind !== 'foil' &&
            (mate !== 'last' || letsGo === 'turned') &&
            parting(j, id) &&
            ends(j).every((p) => !away(p))
          )
            undone.delete(j);
        break;
      case 'fasten':
      case 'connect':
      case 'solder':
      case 'press':
      case 'cure':
        undone.delete(id);
        break;
      case 'bond':
        // Laid while its part is away it joins nothing yet.
        if (ends(id).every((p) => !away(p))) undone.delete(id);
        break;
      case 'gate':
        if (step.gate === 'G1') seated.add(id);
        break;
    }
  };

  for (const step of plan.steps) {
    const told = (words: string) => `step ${step.n}, ${step.do}: ${words}`;
    if (step.do === 'power-off') [on, prepared] = [false, true];
    if (step.do === 'power-on') on = plan.steps.some((s) => s.phase === 'ascent' && s.do === 'power-off');
    if (step.phase === 'descent' && !prepared) return told('A6: the device was not switched off');
    if (on && INSIDE.includes(step.do)) return told('R2: hands go into a device that is switched on');
    if (step.do === 'turn-over') {
      const [open] = [...hung, ...ajar];
      if (open) return told(`A3: ${open} hangs open`);
      up = step.face;
      lying = step.pose;
    } else if (lying !== undefined && step.phase !== 'turn' && step.items.length > 0 && step.pose !== lying) {
      return told(`A3: the fold lies ${lying}`);
    } else if (step.face !== 'edge' && step.items.some((id) => parts.has(id) || screws.has(id) || plugs.has(id))) {
      if (up !== null && step.phase !== 'turn' && step.face !== up) return told(`A3: the ${up} is up`);
      if (step.phase !== 'turn') up = step.face;
    }
    for (const id of step.items) {
      const broken = gone.has(id) ? null : law(step, id);
      if (broken) return told(broken);
      take(step, id);
    }
  }
  const left = [...off, ...hung, ...ajar, ...taped, ...undone].find((id) => !gone.has(id) && !paste.has(id));
  if (left) return `A7: ${left} is not back at the end`;
  const worn = anatomy.bonds.find(
    (b) =>
      b.fate === 'renew' &&
      ever.has(b.id) &&
      !gone.has(b.id) &&
      !plan.steps.some((s) => s.do === 'bond' && s.items.includes(b.id)),
  );
  if (worn) return `A7: ${worn.id} never goes back, and was not renewed`;
  const old = plan.replace.find((id: string) => !plan.steps.some((s) => s.do === 'renew' && s.items.includes(id)));
  return old ? `A7: ${old} was not replaced` : null;
}
