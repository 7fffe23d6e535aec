import type { Outline, Point } from '../../../core/anatomy/index.ts';
import { fine } from './snapping.ts';

/** The outline after one of its grips was drawn to a place. */
export function gripped(outline: Outline, grip: string, [px, py]: Point): Outline {
  if ('circle' in outline) {
    const [x, y] = outline.circle;
    return { circle: [x, y, Math.max(0.2, fine(Math.hypot(px - x, py - y)))] };
  }
  if ('polygon' in outline)
    return { polygon: outline.polygon.map((p, i): Point => (`p${i}` === grip ? [fine(px), fine(py)] : p)) };
  const [x, y, w, h] = outline.rect;
  let [x0, y0, x1, y1] = [x, y, x + w, y + h];
  if (grip.includes('w')) x0 = Math.min(px, x1 - 0.2);
  if (grip.includes('e')) x1 = Math.max(px, x0 + 0.2);
  if (grip.includes('n')) y0 = Math.min(py, y1 - 0.2);
  if (grip.includes('s')) y1 = Math.max(py, y0 + 0.2);
  return { ...outline, rect: [fine(x0), fine(y0), fine(x1 - x0), fine(y1 - y0)] };
}
