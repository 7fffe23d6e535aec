export { drawSvg } from './drawSvg.ts';
export { readSvg, SVG_LIMITS, type SvgReading } from './readSvg.ts';
