import { bondRegion, ringOf, type Anatomy, type Outline, type Point } from '../anatomy/index.ts';

/** mm to at most a thousandth. */
const n = (v: number): string => String(Math.round(v * 1000) / 1000);
const points = (line: readonly Point[]): string => line.map(([x, y]) => `${n(x)},${n(y)}`).join(' ');
const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

function shape(outline: Outline, paint: string): string {
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return `<circle cx="${n(x)}" cy="${n(y)}" r="${n(r)}" ${paint}/>`;
  }
  if ('polygon' in outline) return `<polygon points="${points(outline.polygon)}" ${paint}/>`;
  const [x, y, w, h] = outline.rect;
  const rx = outline.radius ? ` rx="${n(outline.radius)}"` : '';
  return `<rect x="${n(x)}" y="${n(y)}" width="${n(w)}" height="${n(h)}"${rx} ${paint}/>`;
}

const group = (id: string, title: string, inner: string): string =>
  `<g id="${escaped(id)}"><title>${escaped(title)}</title>${inner}</g>`;

/** Groups that are not of one item begin with an underscore, which no id does. */
const LAYER = (face: string, layer: number): string => `_${face}-${layer}`;

/**
 * The drawing of a device at 1:1 as layered SVG: a group for each face and layer, deepest first, in it one group for
 * each item under its own id. What a drawing program changes in them is read by `readSvg`.
 */
export function drawSvg(anatomy: Anatomy): string {
  const { body } = anatomy;
  const layers = new Map<string, { face: string; layer: number; parts: string[] }>();
  for (const p of anatomy.parts) {
    const key = LAYER(p.face, p.layer);
    const at = layers.get(key) ?? { face: p.face, layer: p.layer, parts: [] };
    const fill = p.fixed ? 'fill="none" stroke="#172326"' : 'fill="#bdb894" fill-opacity="0.35" stroke="#172326"';
    at.parts.push(group(p.id, p.name, shape(p.outline, `${fill} stroke-width="0.2"`)));
    layers.set(key, at);
  }
  const ordered = [...layers.entries()].sort(([, a], [, b]) => a.face.localeCompare(b.face) || b.layer - a.layer);
  const parts = ordered.map(([key, { face, layer, parts }]) => group(key, `${face}, layer ${layer}`, parts.join('')));
  const outlineOf = (id: string): Outline => anatomy.parts.find((p) => p.id === id)!.outline;
  const bonds = anatomy.bonds.map((b) => {
    const paint = 'fill="#6f4080" fill-opacity="0.35"';
    const tabs = b.tabs.map(([x, y]) => `<circle cx="${n(x)}" cy="${n(y)}" r="0.8" fill="#6f4080"/>`).join('');
    if ('area' in b.at) return group(b.id, b.kind, shape(b.at.area, paint) + tabs);
    if ('line' in b.at) {
      const line = `<polyline points="${points(b.at.line)}" fill="none" stroke="#6f4080" stroke-opacity="0.5" stroke-width="${n(b.at.width)}"/>`;
      return group(b.id, b.kind, line + tabs);
    }
    // Round a part it follows that part: it is shown, and not read back.
    const rings = (bondRegion(b, outlineOf) as number[][][][]).flat();
    const d = rings.map((ring) => `M${ring.map(([x, y]) => `${n(x!)} ${n(y!)}`).join('L')}Z`).join('');
    return group(b.id, b.kind, `<g id="_${b.id}"><path d="${d}" fill-rule="evenodd" ${paint}/></g>${tabs}`);
  });
  const connectors = anatomy.connectors.map((c) => {
    const [w, h] = c.size;
    const route = c.route
      ? `<polyline points="${points(c.route.line)}" fill="none" stroke="#0b625b" stroke-opacity="0.5" stroke-width="${n(c.route.width)}"/>`
      : '';
    const block = shape({ rect: [c.at[0] - w / 2, c.at[1] - h / 2, w, h] }, 'fill="#0b625b"');
    return group(c.id, c.name, route + block);
  });
  const screws = anatomy.fasteners.map((f) =>
    group(
      f.id,
      `${f.drive} ${f.length ?? '?'} mm`,
      shape({ circle: [f.at[0], f.at[1], f.head / 2] }, 'fill="#d8bd77" stroke="#3d2d05" stroke-width="0.15"'),
    ),
  );
  const rim = `<rect width="${n(body.width)}" height="${n(body.height)}" rx="${n(body.cornerRadius)}" fill="none" stroke="#172326" stroke-width="0.3"/>`;
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" width="${n(body.width)}mm" height="${n(body.height)}mm" viewBox="0 0 ${n(body.width)} ${n(body.height)}">`,
    `<title>${escaped(`${anatomy.maker} ${anatomy.name}`)}</title>`,
    group('_body', 'Body', rim),
    ...parts,
    group('_bonds', 'Bonds', bonds.join('')),
    group('_connectors', 'Connectors', connectors.join('')),
    group('_screws', 'Screws', screws.join('')),
    '</svg>',
    '',
  ].join('\n');
}

/** What the drawing of an item was written as: to tell what a drawing program left alone. */
export const ringOfOutline = (outline: Outline): Point[] => ringOf(outline) as Point[];
