/*
 * What must be there and nobody has seen. It stands in an anatomy under names of its own until a later dive, or the drawing
 * board, says better.
 */

/** Parts of every learnt device that never leave it: the frame, and all that was left where it was. */
export const FRAME = 'body-frame';
export const REST = 'all-that-stayed';
/** Stand in for the battery and its plug. */
export const UNSEEN_BATTERY = 'battery-unseen';
export const UNSEEN_PLUG = 'battery-plug-unseen';
/** Their layer: deeper than anything that was reached. */
export const DEEP_DOWN = 40;

/** What a part that only ever hung open hangs on. */
export const unseenFlexOf = (part: string): string => `${part}-flex-unseen`;
/** What screws hold on the underside of a part from which nothing was taken off. */
export const keptOn = (part: string): string => `${part}-kept-unseen`;
/** What catches of the device held that was not taken off. */
export const CAUGHT = keptOn(REST);

/** Does an id stand for something that must be there, and that nobody has seen? */
export const isUnseen = (id: string): boolean =>
  id === UNSEEN_BATTERY || id === UNSEEN_PLUG || id.endsWith('-flex-unseen') || id.endsWith('-kept-unseen');
