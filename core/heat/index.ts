export * from './limits.ts';
export * from './materials.ts';
export * from './simulate.ts';
export * from './solver.ts';
export * from './sources.ts';
export * from './stack.ts';
