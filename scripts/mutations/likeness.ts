import { modelOf, type Anatomy, type Corner, type Edge, type Outline, type Point } from '../../core/anatomy/index.ts';
import { NoDive, planDive, type HouseRules, type Plan } from '../../core/dive/index.ts';
import type { Draw } from '../../demo/synthetic.ts';

/* The same device, drawn in a mirror or under other names and in another order, takes the same work. */

const ACROSS: Record<Edge, Edge> = { left: 'right', right: 'left', top: 'top', bottom: 'bottom' };
const CORNER: Record<Corner, Corner> = {
  'top-left': 'top-right',
  'top-right': 'top-left',
  'bottom-left': 'bottom-right',
  'bottom-right': 'bottom-left',
};

/** The device as it is seen in a mirror that stands beside it. */
export function mirrored(anatomy: Anatomy): Anatomy {
  const a = structuredClone(anatomy);
  const { width } = a.body;
  const point = ([x, y]: Point): Point => [width - x, y];
  const turn = (o: Outline): Outline => {
    if ('circle' in o) return { circle: [width - o.circle[0], o.circle[1], o.circle[2]] };
    if ('polygon' in o) return { polygon: o.polygon.map(point).reverse() };
    const [x, y, w, h] = o.rect;
    return { ...o, rect: [width - x - w, y, w, h] };
  };
  const span = (edge: Edge, from: number, to: number): [number, number] =>
    edge === 'top' || edge === 'bottom' ? [width - to, width - from] : [from, to];
  const edgeOf = (from: Edge | Corner | null) =>
    from === null ? null : from in ACROSS ? ACROSS[from as Edge] : CORNER[from as Corner];
  for (const p of a.parts) {
    p.outline = turn(p.outline);
    if (p.swing) p.swing.hinge = ACROSS[p.swing.hinge];
    if (p.leaves) p.leaves.from = edgeOf(p.leaves.from);
    if (p.enters) p.enters.from = edgeOf(p.enters.from);
    if (p.pryAt) p.pryAt = point(p.pryAt);
  }
  for (const f of a.fasteners) f.at = point(f.at);
  for (const c of a.connectors) {
    c.at = point(c.at);
    if (c.route) c.route.line = c.route.line.map(point);
  }
  for (const b of a.bonds) {
    b.tabs = b.tabs.map(point);
    if ('area' in b.at) b.at = { area: turn(b.at.area) };
    else if ('line' in b.at) b.at = { ...b.at, line: b.at.line.map(point) };
    else
      b.at.gaps = b.at.gaps.map((g) => {
        const [from, to] = span(g.edge, g.from, g.to);
        return { edge: ACROSS[g.edge], from, to };
      });
  }
  for (const l of a.latches) {
    l.edge = ACROSS[l.edge];
    l.alsoAt = l.alsoAt.map((e) => ACROSS[e]);
    if (l.notch) l.notch = point(l.notch);
  }
  for (const half of a.bodies ?? []) half.outline = turn(half.outline);
  if (a.hinge) a.hinge.line = [point(a.hinge.line[0]), point(a.hinge.line[1])];
  return a;
}

/** The device under other names, its lists in another order. */
export function renamed(anatomy: Anatomy, draw: Draw): { anatomy: Anatomy; name: (id: string) => string } {
  const lists = ['parts', 'fasteners', 'connectors', 'bonds', 'latches'] as const;
  const ids = new Set(lists.flatMap((list) => anatomy[list].map((x) => x.id)));
  const name = (id: string) => (ids.has(id) ? `${[...id].reverse().join('')}-x` : id);
  const walk = (value: unknown): unknown => {
    if (typeof value === 'string') return name(value);
    if (Array.isArray(value)) return value.map(walk);
    if (value && typeof value === 'object')
      return Object.fromEntries(
        Object.entries(value).map(([k, v]) => [
          k,
          ['name', 'kind', 'because', 'test', 'carries', 'functions', 'loses', 'note'].includes(k) ? v : walk(v),
        ]),
      );
    return value;
  };
  const a = walk({ ...anatomy, functions: [] }) as Anatomy;
  a.functions = anatomy.functions;
  for (const list of lists) {
    const left = [...a[list]] as unknown[];
    const shuffled: unknown[] = [];
    while (left.length > 0) shuffled.push(...left.splice(draw(left.length), 1));
    (a as unknown as Record<string, unknown>)[list] = shuffled;
  }
  return { anatomy: a, name };
}

/** What is done, whatever the order and in however many goes: verb and item. */
const deeds = (plan: Plan, name: (id: string) => string): string =>
  [...new Set(plan.steps.flatMap((s) => s.items.map((id) => `${s.phase} ${s.gate ?? s.do} ${name(id)}`)))]
    .sort()
    .join('\n');

/** How the plan for the same device, told otherwise, differs from this one; `null` when it does not. */
export function likenessAmiss(
  anatomy: Anatomy,
  replace: readonly string[],
  rules: HouseRules,
  draw: Draw,
): string | null {
  const options = { budget: 4000, heat: 'usual' } as const;
  const told = (a: Anatomy, asked: readonly string[]): Plan | null => {
    try {
      return planDive(modelOf(a), { replace: [...asked] }, rules, options);
    } catch (error) {
      if (error instanceof NoDive) return null;
      throw error;
    }
  };
  const plan = told(anatomy, replace);
  const other = renamed(anatomy, draw);
  for (const [how, a, name] of [
    ['in the mirror', mirrored(anatomy), (id: string) => id],
    ['under other names', other.anatomy, other.name],
  ] as const) {
    const twin = told(a, replace.map(name));
    if ((plan === null) !== (twin === null)) return `${how} it ${twin ? 'has' : 'has not'} a plan`;
    if (!plan || !twin || !plan.optimality.proved || !twin.optimality.proved) continue;
    if (Math.abs(plan.totals.elapsed - twin.totals.elapsed) > 5)
      return `${how} it takes ${twin.totals.elapsed} s, not ${plan.totals.elapsed}`;
    if (how === 'in the mirror' && deeds(plan, name) !== deeds(twin, (id) => id)) return `${how} other work is done`;
  }
  return null;
}
