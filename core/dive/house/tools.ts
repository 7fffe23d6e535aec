import { DRIVES, type Drive } from '../../anatomy/index.ts';

export interface Tool {
  id: string;
  name: string;
  conductive: boolean;
  /** A screwdriver: the one conductive tool allowed inside a live device (A5). */
  driver: boolean;
}

/** The family of a drive by the letters of its code, and how its size is told. */
const DRIVE_FAMILIES: Record<string, (size: string) => string> = {
  PH: (size) => `PH${size} cross-recess driver`,
  T: (size) => `T${size} hexalobular driver`,
  IP: (size) => `IP${size} hexalobular-plus driver`,
  P: (size) => `P${size} five-lobe driver`,
  Y: (size) => `Y${size} tri-point driver`,
  SL: (size) => `slotted driver, ${size} mm`,
  H: (size) => `standoff driver, ${size} mm`,
};

function driveName(drive: Drive): string {
  const [, family, size] = /^([A-Z]+)([0-9.]+)$/.exec(drive)!;
  return DRIVE_FAMILIES[family!]!(size!);
}

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
  { id: 'leak-tester', name: 'pressure-decay tester', conductive: false, driver: false },
  { id: 'screw-extractor', name: 'screw extractor', conductive: true, driver: true },
];

export function driverFor(drive: Drive): string {
  return drive === 'none' ? 'spudger' : `driver-${drive}`;
}

const TOOLS = new Map<string, Tool>([
  ...HAND_TOOLS.map((tool): [string, Tool] => [tool.id, tool]),
  ...DRIVES.filter((drive) => drive !== 'none').map((drive): [string, Tool] => [
    `driver-${drive}`,
    { id: `driver-${drive}`, name: driveName(drive), conductive: true, driver: true },
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

export function toolName(id: string | null): string {
  return id === null ? 'hands' : toolOf(id).name;
}
