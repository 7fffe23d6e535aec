export { Conduction, checkBlock, uniformBlock, uniformSurface, type Block, type Surface, type Surfaces } from './solver.ts';
