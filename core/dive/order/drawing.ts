import { boundsOfRegion } from '../../anatomy/index.ts';
import { contextsOf } from '../graph/contexts.ts';
import { actionOf, keyOf } from '../graph/keys.ts';
import { isOutside, type Bundle } from './bundles.ts';
import { WorkList } from './workList.ts';
import type { Making } from './making.ts';

/** Ranks of work among equally quick orders: what stands earlier in the dive goes first. */
export const RANK = {
  prepare: -100,
  mat: 4000,
  turn: 5000,
  renew: 5001,
  inspect: 5002,
  matBack: 5500,
  back: 6000,
  prove: 9000,
};

/** First and last work of a bundle on the way in. */
export type Down = { first: number; last: number };
/** Works of a bundle on the way back: the first and last of what is laid ready before the battery is mated, and the rest. */
export type Back = { ready: Down | null; main: number };

/** The works of one dive while they are drawn up: what of the bundles became which work. */
export class Drawing {
  protected readonly list: WorkList;
  protected readonly onMat: ReadonlySet<number>;
  protected readonly main: number[];
  protected readonly mat: number[];
  protected readonly down = new Map<number, Down>();
  protected readonly back = new Map<number, Back>();
  protected readonly renewWork = new Map<string, number>();
  protected ready: number[] = [];
  /** The work by which a part that hangs is laid down and taped for a turn-over. */
  protected readonly taped = new Map<string, number>();
  protected turn = -1;
  protected finalTests = -1;
  protected readonly openTests: string[];
  /** Functions that the way back, as it was drawn last, proves on the open device. */
  protected testedOpen: string[] = [];

  constructor(
    protected readonly making: Making,
    protected readonly bundles: readonly Bundle[],
    protected readonly touched: readonly string[],
  ) {
    const { graph, rules, lost } = making;
    this.list = new WorkList(rules, making.relaxed === 'heat-beside' || making.relaxed === 'all');
    this.onMat = making.mat;
    const all = bundles.map((_, i) => i);
    this.main = all.filter((i) => !this.onMat.has(i));
    this.mat = all.filter((i) => this.onMat.has(i));
    this.openTests = touched.filter(
      (id) => !lost.includes(id) && !graph.model.anatomy.functions.find((f) => f.id === id)!.afterClosing,
    );
  }

  protected get model() {
    return this.making.graph.model;
  }

  /** Where the hand works on the items of a bundle: the middle of them. */
  protected placeOf(bundle: Bundle): readonly [number, number] | null {
    if (bundle.face === 'edge') return null;
    const centres = bundle.items.map((id) => {
      const [x, y, w, h] = boundsOfRegion(this.model.accessOf(id));
      return [x + w / 2, y + h / 2] as const;
    });
    const mean = (axis: 0 | 1) => centres.reduce((sum, c) => sum + c[axis], 0) / centres.length;
    return [mean(0), mean(1)];
  }

  protected isTray(bundle: Bundle): boolean {
    return bundle.face === 'edge' && this.model.parts.get(bundle.items[0]!)?.kind === 'tray';
  }

  protected bundleOf(kind: Bundle['kind'], item: string): number {
    return this.bundles.findIndex((b) => b.kind === kind && b.items.includes(item));
  }

  /** Tethers of a part, as bundles that open them. */
  protected tethersOf(part: string): number[] {
    const { swing } = this.model.parts.get(part)!;
    return (swing?.tether ?? [])
      .map((id) => actionOf(this.making.graph.openingOf(id)))
      .map(({ kind, item }) => this.bundleOf(kind, item))
      .filter((i) => i >= 0 && this.bundles[i]!.items[0] !== part);
  }

  /** Catches and bonds of a part, as bundles that let them go. */
  protected holdsOf(part: string): number[] {
    const joins = (id: string) => (this.model.latches.get(id) ?? this.model.bonds.get(id))?.joins.includes(part);
    return this.main.filter((j) => this.bundles[j]!.kind === 'release' && joins(this.bundles[j]!.items[0]!));
  }

  /** The assemblies that a bundle's item lies in, from the inside out. */
  protected contextsOf(i: number): string[] {
    return contextsOf(this.model, this.bundles[i]!.items[0]!);
  }

  protected isIsolation(i: number): boolean {
    return this.making.graph.isolation.includes(keyOf(this.bundles[i]!.kind, this.bundles[i]!.items[0]!));
  }

  /** Is a bundle work on the outside of the device or on its edge, where the trays are? */
  protected isOutside(i: number): boolean {
    const bundle = this.bundles[i]!;
    return bundle.face === 'edge' || isOutside(this.making.graph, bundle);
  }
}
