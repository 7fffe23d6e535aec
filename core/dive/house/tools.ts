import { DRIVES, type Drive } from '../../anatomy/index.ts';

export interface Tool {
  id: string;
  conductive: boolean;
  /** A screwdriver: the one conductive tool allowed inside a live device (A5). */
  driver: boolean;
}

/** All but the drivers, in the order of a bench drawer. */
const HAND_TOOLS = [
  { id: 'spudger', conductive: false, driver: false },
  { id: 'pick', conductive: false, driver: false },
  { id: 'eject-pin', conductive: true, driver: false },
  { id: 'suction-cup', conductive: false, driver: false },
  { id: 'cup-clamp', conductive: false, driver: false },
  { id: 'thin-blade', conductive: true, driver: false },
  { id: 'mat', conductive: false, driver: false },
  { id: 'pad', conductive: false, driver: false },
  { id: 'gun', conductive: false, driver: false },
  { id: 'gel-pack', conductive: false, driver: false },
  { id: 'dryer', conductive: false, driver: false },
  { id: 'solvent-dropper', conductive: false, driver: false },
  { id: 'tweezers', conductive: false, driver: false },
  { id: 'soldering-iron', conductive: true, driver: false },
  { id: 'wipes', conductive: false, driver: false },
  { id: 'clips', conductive: false, driver: false },
  { id: 'weight', conductive: false, driver: false },
  { id: 'cover-tape', conductive: false, driver: false },
  { id: 'film', conductive: false, driver: false },
  { id: 'camera', conductive: false, driver: false },
  { id: 'leak-tester', conductive: false, driver: false },
  { id: 'screw-extractor', conductive: true, driver: true },
] as const satisfies readonly Tool[];
export type HandTool = (typeof HAND_TOOLS)[number]['id'];

export function driverFor(drive: Drive): string {
  return drive === 'none' ? 'spudger' : `driver-${drive}`;
}

const TOOLS = new Map<string, Tool>([
  ...HAND_TOOLS.map((tool): [string, Tool] => [tool.id, tool]),
  ...DRIVES.filter((drive) => drive !== 'none').map((drive): [string, Tool] => [
    `driver-${drive}`,
    { id: `driver-${drive}`, conductive: true, driver: true },
  ]),
]);

/** Every tool a plan may ask for, in the order of a bench drawer. */
export const ALL_TOOLS: readonly Tool[] = [...TOOLS.values()];

/** @throws Error for an id that no step uses */
export function toolOf(id: string): Tool {
  const tool = TOOLS.get(id);
  if (!tool) throw new Error(`there is no tool "${id}"`);
  return tool;
}
