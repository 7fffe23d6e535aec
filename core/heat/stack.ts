import {
  bondRegion,
  boundsOf,
  insetOutline,
  ringOf,
  type Bond,
  type Edge,
  type Model,
  type Outline,
  type Part,
  type Point,
  type Region,
} from '../anatomy/index.ts';
import { openedPart, pathAlong, pathOf, placesAlong, type Path } from '../opening/index.ts';
import { limitsWith, type Limit, type Zone } from './limits.ts';
import { capacityOf, MATERIALS, type MaterialId } from './materials.ts';
import { halfAround } from './half.ts';
import { NoHeat } from './noHeat.ts';
import { coverage, gridOver, type Grid } from './raster.ts';
import { area, placeOf, skinOf, standing, type Place } from './place.ts';
import type { Block } from './solver.ts';

/** A short piece of the seam. */
export interface Stretch {
  at: Point;
  /** The edge of the part it runs along. */
  edge: Edge;
  /** Which half of the device it lies in, along its longer side. */
  half: 'first' | 'last';
  /** Index of its cell in the block. */
  cell: number;
}

/** A device as layers of material over a plane grid, with what has to be watched in it. Layers run from the front. */
export interface Stack {
  grid: Grid;
  /** Where the grid begins in the plane of the device, mm: elsewhere than at its corner for one half of a fold. */
  origin: Point;
  block: Block;
  layers: readonly string[];
  /** The layer that a map of the seam shows, and that of the cell. */
  seamLayer: number;
  cellLayer: number;
  /** Share of each cell of the plane that the device covers. */
  body: Float64Array;
  seam: Stretch[];
  zones: Partial<Record<Zone, Int32Array>>;
  /** What each zone bears; that of marked parts is the lowest of theirs. */
  limits: Readonly<Record<Zone, Limit>>;
  /** The face that heat is laid on. */
  face: 'front' | 'back';
  bond: Bond;
  /** °C. */
  softensAt: number;
}

/** Thickness of a part when its anatomy says nothing, mm. Origin: own estimates, typical of phones. */
const THICKNESS = {
  display: 1.8,
  glass: 0.7,
  cover: 0.9,
  skin: 0.8,
  glassOfDisplay: 0.7,
  bond: 0.3,
  floor: 0.5,
} as const;
/**
 * How far the rim of a display reaches in before its panel begins, mm, and the wall of a frame without a bonded
 * ledge. Origin: own estimates.
 */
const RIM = 0.8;
const WALL = 1.5;
/** Between a cell and the floor it is taped to, m²K/W. Origin: own estimate, strips of tape with 0.1 mm of air between them. */
const CELL_JOINT = 4e-3;
/** Default spacing of the stretches of a seam, mm. Origin: own choice. */
const STRETCH_MM = 4;

/** Kinds of part that are too thin, or lie too far outside, to count as a body in the interior. */
const HOLLOW: ReadonlySet<string> = new Set([
  'bracket',
  'shield',
  'plate',
  'mesh',
  'label',
  'flex',
  'cover',
  'stand',
  'tray',
]);

const LAYERS = [
  'front glass',
  'panel',
  'front bond',
  'front floor',
  'upper interior',
  'lower interior',
  'back floor',
  'back bond',
  'back skin',
] as const;
function materialOf(part: Part): MaterialId {
  const told =
    part.material ??
    (part.glass || part.kind === 'display' || part.kind === 'lens' ? 'glass' : part.conductive ? 'metal' : 'plastic');
  return told === 'metal' ? 'aluminium' : told;
}

function thicknessOf(part: Part): number {
  return (
    part.thickness ??
    (part.kind === 'display' ? THICKNESS.display : materialOf(part) === 'glass' ? THICKNESS.glass : THICKNESS.cover)
  );
}

/**
 * The layers of a device around one bond, from its anatomy: cover or display glass, panel, bond, floor of the frame,
 * interior with cell and board, back bond and back skin. What the anatomy does not say comes from the defaults here.
 * @param grid width of a cell, mm
 * @param face the face that heat is laid on; the bond's own when left out
 * @param off parts that are out or swung open while it is warmed: they neither carry heat nor have limits
 * @throws NoHeat when the bond is unknown or does not soften
 */
export function stackOf(
  model: Model,
  bondId: string,
  {
    grid: cellWidth = 2,
    face,
    off = [],
  }: { grid?: number; face?: 'front' | 'back' | undefined; off?: readonly string[] | undefined } = {},
): Stack {
  const bond = model.bonds.get(bondId);
  if (!bond)
    throw new NoHeat(
      'bond',
      `the anatomy ${model.anatomy.id} has no bond "${bondId}"; its bonds are ` +
        `${[...model.bonds.keys()].join(', ') || 'none'}`,
    );
  const { softensAt } = bond;
  if (softensAt === null)
    throw new NoHeat(
      `bonds.${bondId}.softensAt`,
      `${model.nameOf(bondId)} does not soften with heat, or its temperature is not known; ` +
        'give it softensAt, or open it cold',
    );
  const stands = standing(model, bond, off);
  const half = halfAround(stands, bond);
  if (!half) return new Layering(stands, { ...bond, softensAt }, cellWidth).stack(face);
  const alone = new Layering(half.model, { ...half.bond, softensAt }, cellWidth).stack(face);
  return { ...alone, origin: half.origin };
}

/** The layers from the front, by name. */
const AT = {
  frontGlass: 0,
  panel: 1,
  frontBond: 2,
  frontFloor: 3,
  upper: 4,
  lower: 5,
  backFloor: 6,
  backBond: 7,
  backSkin: 8,
} as const;
const ALL = Object.values(AT);
/**
 * How layers are divided, mm: the interior begins with a fine piece where a cell meets what is warmed, since there it is
 * hottest, and each piece is so much thicker than the one before, up to the thickest; other layers are halved from `half` on.
 * Origin: measured against a coupled solution of twice as many; the hottest place of a cell is within 0.3 K.
 */
const PIECES = { first: 0.2, growth: 2.2, thickest: 1.6, half: 0.9 } as const;

/** The interior from its warm side inwards, as shares of its thickness. */
function graded(mm: number): number[] {
  const sizes: number[] = [];
  let left = mm;
  for (let next: number = PIECES.first; left > 1e-9; next = Math.min(PIECES.thickest, next * PIECES.growth)) {
    // What would be left over as a sliver belongs to this one.
    const size = left - next < next / 2 ? left : next;
    sizes.push(size);
    left -= size;
  }
  return sizes.map((size) => size / mm);
}

function sharesOf(layer: number, mm: number): number[] {
  if (layer === AT.upper) return graded(mm);
  if (layer === AT.lower) return graded(mm).reverse();
  return mm > PIECES.half ? [0.5, 0.5] : [1];
}
const IDS = Object.keys(MATERIALS) as MaterialId[];
const region = (outline: Outline): Region => [ringOf(outline)];

/** The material that stands for a part in the interior; `null` for what is too thin to count. */
function fillingOf(part: Part): MaterialId | null {
  switch (part.kind) {
    case 'battery':
      return 'cell';
    case 'board':
      return 'board';
    case 'display':
      return 'panel';
    default:
      return HOLLOW.has(part.kind) ? null : 'module';
  }
}

/** A device painted into layers, thing by thing, around one bond. */
class Layering {
  private readonly grid: Grid;
  private readonly plane: number;
  private readonly front: Part[];
  private readonly back: Part[];
  private readonly cellFace: 'front' | 'back';
  private readonly place: Place;
  private readonly mm: number[];
  private readonly material: Int8Array;
  private readonly values: Record<'inPlane' | 'through' | 'capacity', Float64Array>;
  private readonly body: Float64Array;
  /** The floor of the frame lies on the far side of the interior from where the cell comes out. */
  private readonly floor: number;
  /** Layers that are there while the bond is warmed: what lies over a bond inside is off. */
  private readonly kept: number[];
  /** What is computed, from the front: pieces of layers, each with its share of one. */
  private readonly pieces: { z: number; share: number }[];

  constructor(
    private readonly model: Model,
    private readonly bond: Bond & { softensAt: number },
    cellWidth: number,
  ) {
    const { body } = model.anatomy;
    this.grid = gridOver(body.width, body.height, cellWidth);
    this.plane = this.grid.nx * this.grid.ny;
    this.front = skinOf(model, 'front');
    this.back = skinOf(model, 'back');
    const battery = model.anatomy.parts.find((p) => p.kind === 'battery');
    this.cellFace = battery?.face === 'back' ? 'back' : 'front';
    this.floor = this.cellFace === 'front' ? AT.backFloor : AT.frontFloor;
    this.place = placeOf(model, bond, this.front, this.back, this.cellFace);
    this.mm = this.thicknesses();
    this.material = new Int8Array(this.plane * ALL.length);
    const empty = () => new Float64Array(this.plane * ALL.length);
    this.values = { inPlane: empty(), through: empty(), capacity: empty() };
    this.body = this.cover({ rect: [0, 0, body.width, body.height], radius: body.cornerRadius });
    const dropped = this.place.opened ? (this.place.face === 'back' ? AT.frontFloor : -2) : 0;
    this.kept = ALL.filter((z) => (dropped > 0 ? z >= dropped : z < ALL.length + dropped));
    this.pieces = this.kept.flatMap((z) => sharesOf(z, this.mm[z]!).map((share) => ({ z, share })));
  }

  stack(face: 'front' | 'back' | undefined): Stack {
    this.paintShell();
    this.paintInside();
    this.paintSkin(this.front, [AT.frontGlass, AT.panel], AT.frontBond);
    this.paintSkin(this.back, [AT.backSkin], AT.backBond);
    const seamLayer = this.thickest(this.place.layer);
    const seam = this.seam(seamLayer);
    return {
      grid: this.grid,
      origin: [0, 0],
      block: this.block(),
      layers: this.pieces.map(({ z }) => LAYERS[z]!),
      seamLayer,
      cellLayer: this.thickest(AT.upper),
      body: this.body,
      seam,
      zones: this.zones(seam),
      limits: limitsWith(
        this.marked().reduce<number | null>((low, { hottest }) => Math.min(low ?? hottest, hottest), null),
      ),
      face: face ?? this.place.face,
      bond: this.bond,
      softensAt: this.bond.softensAt,
    };
  }

  /** The thickest piece of a layer, or the nearest that is there. */
  private thickest(layer: number): number {
    const z = Math.max(this.kept[0]!, Math.min(this.kept.at(-1)!, layer));
    const own = this.pieces.flatMap((piece, i) => (piece.z === z ? [i] : []));
    return own.reduce((a, b) => (this.pieces[b]!.share > this.pieces[a]!.share ? b : a));
  }

  private widest(side: readonly Part[]): Part | undefined {
    return [...side].sort((a, b) => area(b) - area(a))[0];
  }

  private thicknesses(): number[] {
    const [mainFront, mainBack] = [this.widest(this.front), this.widest(this.back)];
    const f = mainFront ? thicknessOf(mainFront) : THICKNESS.skin;
    const b = mainBack ? thicknessOf(mainBack) : THICKNESS.skin;
    const glass = mainFront?.kind === 'display' ? Math.min(THICKNESS.glassOfDisplay, f * 0.6) : f / 2;
    const { thickness } = this.model.anatomy.body;
    const inside = Math.max(1, thickness - f - b - 2 * THICKNESS.bond - 2 * THICKNESS.floor);
    const { bond, floor } = THICKNESS;
    return [glass, f - glass, bond, floor, inside / 2, inside / 2, floor, bond, b];
  }

  private cover(outline: Outline): Float64Array {
    return coverage(this.grid, region(outline));
  }

  private paint(layers: readonly number[], what: MaterialId, share: Float64Array | null): void {
    const m = MATERIALS[what];
    const capacity = capacityOf(m);
    const { values, plane } = this;
    for (const z of layers)
      for (let p = 0; p < plane; p++) {
        const s = share ? share[p]! : 1;
        if (s === 0) continue;
        const at = z * plane + p;
        // Through the thickness what shares a cell lies side by side; in the plane it is met one after the other as
        // well: the geometric mean.
        values.inPlane[at] = values.inPlane[at]! ** (1 - s) * m.inPlane ** s;
        values.through[at] = values.through[at]! * (1 - s) + m.through * s;
        values.capacity[at] = values.capacity[at]! * (1 - s) + capacity * s;
        if (s >= 0.5) this.material[at] = IDS.indexOf(what);
      }
  }

  private shell(): MaterialId {
    const { parts } = this.model.anatomy;
    const frame = parts.find((p) => p.fixed && p.kind === 'frame') ?? parts.find((p) => p.fixed);
    if (!frame) return 'plastic';
    return frame.material ? materialOf(frame) : frame.conductive ? 'aluminium' : 'plastic';
  }

  /** How far in from the edge of a part the cavity beneath it begins. */
  private ledge(part: Part): number {
    const seal = this.model.anatomy.bonds.find(
      (x) =>
        'perimeterOf' in x.at && x.at.perimeterOf === part.id && x.joins.some((id) => this.model.parts.get(id)?.fixed),
    );
    return seal && 'perimeterOf' in seal.at ? seal.at.inset + seal.at.width : WALL;
  }

  private cavityOf(part: Part | undefined): Outline {
    const { width, height, cornerRadius } = this.model.anatomy.body;
    return part
      ? insetOutline(part.outline, this.ledge(part))
      : insetOutline({ rect: [0, 0, width, height], radius: cornerRadius }, WALL);
  }

  private paintShell(): void {
    this.values.inPlane.fill(1);
    this.paint(ALL, 'air', null);
    this.paint(ALL, this.shell(), this.body);
    this.paint([AT.upper, AT.lower], 'room', this.cover(this.cavityOf(undefined)));
    // On the near side of the interior a ledge carries the bond.
    const near = this.floor === AT.frontFloor ? AT.backFloor : AT.frontFloor;
    const opening = this.widest(this.cellFace === 'front' ? this.front : this.back);
    this.paint([near], 'room', this.cover(this.cavityOf(opening)));
  }

  private paintInside(): void {
    const interior = [AT.frontFloor, AT.upper, AT.lower, AT.backFloor].filter((z) => z !== this.floor);
    const order: (MaterialId | null)[] = [null, 'module', 'panel', 'board', 'cell'];
    const inner = this.model.anatomy.parts
      .filter((p) => !p.fixed && p.within === null && !this.front.includes(p) && !this.back.includes(p))
      .map((part) => ({ part, what: fillingOf(part) }))
      .sort((a, b) => order.indexOf(a.what) - order.indexOf(b.what));
    for (const { part, what } of inner) {
      if (what === null) continue;
      // A cell keeps room to swell on the side it comes out of.
      this.paint(what === 'cell' ? [AT.upper, AT.lower] : interior, what, this.cover(part.outline));
    }
  }

  private paintSkin(side: readonly Part[], skin: readonly number[], gap: number): void {
    for (const part of side) {
      this.paint(skin, materialOf(part), this.cover(part.outline));
      // The glass of a display ends in a thin rim; the panel begins behind it.
      if (part.kind === 'display' && side === this.front)
        this.paint([AT.panel], 'panel', this.cover(insetOutline(part.outline, RIM)));
      this.paint([gap], 'air', this.cover(this.cavityOf(part)));
    }
    const outlineOf = (id: string): Outline => this.model.parts.get(id)!.outline;
    for (const x of this.model.anatomy.bonds) {
      const here = x.joins.some((id) => side.some((p) => p.id === id));
      if (here && x.joins.some((id) => this.model.parts.get(id)!.fixed))
        this.paint([gap], 'adhesive', coverage(this.grid, bondRegion(x, outlineOf)));
    }
  }

  private block(): Block {
    const { grid, pieces, plane, values } = this;
    const cut = (all: Float64Array) => {
      const own = new Float64Array(pieces.length * plane);
      pieces.forEach(({ z }, i) => own.set(all.subarray(z * plane, (z + 1) * plane), i * plane));
      return own;
    };
    const contact = new Float64Array(pieces.length);
    const joint = pieces.findLastIndex(({ z }) => z === (this.floor === AT.backFloor ? AT.lower : AT.frontFloor));
    if (joint >= 0) contact[joint] = CELL_JOINT;
    return {
      nx: grid.nx,
      ny: grid.ny,
      nz: pieces.length,
      dx: grid.dx / 1000,
      dy: grid.dy / 1000,
      dz: Float64Array.from(pieces, ({ z, share }) => (this.mm[z]! * share) / 1000),
      inPlane: cut(values.inPlane),
      through: cut(values.through),
      capacity: cut(values.capacity),
      contact,
    };
  }

  /** Where the seam runs, stretch by stretch. @throws NoHeat when its gaps leave nothing of it */
  private seam(layer: number): Stretch[] {
    const { grid, plane } = this;
    const seam = stretchesOf(this.model, this.bond).map((s): Stretch => {
      const x = Math.max(0, Math.min(grid.nx - 1, Math.floor(s.at[0] / grid.dx)));
      const y = Math.max(0, Math.min(grid.ny - 1, Math.floor(s.at[1] / grid.dy)));
      return { ...s, cell: layer * plane + y * grid.nx + x };
    });
    if (seam.length > 0) return seam;
    const name = this.model.nameOf(this.bond.id);
    throw new NoHeat(`bonds.${this.bond.id}.at`, `${name} has no length: its gaps leave nothing of it`);
  }

  private where(what: (id: MaterialId, z: number, p: number) => boolean): number[] {
    const cells: number[] = [];
    for (const [i, { z }] of this.pieces.entries())
      for (let p = 0; p < this.plane; p++)
        if (what(IDS[this.material[z * this.plane + p]!]!, z, p)) cells.push(i * this.plane + p);
    return cells;
  }

  /** Parts that are there and have a limit of their own, with the layers that they reach over. */
  private marked(): { share: Float64Array; layers: readonly number[]; hottest: number }[] {
    return this.model.anatomy.parts.flatMap((part) => {
      const hottest = part.limits?.hottest ?? null;
      if (hottest === null) return [];
      const layers = this.front.includes(part)
        ? [AT.frontGlass, AT.panel]
        : this.back.includes(part)
          ? [AT.backSkin]
          : [AT.upper, AT.lower];
      return [{ share: this.cover(part.outline), layers, hottest }];
    });
  }

  private zones(seam: readonly Stretch[]): Stack['zones'] {
    const marked = this.marked();
    const lenses = (side: readonly Part[]) => side.filter((p) => p.kind === 'lens').map((p) => this.cover(p.outline));
    const [lensFront, lensBack] = [lenses(this.front), lenses(this.back)];
    const under = (lens: Float64Array[], p: number) => lens.some((share) => share[p]! >= 0.5);
    const cells: Partial<Record<Zone, number[]>> = {
      cell: this.where((id) => id === 'cell'),
      panel: this.where((id) => id === 'panel'),
      plastic: this.where((id, _, p) => id === 'plastic' && this.body[p]! >= 0.5),
      lens: this.where(
        (_, z, p) => (z === AT.frontGlass && under(lensFront, p)) || (z === AT.backSkin && under(lensBack, p)),
      ),
      adhesive: [...new Set(seam.map((s) => s.cell))],
      marked: this.where((_, z, p) => marked.some(({ share, layers }) => layers.includes(z) && share[p]! >= 0.5)),
    };
    const zones: Stack['zones'] = {};
    for (const [name, list] of Object.entries(cells)) if (list.length > 0) zones[name as Zone] = Int32Array.from(list);
    return zones;
  }
}

/** The seam of a bond as short stretches along its middle: round a part, along a line, or over an area. */
export function stretchesOf(model: Model, bond: Bond, spacing = STRETCH_MM): Omit<Stretch, 'cell'>[] {
  const { body } = model.anatomy;
  const half = ([x, y]: Point): Stretch['half'] =>
    (body.height >= body.width ? y < body.height / 2 : x < body.width / 2) ? 'first' : 'last';
  const edgeIn =
    ([x0, y0, w, h]: readonly number[]) =>
    ([x, y]: Point): Edge => {
      const far: [Edge, number][] = [
        ['top', y - y0!],
        ['bottom', y0! + h! - y],
        ['left', x - x0!],
        ['right', x0! + w! - x],
      ];
      return far.sort((a, b) => a[1] - b[1])[0]![0];
    };
  if ('area' in bond.at) {
    const [x, y, w, h] = boundsOf(bond.at.area);
    const [nx, ny] = [Math.max(1, Math.round(w / (2 * spacing))), Math.max(1, Math.round(h / (2 * spacing)))];
    const share = coverage({ nx, ny, dx: w / nx, dy: h / ny }, [
      ringOf(bond.at.area).map(([px, py]): Point => [px - x, py - y]),
    ]);
    const edge = edgeIn([x, y, w, h]);
    return Array.from(share, (s, i) => ({
      s,
      at: [x + ((i % nx) + 0.5) * (w / nx), y + (Math.floor(i / nx) + 0.5) * (h / ny)] as Point,
    }))
      .filter(({ s }) => s > 0.4)
      .map(({ at }) => ({ at, edge: edge(at), half: half(at) }));
  }
  const every = (path: Path) => placesAlong(path, Math.max(1, Math.round(path.length / spacing)));
  if ('line' in bond.at) {
    const edge = edgeIn(boundsOf(openedPart(model, bond).outline));
    return every(pathAlong(bond.at.line)).map(({ at }) => ({ at, edge: edge(at), half: half(at) }));
  }
  const { inset, width, gaps, perimeterOf } = bond.at;
  return every(pathOf(insetOutline(model.parts.get(perimeterOf)!.outline, inset + width / 2)))
    .map(({ at, edge }) => ({ at, edge, half: half(at) }))
    .filter(
      (s) =>
        !gaps.some(
          (g) =>
            g.edge === s.edge && between(s.edge === 'top' || s.edge === 'bottom' ? s.at[0] : s.at[1], g.from, g.to),
        ),
    );
}

const between = (v: number, a: number, b: number) => v >= Math.min(a, b) && v <= Math.max(a, b);
