import { modelOf, readAnatomyText, type Model } from '../core/anatomy/index.ts';
import { ANATOMIES } from './shop.ts';

/** The made-up devices by id, in the order they are shown. */
export const DEVICES: readonly string[] = Object.keys(ANATOMIES);

/** One of the made-up devices. @throws Error when there is none of that id, or its anatomy has faults */
export function demoModel(id: string): Model {
  const text = ANATOMIES[id];
  if (text === undefined) throw new Error(`there is no made-up device "${id}"; there are ${DEVICES.join(', ')}`);
  const reading = readAnatomyText(text);
  if (!reading.ok) throw new Error(JSON.stringify(reading.faults));
  return modelOf(reading.value);
}
