import sharp from 'sharp';
import {
  boundsOf,
  centreOf,
  outlineHolds,
  ringOf,
  type Fastener,
  type Model,
  type Part,
  type Point,
} from '../core/anatomy/index.ts';
import { recessPath } from '../core/screws/index.ts';
import { seededDraw, type Draw } from './synthetic.ts';

/**
 * Photographs of the made-up devices as a camera over the bench would take them, for rehearsing what is done with
 * photographs. It knows nothing of how a photograph is measured: a pinhole, its own arithmetic, and the anatomy.
 */
export interface PhotographAsked {
  model: Model;
  face: 'front' | 'back';
  /** Layers from the surface that are off. */
  opened: number;
  seed: number;
  /** Longest side, px. */
  side?: number;
  /** Camera over the rim of the body, mm. */
  height?: number;
  /** Tilt, degrees, and the way of it. */
  tilt?: number;
  towards?: number;
  /** 0 is a good photograph, 1 a bad one: light, gloss, blur, grain and compression. */
  harshness?: number;
  /** Share of the screws that are out already, their holes empty. */
  out?: number;
}

export interface Photograph {
  jpeg: Buffer;
  width: number;
  height: number;
  /** Where a place of the body, seen from the front, lies in the picture, px; depth in mm below the rim. */
  project: (mm: Point, depth?: number) => Point;
  /** What is to be found, with its depth below the rim, mm. */
  screws: { id: string; at: Point; diameter: number; depth: number }[];
  holes: { id: string; at: Point; diameter: number; depth: number }[];
  /** The four edges of the body in the picture, from corner to corner: top, right, bottom, left. */
  edges: [[Point, Point], [Point, Point], [Point, Point], [Point, Point]];
}

/** Depth of a layer below the rim, mm. Origin: own choice; covers and brackets are some tenths thick. */
const LAYER_MM = 0.35;

const FILLS: Partial<Record<Part['kind'], [string, string]>> = {
  board: ['#1d4a37', '#123427'],
  battery: ['#2b2d31', '#1c1d20'],
  bracket: ['#a9adb0', '#8a8f93'],
  shield: ['#b9bcbd', '#94999b'],
  plate: ['#9fa3a6', '#7f8588'],
  camera: ['#24262a', '#15161a'],
  speaker: ['#33363a', '#232528'],
  display: ['#141619', '#0b0c0e'],
  cover: ['#3a3d41', '#2a2c2f'],
  frame: ['#73787c', '#585d61'],
  coil: ['#54412c', '#3a2d1f'],
  antenna: ['#8d7350', '#6a5639'],
  flex: ['#8a6420', '#6a4c18'],
  motor: ['#9a9d9f', '#6d7174'],
};

/** The parts that are still in, deepest first. */
function partsIn({ model, face, opened }: PhotographAsked): Part[] {
  return model.anatomy.parts
    .filter((p) => !p.fixed && p.within === null && p.face === face && p.layer >= opened)
    .sort((a, b) => b.layer - a.layer);
}

const pathOf = (ring: readonly (readonly number[])[]): string =>
  `M${ring.map(([x, y]) => `${x!.toFixed(3)} ${y!.toFixed(3)}`).join('L')}Z`;

/** A board is full of small things that are no screws. */
function clutter(part: Part, draw: Draw): string {
  const [x, y, w, h] = boundsOf(part.outline);
  const out: string[] = [];
  const real = (low: number, high: number) => low + ((high - low) * draw(1000)) / 1000;
  const count = Math.min(240, Math.round(w * h * (part.kind === 'board' ? 0.09 : 0.004)));
  for (let i = 0; i < count; i++) {
    const [cw, ch] = draw(6) === 0 ? [real(2, 7), real(2, 7)] : [real(0.4, 1.6), real(0.3, 0.9)];
    if (w < cw + 1 || h < ch + 1) continue;
    const fill = ['#0d0f10', '#b9a98a', '#c9c9c4', '#5b4a2c', '#22262a', '#8e8f88'][draw(6)]!;
    const [cx, cy] = [real(x, x + w - cw), real(y, y + h - ch)];
    if (!outlineHolds(part.outline, [cx, cy]) || !outlineHolds(part.outline, [cx + cw, cy + ch])) continue;
    out.push(`<rect x="${cx}" y="${cy}" width="${cw}" height="${ch}" fill="${fill}"/>`);
  }
  // Round things that are no screws: test points, small coils.
  for (let i = 0; i < count / 30; i++) {
    const at: Point = [real(x + 1, x + w - 1), real(y + 1, y + h - 1)];
    if (!outlineHolds(part.outline, at)) continue;
    out.push(`<circle cx="${at[0]}" cy="${at[1]}" r="${real(0.2, 0.45)}" fill="#c7a14a"/>`);
  }
  return out.join('');
}

/** A soft shadow to the lower right: the shape many times, farther and fainter. */
const shadow = (open: string, reach: number, steps = 3): string =>
  Array.from({ length: steps }, (_, i) => (i + 1) / steps)
    .map(
      (k) =>
        `${open} transform="translate(${0.8 * k * reach} ${1.2 * k * reach})" fill="#000" opacity="${(0.5 / steps).toFixed(3)}"/>`,
    )
    .join('');

function drawnPart(part: Part, place: (p: Point) => Point, draw: Draw): string {
  const [light, dark] = FILLS[part.kind] ?? ['#4b4f52', '#35383b'];
  const d = pathOf(ringOf(part.outline).map((p) => place(p as Point)));
  const [cx, cy] = place(centreOf(part.outline));
  const [, , w, h] = boundsOf(part.outline);
  const extra: string[] = [];
  if (part.kind === 'board') extra.push(clutter(part, draw));
  if (part.kind === 'battery')
    for (let i = 0; i < 7; i++)
      extra.push(
        `<rect x="${cx - w * 0.3}" y="${cy - h * 0.3 + i * 2.1}" width="${w * (0.2 + 0.05 * draw(8))}" height=".55" fill="#c8c8c2" opacity=".75"/>`,
      );
  if (part.kind === 'camera') {
    const r = Math.min(w, h) * 0.36;
    extra.push(
      `<circle cx="${cx}" cy="${cy}" r="${r}" fill="#0a0b0d" stroke="#4c5056" stroke-width=".5"/>` +
        `<circle cx="${cx}" cy="${cy}" r="${r * 0.55}" fill="#121a2c"/><circle cx="${cx - r * 0.2}" cy="${cy - r * 0.2}" r="${r * 0.14}" fill="#5d6f96"/>`,
    );
  }
  if (part.kind === 'shield' || part.kind === 'bracket' || part.kind === 'plate')
    for (let i = 0; i < h; i += 1.1)
      extra.push(
        `<rect x="${cx - w / 2}" y="${cy - h / 2 + i}" width="${w}" height=".3" fill="#fff" opacity="${0.02 + draw(6) / 150}"/>`,
      );
  const foil =
    draw(3) === 0 && (part.kind === 'shield' || part.kind === 'board')
      ? `<rect x="${cx - w * 0.3}" y="${cy - h * 0.12}" width="${w * 0.4}" height="${h * 0.2}" fill="${draw(2) ? '#b0703c' : '#17181a'}"/>`
      : '';
  return (
    shadow(`<path d="${d}"`, 0.4) +
    `<linearGradient id="fill-${part.id}" x2="1" y2="1"><stop stop-color="${light}"/><stop offset="1" stop-color="${dark}"/></linearGradient>` +
    `<path d="${d}" fill="url(#fill-${part.id})" stroke="#000" stroke-opacity=".45" stroke-width=".12"/>` +
    `${extra.join('')}${foil}`
  );
}

function drawnScrew(f: Fastener, [x, y]: Point, k: number, draw: Draw): string {
  const r = (f.head / 2) * k;
  const metal =
    f.colour === 'black'
      ? ['#4a4c4f', '#1d1e20']
      : f.colour === 'yellow'
        ? ['#dcc98a', '#8c743a']
        : ['#e3e5e6', '#8d9194'];
  const turn = draw(360);
  return (
    shadow(`<circle cx="${x}" cy="${y}" r="${r * 1.04}"`, 0.16) +
    `<radialGradient id="head-${f.id}" cx=".38" cy=".34" r=".75"><stop stop-color="${metal[0]}"/><stop offset="1" stop-color="${metal[1]}"/></radialGradient>` +
    `<circle cx="${x}" cy="${y}" r="${r}" fill="url(#head-${f.id})" stroke="#000" stroke-opacity=".5" stroke-width="${0.05 * k}"/>` +
    `<g transform="translate(${x} ${y}) rotate(${turn}) scale(${r})"><path d="${recessPath(f.drive)}" fill="#08090a" fill-opacity=".86" fill-rule="evenodd"/></g>`
  );
}

function drawnHole(f: Fastener, [x, y]: Point, k: number): string {
  const r = (f.thread / 2) * k;
  return (
    `<circle cx="${x}" cy="${y}" r="${r * 1.5}" fill="#9a8a5a" stroke="#000" stroke-opacity=".4" stroke-width=".06"/>` +
    `<circle cx="${x}" cy="${y}" r="${r}" fill="#060606"/>`
  );
}

interface Scene {
  svg: string;
  screws: Photograph['screws'];
  holes: Photograph['holes'];
}

/** Around the body, mm of bench mat. */
const MARGIN = 45;

function scene(asked: PhotographAsked, foot: Point, height: number, pxPerMm: number): Scene {
  const { model, face, opened, seed, out = 0 } = asked;
  const { body } = model.anatomy;
  const draw = seededDraw(seed * 7919 + 13);
  const depthOf = (layer: number) => Math.max(0.2, (layer - opened + 1) * LAYER_MM);
  // What lies deeper is seen smaller, towards the foot of the camera.
  const shrink = (depth: number) => height / (height + depth);
  const placed =
    (depth: number) =>
    ([x, y]: Point): Point => [foot[0] + (x - foot[0]) * shrink(depth), foot[1] + (y - foot[1]) * shrink(depth)];
  const parts = partsIn(asked);
  const shapes: string[] = [];
  for (const part of parts) shapes.push(drawnPart(part, placed(depthOf(part.layer)), draw));
  const covered = (at: Point, layer: number): boolean =>
    parts.some((p) => {
      if (p.layer >= layer) return false;
      const [x, y, w, h] = boundsOf(p.outline);
      return at[0] > x - 0.6 && at[0] < x + w + 0.6 && at[1] > y - 0.6 && at[1] < y + h + 0.6;
    });
  for (const c of model.anatomy.connectors) {
    if (!c.route || c.face !== face || covered(c.at, model.layerOf(c.id))) continue;
    const at = c.route.line.map(placed(depthOf(model.layerOf(c.id))));
    shapes.push(
      `<polyline points="${at.map((p) => p.join(',')).join(' ')}" fill="none" stroke="#a8741f" stroke-width="${Math.min(6, c.route.width)}" opacity=".95"/>`,
    );
  }
  for (const c of model.anatomy.connectors) {
    if (c.kind === 'contact' || c.face !== face || model.contextOf(c.id) !== null) continue;
    if (covered(c.at, model.layerOf(c.id)) || model.layerOf(c.id) < opened) continue;
    const [x, y] = placed(depthOf(model.layerOf(c.id)))(c.at);
    const [w, h] = c.size;
    shapes.push(
      `<rect x="${x - w / 2}" y="${y - h / 2}" width="${w}" height="${h}" rx=".3" fill="#15171a" stroke="#70757a" stroke-width=".18"/>` +
        `<rect x="${x - w * 0.38}" y="${y - h * 0.22}" width="${w * 0.76}" height="${h * 0.44}" fill="#c2a464" opacity=".7"/>`,
    );
  }
  const screws: Photograph['screws'] = [];
  const holes: Photograph['holes'] = [];
  for (const f of model.anatomy.fasteners) {
    if (f.face !== face || f.kind === 'clip' || f.drive === 'none' || model.contextOf(f.id) !== null) continue;
    const layer = Math.min(model.layerOf(f.id), 40);
    if (layer > 30 || covered(f.at, layer)) continue;
    const gone = layer < opened;
    const depth = gone ? depthOf(Math.max(opened, layer + 1)) : Math.max(0.1, depthOf(layer) - LAYER_MM);
    const at = placed(depth)(f.at);
    if (gone || draw(1000) < out * 1000) {
      // Something that is still in may lie over the hole that a screw of a removed part has left.
      shapes.push(drawnHole(f, at, shrink(depth)));
      holes.push({ id: f.id, at: f.at, diameter: f.thread, depth });
    } else {
      shapes.push(drawnScrew(f, at, shrink(depth), draw));
      screws.push({ id: f.id, at: f.at, diameter: f.head, depth });
    }
  }
  const [W, H] = [body.width + 2 * MARGIN, body.height + 2 * MARGIN];
  const mat = [`#5c7f8f`, '#6a6f66', '#a7a398', '#3f5a4a'][seed % 4]!;
  const rings: string[] = [];
  for (let i = -MARGIN; i < body.width + MARGIN; i += 10)
    rings.push(
      `<path d="M${i} ${-MARGIN}V${body.height + MARGIN}" stroke="#fff" stroke-opacity=".12" stroke-width=".25"/>`,
    );
  for (let i = -MARGIN; i < body.height + MARGIN; i += 10)
    rings.push(
      `<path d="M${-MARGIN} ${i}H${body.width + MARGIN}" stroke="#fff" stroke-opacity=".12" stroke-width=".25"/>`,
    );
  const rim = `x="0" y="0" width="${body.width}" height="${body.height}" rx="${body.cornerRadius}"`;
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${-MARGIN} ${-MARGIN} ${W} ${H}" width="${Math.round(W * pxPerMm)}" height="${Math.round(H * pxPerMm)}">` +
    `<rect x="${-MARGIN}" y="${-MARGIN}" width="${W}" height="${H}" fill="${mat}"/>${rings.join('')}` +
    `${shadow(`<rect ${rim}`, 1.2, 12)}<rect ${rim} fill="#8c9195"/><rect x="1.1" y="1.1" width="${body.width - 2.2}" height="${body.height - 2.2}" rx="${Math.max(0, body.cornerRadius - 1.1)}" fill="#43474b"/>` +
    `${shapes.join('')}</svg>`;
  return { svg, screws, holes };
}

type Matrix = [number, number, number, number, number, number, number, number, number];

/** Takes the photograph. */
export async function photograph(asked: PhotographAsked): Promise<Photograph> {
  const { model, face, seed, side = 2000, height = 300, tilt = 0, towards = 0, harshness = 0.3 } = asked;
  const { body } = model.anatomy;
  const draw = seededDraw(seed * 104729 + 7);
  const real = (low: number, high: number) => low + ((high - low) * draw(10_000)) / 10_000;
  const lying = body.width > body.height;
  const [width, tall] = lying ? [side, Math.round(side * 0.75)] : [Math.round(side * 0.75), side];
  // Camera axes over the middle of the body: tilted about an axis in the plane, then rolled a little.
  const [a, t] = [(towards * Math.PI) / 180, (tilt * Math.PI) / 180];
  const roll = (real(-3, 3) * Math.PI) / 180;
  const mirror = face === 'back' ? -1 : 1;
  const middle: Point = [body.width / 2 + real(-4, 4), body.height / 2 + real(-4, 4)];
  const distance = height / Math.cos(t);
  const [ux, uy] = [Math.cos(a), Math.sin(a)];
  // The camera stands where its axis, tilted towards (ux, uy), meets the middle.
  const foot: Point = [middle[0] - mirror * height * Math.tan(t) * ux, middle[1] - height * Math.tan(t) * uy];
  // Seen coordinates: x mirrored for the back.
  const turned = (x: number, y: number, z: number): [number, number, number] => {
    const along = x * ux + y * uy;
    const beside = -x * uy + y * ux;
    const far = along * Math.cos(t) - z * Math.sin(t);
    const deep = along * Math.sin(t) + z * Math.cos(t);
    const [rx, ry] = [far * ux - beside * uy, far * uy + beside * ux];
    return [rx * Math.cos(roll) - ry * Math.sin(roll), rx * Math.sin(roll) + ry * Math.cos(roll), deep];
  };
  const fill = 0.84 * Math.min(tall / body.height, width / body.width);
  const focal = fill * distance;
  const project = ([x, y]: Point, depth = 0): Point => {
    const [cx, cy, cz] = turned(mirror * (x - foot[0]), y - foot[1], height + depth);
    return [width / 2 + (focal * cx) / cz, tall / 2 + (focal * cy) / cz];
  };
  const pxPerMm = Math.min(22, Math.max(10, fill * 1.3));
  const { svg, screws, holes } = scene(asked, foot, height, pxPerMm);
  const flat = await sharp(Buffer.from(svg), { limitInputPixels: false, unlimited: true })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  // From px of the picture to px of the scene: the inverse of the projection of the plane.
  const plane = planeToPicture(project);
  const back = inverted(plane);
  const out = new Uint8Array(width * tall * 3);
  const { data, info } = flat;
  const light: Point = [real(0.1, 0.9), real(0.1, 0.9)];
  const uneven = 0.15 + 0.45 * harshness;
  const gloss = Array.from({ length: Math.round(1 + 3 * harshness) }, () => [
    real(0, width),
    real(0, tall),
    real(0.03, 0.1) * side,
    real(20, 40 + 70 * harshness),
  ]) as [number, number, number, number][];
  const grain = 1.5 + 7 * harshness;
  for (let y = 0; y < tall; y++)
    for (let x = 0; x < width; x++) {
      const w = back[6] * (x + 0.5) + back[7] * (y + 0.5) + back[8];
      const mx = (back[0] * (x + 0.5) + back[1] * (y + 0.5) + back[2]) / w;
      const my = (back[3] * (x + 0.5) + back[4] * (y + 0.5) + back[5]) / w;
      const sx = Math.min(info.width - 1.01, Math.max(0, (mx + MARGIN) * pxPerMm - 0.5));
      const sy = Math.min(info.height - 1.01, Math.max(0, (my + MARGIN) * pxPerMm - 0.5));
      const [ix, iy] = [sx | 0, sy | 0];
      const [u, v] = [sx - ix, sy - iy];
      const at = (iy * info.width + ix) * 3;
      const below = at + info.width * 3;
      const away = Math.hypot(x / width - light[0], y / tall - light[1]);
      const shade = 1.12 - uneven * away;
      let shine = 0;
      for (const [gx, gy, gr, gs] of gloss) {
        const d = ((x - gx) ** 2 + (y - gy) ** 2) / (gr * gr);
        if (d < 6) shine += gs * Math.exp(-d);
      }
      const noise = ((draw(1024) + draw(1024) + draw(1024)) / 1536 - 1) * grain * 1.7;
      const to = (y * width + x) * 3;
      for (let c = 0; c < 3; c++) {
        const value =
          (data[at + c]! * (1 - u) + data[at + 3 + c]! * u) * (1 - v) +
          (data[below + c]! * (1 - u) + data[below + 3 + c]! * u) * v;
        out[to + c] = Math.min(255, Math.max(0, value * shade + shine + noise));
      }
    }
  let image = sharp(out, { raw: { width, height: tall, channels: 3 } });
  const blur = 0.35 + 0.9 * harshness;
  if (blur > 0.4) image = image.blur(blur);
  const jpeg = await image.jpeg({ quality: Math.round(94 - 30 * harshness) }).toBuffer();
  const corner = (x: number, y: number) => project([x, y]);
  const [left, right] = face === 'back' ? [body.width, 0] : [0, body.width];
  const [tl, tr, br, bl] = [corner(left, 0), corner(right, 0), corner(right, body.height), corner(left, body.height)];
  return {
    jpeg,
    width,
    height: tall,
    project,
    screws,
    holes,
    edges: [
      [tl, tr],
      [tr, br],
      [bl, br],
      [tl, bl],
    ],
  };
}

/** The projection of the plane as a matrix: its columns are read off the pinhole, which is linear before the division. */
function planeToPicture(project: (mm: Point) => Point): Matrix {
  // A projective map of the plane is fixed by four points; the system is small enough to be solved as it stands.
  const from: Point[] = [
    [0, 0],
    [50, 0],
    [50, 80],
    [0, 80],
  ];
  const rows: number[][] = [];
  for (const [x, y] of from) {
    const [u, v] = project([x, y]);
    rows.push([x, y, 1, 0, 0, 0, -u * x, -u * y, u], [0, 0, 0, x, y, 1, -v * x, -v * y, v]);
  }
  for (let k = 0; k < 8; k++) {
    let pivot = k;
    for (let i = k; i < 8; i++) if (Math.abs(rows[i]![k]!) > Math.abs(rows[pivot]![k]!)) pivot = i;
    [rows[k], rows[pivot]] = [rows[pivot]!, rows[k]!];
    for (let i = 0; i < 8; i++) {
      if (i === k) continue;
      const f = rows[i]![k]! / rows[k]![k]!;
      for (let j = k; j < 9; j++) rows[i]![j]! -= f * rows[k]![j]!;
    }
  }
  return [...rows.map((row, i) => row[8]! / row[i]!), 1] as Matrix;
}

function inverted([a, b, c, d, e, f, g, h, i]: Matrix): Matrix {
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
}
