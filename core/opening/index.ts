export * from './clearance.ts';
export * from './cutPlan.ts';
export * from './distance.ts';
export * from './firstGap.ts';
export * from './marks.ts';
export type * from './messages.ts';
export * from './path.ts';
export * from './template.ts';
export * from './underneath.ts';
