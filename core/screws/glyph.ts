import type { Drive } from '../anatomy/index.ts';

function star(points: number, outer: number, inner: number): string {
  const path: string[] = [];
  for (let i = 0; i < points * 2; i++) {
    const r = i % 2 ? inner : outer;
    const a = (Math.PI * i) / points - Math.PI / 2;
    path.push(`${(r * Math.cos(a)).toFixed(3)},${(r * Math.sin(a)).toFixed(3)}`);
  }
  return `M${path.join('L')}Z`;
}

/** The recess of a screw head in plan view as an SVG path, for a head of radius 1: told apart by shape, not colour. */
export function recessPath(drive: Drive): string {
  if (drive.startsWith('PH')) return 'M-.62-.16h.46v-.46h.32v.46h.46v.32h-.46v.46h-.32v-.46h-.46Z';
  if (drive.startsWith('SL')) return 'M-.75-.14h1.5v.28h-1.5Z';
  if (drive.startsWith('Y')) return star(3, 0.72, 0.16);
  if (drive.startsWith('P')) return star(5, 0.66, 0.34);
  if (drive.startsWith('IP')) return `${star(6, 0.66, 0.36)}M.12 0a.12.12 0 1 0-.24 0a.12.12 0 1 0 .24 0`;
  if (drive.startsWith('T')) return star(6, 0.66, 0.38);
  if (drive.startsWith('H')) return 'M-.6-.35L0-.69L.6-.35V.35L0 .69L-.6.35Z';
  return 'M-.3-.3h.6v.6h-.6Z';
}
