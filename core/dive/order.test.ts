import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cheapestOrder, type OrderNode } from './order.ts';

const COSTS = { toolChange: 8, turnOver: 15 };

/** Every order, tried one by one: the outside check of the search. */
function bruteForce(nodes: readonly OrderNode[]): number {
  let best = Infinity;
  const walk = (done: Set<number>, tool: string | null, face: string, open: number, cost: number) => {
    if (done.size === nodes.length) best = Math.min(best, cost);
    nodes.forEach((node, i) => {
      if (done.has(i) || !node.before.every((j) => done.has(j))) return;
      const turns = node.face !== 'edge' && node.face !== face;
      if (turns && open > 0) return;
      const changes = node.firstTool !== null && node.firstTool !== tool;
      walk(new Set([...done, i]), node.lastTool ?? tool, node.face === 'edge' ? face : node.face, open + (node.opens ? 1 : 0) - (node.closes ? 1 : 0), cost + (changes ? 8 : 0) + (turns ? 15 : 0));
    });
  };
  walk(new Set(), null, 'front', 0, 0);
  return best;
}

const nodes = fc.array(fc.record({
  before: fc.array(fc.nat(20), { maxLength: 2 }), tool: fc.constantFrom(null, 'a', 'b', 'c'), last: fc.constantFrom(null, 'a', 'b'), face: fc.constantFrom<'front' | 'back' | 'edge'>('front', 'front', 'back', 'edge'),
}), { minLength: 1, maxLength: 7 }).map((list) => list.map((n, i): OrderNode => ({
  before: i === 0 ? [] : [...new Set(n.before.map((b) => b % i))], firstTool: n.tool, lastTool: n.tool === null ? null : (n.last ?? n.tool), face: n.face, opens: null, closes: null, rank: i,
})));

describe('the cheapest order', () => {
  it('costs the same as the best of all orders', () => {
    fc.assert(fc.property(nodes, (list) => {
      const found = cheapestOrder(list, COSTS)!;
      expect(found.proved).toBe(true);
      expect(found.cost).toBe(bruteForce(list));
      const place = new Map(found.order.map((i, at) => [i, at]));
      list.forEach((n, i) => { for (const b of n.before) expect(place.get(b)!).toBeLessThan(place.get(i)!); });
    }), { numRuns: 250 });
  });

  const node = (rest: Partial<OrderNode>): OrderNode => ({ before: [], firstTool: null, lastTool: null, face: 'front', opens: null, closes: null, rank: 0, ...rest });

  it('does all of one tool before the next', () => {
    const list = ['a', 'b', 'a', 'b'].map((tool) => node({ firstTool: tool, lastTool: tool }));
    expect(cheapestOrder(list, COSTS)).toMatchObject({ cost: 16, lowerBound: 16, proved: true });
  });
  it('turns over before it swings open, not while', () => {
    const list = [node({ opens: 'display' }), node({ face: 'back' }), node({ before: [0] })];
    expect(cheapestOrder(list, COSTS, 'back')!.order[0]).toBe(1);
  });
  it('says that there is no order when the device would be turned over while open', () => {
    expect(cheapestOrder([node({ opens: 'display' }), node({ face: 'back', before: [0] })], COSTS)).toBeNull();
  });
  it('refuses a circle', () => {
    expect(() => cheapestOrder([node({ before: [1] }), node({ before: [0] })], COSTS)).toThrow(/circle/);
  });
  it('past its budget it tells how far from proved it is', () => {
    const many = Array.from({ length: 60 }, (_, i) => node({ firstTool: `t${(i * 7) % 11}`, lastTool: `t${(i * 5) % 11}`, face: i % 3 === 0 ? 'back' : 'front', before: i > 9 ? [i - 10 + (i % 3)] : [] }));
    const found = cheapestOrder(many, COSTS)!;
    expect(found.order).toHaveLength(60);
    expect(found.cost).toBeGreaterThanOrEqual(found.lowerBound);
    expect(found.proved).toBe(found.cost === found.lowerBound);
  });
});
