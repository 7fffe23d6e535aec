/** What heat meets in a device. Conductivities in W/m·K, density in kg/m³, specific heat in J/kg·K. */
export interface Material {
  name: string;
  /** In the plane of the device, and through its thickness. */
  inPlane: number;
  through: number;
  density: number;
  specificHeat: number;
  source: string;
}

/**
 * The one home of material values. What stands for a mixture (panel, cell, board, module) is an effective value of
 * the whole, own estimate from its constituents: copper, graphite and foils lie in the plane and carry heat there.
 */
export const MATERIALS = {
  glass: {
    name: 'cover glass',
    inPlane: 1.1,
    through: 1.1,
    density: 2500,
    specificHeat: 800,
    source: 'soda-lime to alumino-silicate glass, 1.0 to 1.4 W/m·K: Incropera & DeWitt, App. A (from memory)',
  },
  aluminium: {
    name: 'aluminium alloy',
    inPlane: 168,
    through: 168,
    density: 2790,
    specificHeat: 883,
    source: 'alloy 195, 168 to 177 W/m·K: Incropera & DeWitt, App. A (from memory)',
  },
  plastic: {
    name: 'filled polycarbonate',
    inPlane: 0.25,
    through: 0.25,
    density: 1200,
    specificHeat: 1500,
    source: 'own estimate, typical of data sheets',
  },
  air: {
    name: 'air in a gap',
    inPlane: 0.0263,
    through: 0.0263,
    density: 1.16,
    specificHeat: 1007,
    source: 'air at 300 K: Incropera & DeWitt, App. A (from memory)',
  },
  room: {
    name: 'air among small parts',
    inPlane: 0.06,
    through: 0.06,
    density: 200,
    specificHeat: 1000,
    source: 'own estimate: air bridged by flexes, screws and radiation',
  },
  adhesive: {
    name: 'foam or film adhesive',
    inPlane: 0.2,
    through: 0.2,
    density: 1050,
    specificHeat: 1500,
    source: 'own estimate, typical of data sheets',
  },
  panel: {
    name: 'panel with its graphite sheet',
    inPlane: 12,
    through: 0.5,
    density: 2300,
    specificHeat: 850,
    source: 'own estimate: glass or polymer with 25 µm of graphite at 1000 W/m·K',
  },
  cell: {
    name: 'lithium cell',
    inPlane: 25,
    through: 0.9,
    density: 2500,
    specificHeat: 1000,
    source:
      'wound or stacked pouch cells, in the plane 20 to 30 and through it ' +
      '0.5 to 1.5 W/m·K: own estimate from published ranges, from memory',
  },
  board: {
    name: 'populated board under its lids',
    inPlane: 12,
    through: 0.4,
    density: 1500,
    specificHeat: 1000,
    source: 'own estimate: four to ten copper planes, lids and the air beneath them',
  },
  module: {
    name: 'small module',
    inPlane: 0.6,
    through: 0.3,
    density: 1400,
    specificHeat: 1000,
    source: 'own estimate: plastic, magnets and metal',
  },
} as const satisfies Record<string, Material>;

export type MaterialId = keyof typeof MATERIALS;

/** Heat capacity by volume, J/m³·K. */
export function capacityOf({ density, specificHeat }: Material): number {
  return density * specificHeat;
}

/** Metres squared per second. */
export function thermalDiffusivity(material: Material, direction: 'inPlane' | 'through' = 'through'): number {
  return material[direction] / capacityOf(material);
}
