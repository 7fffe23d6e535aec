export * from './shape.ts';
export { table, type KindOf, type Table } from './table.ts';
export { joiOf, readAs } from './read.ts';
export { boundsOf, choicesOf, isWithin, letteringOf, place } from './look.ts';
export { asOf, completed, laterThan } from './versions.ts';
export { faultsOfJoi, type Fault, type Reading } from './faults.ts';
