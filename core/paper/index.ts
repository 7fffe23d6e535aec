export * from './sheet.ts';
export { checkBar, pathMark, wordsMark } from './marks.ts';
export { clippedLine, crossMarks, isInside, tileName, tilingOf, type Frame, type Tile, type Tiling } from './tiles.ts';
