import { DRIVES, type Drive } from '../../anatomy/index.ts';
import { TOOLS, type ToolFacts } from '../../kinds/index.ts';

export type { HandTool } from '../../kinds/index.ts';

export interface Tool extends ToolFacts {
  id: string;
}

export function driverFor(drive: Drive): string {
  return drive === 'none' ? 'spudger' : `driver-${drive}`;
}

const KNOWN = new Map<string, Tool>([
  ...TOOLS.entries.map(([id, facts]): [string, Tool] => [id, { id, ...facts }]),
  ...DRIVES.filter((drive) => drive !== 'none').map((drive): [string, Tool] => [
    `driver-${drive}`,
    { id: `driver-${drive}`, conductive: true, driver: true },
  ]),
]);

/** Every tool a plan may ask for, in the order of a bench drawer. */
export const ALL_TOOLS: readonly Tool[] = [...KNOWN.values()];

/** @throws Error for an id that no step uses */
export function toolOf(id: string): Tool {
  const tool = KNOWN.get(id);
  if (!tool) throw new Error(`there is no tool "${id}"`);
  return tool;
}
