import { modelOf, type Anatomy, type Model, type Part } from '../anatomy/index.ts';
import type { Told } from './dives.ts';
import { SURE, type Evidence } from './evidence.ts';
import type { Orders } from './order.ts';
import { inwards, shareUnder } from './outline.ts';
import { isUnseen } from './unseen.ts';

/** A place is under a rough outline for certain when it lies this deep in it, mm. */
const SURELY = 2;
/** A part that lies so far under another is covered by it. */
const MOSTLY = 0.9;

/**
 * The anatomy with its layers, the least that are consistent: what had to come off before something lies over it, what
 * did not does not.
 */
export const layered = (anatomy: Anatomy, told: Told, orders: Orders): { anatomy: Anatomy; evidence: Evidence[] } =>
  new Layering(told, orders).layered(anatomy);

class Layering {
  constructor(
    private readonly told: Told,
    private readonly orders: Orders,
  ) {}

  layered(anatomy: Anatomy): { anatomy: Anatomy; evidence: Evidence[] } {
    const model = modelOf(anatomy);
    const evidence: Evidence[] = [];
    const pairs: LayerPair[] = [];
    for (const part of anatomy.parts) {
      if (part.fixed) continue;
      for (const id of model.items.keys()) {
        if (!this.mayCover(model, part, id)) continue;
        const under = layerBearer(model, id);
        const sure = this.orders.uncoveredBy(id).includes(part.id);
        const not = !sure && this.orders.notCovered(part.id, id);
        if (not) pairs.push({ over: part.id, under, is: 'not-over', sure: false });
        else if (sure || (this.coversByOrder(part.id, id) && this.orders.alwaysAfter(part.id, id)))
          pairs.push({ over: part.id, under, is: 'over', sure });
      }
    }
    const layers = settle([...model.items.keys()], pairs);
    for (const { over: part, under: id, is, sure } of pairs) {
      if (is === 'not-over' || layers.get(part)! >= layers.get(id)!) continue;
      const deep = sure || this.lieDeep(part, id);
      const grade = sure ? 'seen' : deep ? 'inferred' : 'guessed';
      evidence.push({
        relation: 'covers',
        of: part,
        to: id,
        grade,
        sure: SURE[grade],
        why: sure
          ? 'it showed as soon as that part was away'
          : 'it was reached only after that part, whose outline lies over it',
      });
    }
    const layerOf = (id: string) => layers.get(id) ?? 0;
    const laid: Anatomy = {
      ...anatomy,
      parts: anatomy.parts.map((p) => (p.fixed || isUnseen(p.id) ? p : { ...p, layer: layerOf(p.id) })),
      fasteners: anatomy.fasteners.map((f) => ({ ...f, layer: layerOf(f.id) })),
      connectors: anatomy.connectors.map((c) => (isUnseen(c.id) ? c : { ...c, layer: layerOf(c.id) })),
      bonds: anatomy.bonds.map((b) => (b.face === null ? b : { ...b, layer: layerOf(b.id) })),
    };
    return { anatomy: laid, evidence };
  }

  /** Of a catch it is not certain whose it is: only what cannot be kept as an order is said to lie over it. */
  private coversByOrder(part: string, id: string): boolean {
    if (this.told.things.get(id)?.type !== 'latch') return true;
    return this.told.dives.some((d) => d.done.some((x) => x.thing === part && x.kind === 'swing'));
  }

  /** Could a part lie over an item at all: on the same side of the same assembly, and over its ground? */
  private mayCover(model: Model, part: Part, id: string): boolean {
    if (id === part.id || isUnseen(id) || isUnseen(part.id) || model.parts.get(id)?.fixed) return false;
    if (part.within !== model.contextOf(id) || model.ownPartsOf(id).includes(part.id)) return false;
    const face = model.faceOf(id);
    return face === part.face && face !== 'edge' && model.overlaps(part.id, id);
  }

  /** Do they overlap by more than two rough hands could be wrong? Of a part the better half must lie under the other. */
  private lieDeep(part: string, id: string): boolean {
    const over = this.told.things.get(part)?.bounds;
    const thing = this.told.things.get(id);
    if (!over || !thing || thing.type === 'bond' || thing.type === 'latch') return false;
    if (thing.type === 'part') return thing.bounds !== null && shareUnder(thing.bounds, over) > MOSTLY;
    return thing.place !== null && inwards(over, thing.place) > SURELY && this.orders.hidBehind(part, id);
  }
}

/** A catch lies as deep as its part. */
function layerBearer(model: Model, id: string): string {
  const latch = model.latches.get(id);
  return latch ? (latch.joins.find((p) => !model.parts.get(p)!.fixed) ?? id) : id;
}

/** `over` lies over `under`, or may lie no higher; `sure` where it was seen. */
interface LayerPair {
  over: string;
  under: string;
  is: 'over' | 'not-over';
  sure: boolean;
}

/**
 * The least layers that keep every pair: what lies over something is above it, what does not is no higher. Where they
 * cannot all be kept, two rough outlines overlap that do not: then it is said to cover, which asks for more than need be.
 */
function settle(ids: readonly string[], pairs: readonly LayerPair[]): Map<string, number> {
  let kept = [...pairs];
  for (;;) {
    const layers = new Map(ids.map((id) => [id, 0]));
    const raisedBy = new Map<string, LayerPair>();
    let risen: string | null = null;
    for (let changed = true; changed && risen === null; ) {
      changed = false;
      for (const pair of kept) {
        const [id, to] =
          pair.is === 'over' ? [pair.under, layers.get(pair.over)! + 1] : [pair.over, layers.get(pair.under)!];
        if (layers.get(id)! >= to) continue;
        layers.set(id, to);
        raisedBy.set(id, pair);
        changed = true;
        if (to > ids.length) risen = id;
      }
    }
    if (risen === null) return layers;
    const circle = new Set<LayerPair>();
    for (let at: string = risen, n = 0; n <= 2 * ids.length; n++) {
      const pair = raisedBy.get(at);
      if (!pair) break;
      if (n > ids.length) circle.add(pair);
      at = pair.is === 'over' ? pair.over : pair.under;
    }
    const list = [...circle];
    const give = list.find((p) => p.is === 'not-over') ?? list.find((p) => !p.sure) ?? list[0];
    if (!give) return layers;
    kept = kept.filter((p) => p !== give);
  }
}
