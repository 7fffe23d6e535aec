import { functionsOfKind } from './functions.ts';
import type { Anatomy } from './types.ts';

/** Body of a device that nobody has measured, mm. Origin: own choice; only drawn, nothing is computed from it. */
const UNMEASURED: Record<Anatomy['kind'], { width: number; height: number; thickness: number }> = {
  phone: { width: 72, height: 150, thickness: 8 },
  tablet: { width: 170, height: 245, thickness: 7 },
  'keypad-phone': { width: 52, height: 120, thickness: 14 },
};

/** The anatomy of a device that nobody has drawn: its body, what devices of its kind can do, and nothing in it. */
export function blankAnatomy(device: {
  name: string;
  kind: Anatomy['kind'];
  width: number | null;
  height: number | null;
  thickness: number | null;
}): Anatomy {
  const usual = UNMEASURED[device.kind];
  const width = device.width ?? usual.width;
  const height = device.height ?? usual.height;
  return {
    schema: 'nibrel.anatomy/1',
    id: 'unlisted',
    name: device.name,
    maker: '',
    kind: device.kind,
    body: { width, height, thickness: device.thickness ?? usual.thickness, cornerRadius: 0, ingress: null },
    battery: { volts: 3.8, milliampHours: 3000, cells: 1 },
    parts: [],
    fasteners: [],
    connectors: [],
    bonds: [],
    latches: [],
    orders: [],
    mateOrder: [],
    functions: functionsOfKind(device.kind),
    spares: [],
  };
}
