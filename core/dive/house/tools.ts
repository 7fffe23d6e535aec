import type { Drive } from '../../anatomy/index.ts';

export interface Tool {
  id: string;
  name: string;
  conductive: boolean;
  /** A screwdriver: the one conductive tool allowed inside a live device (A5). */
  driver: boolean;
}

const DRIVE_NAMES: Record<Drive, string> = {
  PH000: 'PH000 cross-recess driver',
  PH00: 'PH00 cross-recess driver',
  T3: 'T3 hexalobular driver',
  T4: 'T4 hexalobular driver',
  T5: 'T5 hexalobular driver',
  T6: 'T6 hexalobular driver',
  IP3: 'IP3 hexalobular-plus driver',
  P2: 'P2 five-lobe driver',
  P5: 'P5 five-lobe driver',
  Y000: 'Y000 tri-point driver',
  Y00: 'Y00 tri-point driver',
  SL1: 'slotted driver, 1 mm',
  SL2: 'slotted driver, 2 mm',
  'H1.3': 'standoff driver, 1.3 mm',
  none: 'fingers',
};

const HAND_TOOLS: Tool[] = [
  { id: 'spudger', name: 'plastic spudger', conductive: false, driver: false },
  { id: 'pick', name: 'opening pick', conductive: false, driver: false },
  { id: 'eject-pin', name: 'tray pin', conductive: true, driver: false },
  { id: 'suction-cup', name: 'suction cup', conductive: false, driver: false },
  { id: 'cup-clamp', name: 'clamp with cups', conductive: false, driver: false },
  { id: 'thin-blade', name: 'thin blade', conductive: true, driver: false },
  { id: 'mat', name: 'heat mat', conductive: false, driver: false },
  { id: 'pad', name: 'heating pad', conductive: false, driver: false },
  { id: 'gun', name: 'hot-air gun', conductive: false, driver: false },
  { id: 'gel-pack', name: 'gel heat pack', conductive: false, driver: false },
  { id: 'dryer', name: 'hair dryer', conductive: false, driver: false },
  { id: 'solvent-dropper', name: 'isopropyl alcohol, dropper', conductive: false, driver: false },
  { id: 'tweezers', name: 'blunt plastic tweezers', conductive: false, driver: false },
  { id: 'soldering-iron', name: 'soldering iron', conductive: true, driver: false },
  { id: 'wipes', name: 'lint-free wipes and isopropyl alcohol', conductive: false, driver: false },
  { id: 'clips', name: 'clips or bands', conductive: false, driver: false },
  { id: 'weight', name: 'flat weight', conductive: false, driver: false },
  { id: 'cover-tape', name: 'clear tape', conductive: false, driver: false },
  { id: 'film', name: 'protective film', conductive: false, driver: false },
  { id: 'camera', name: 'camera', conductive: false, driver: false },
  { id: 'screw-extractor', name: 'screw extractor', conductive: true, driver: true },
];

export function driverFor(drive: Drive): string {
  return drive === 'none' ? 'spudger' : `driver-${drive}`;
}

const TOOLS = new Map<string, Tool>([
  ...HAND_TOOLS.map((tool) => [tool.id, tool] as const),
  ...Object.entries(DRIVE_NAMES)
    .filter(([drive]) => drive !== 'none')
    .map(
      ([drive, name]) => [`driver-${drive}`, { id: `driver-${drive}`, name, conductive: true, driver: true }] as const,
    ),
]);

/** Every tool a plan may ask for, in the order of a bench drawer. */
export const ALL_TOOLS: readonly Tool[] = [...TOOLS.values()];

/** @throws Error for an id that no step uses */
export function toolOf(id: string): Tool {
  const tool = TOOLS.get(id);
  if (!tool) throw new Error(`there is no tool "${id}"`);
  return tool;
}

export function toolName(id: string | null): string {
  return id === null ? 'hands' : toolOf(id).name;
}
