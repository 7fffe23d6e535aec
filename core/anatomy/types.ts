import type { Bond, Connector, Fastener, Latch, Part } from './format.ts';

export type { Fault } from '../format/index.ts';
export type { BondKind, CatchKind, ConnectorKind, FastenerKind } from '../kinds/index.ts';
export * from './format.ts';
export * from './lists.ts';

/**
 * A part that is swung by less uncovers nothing but what says that it is reached that way, degrees. Origin: common
 * practice; a hand with a driver needs about as much.
 */
export const CLEARING_DEGREES = 60;

export type Item =
  | { type: 'part'; item: Part }
  | { type: 'fastener'; item: Fastener }
  | { type: 'connector'; item: Connector }
  | { type: 'bond'; item: Bond }
  | { type: 'latch'; item: Latch };
