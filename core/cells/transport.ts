import { wattHoursOf, type Rating } from './cell.ts';

/**
 * Limits of energy up to which a cell, and a battery of cells, go by the relaxed provisions for small ones, Wh. Source: IATA Dangerous Goods Regulations, packing
 * instructions 965 to 967 (from memory); local rules and the carrier decide.
 */
export const SMALL_CELL = 20;
export const SMALL_BATTERY = 100;
/** Charge at which cells alone are flown at most, %. Source: IATA DGR, packing instruction 965 (from memory). */
export const FLOWN_CHARGE = 30;
/** Charge at which cells are stored, %. Origin: common practice. */
export const STORAGE_CHARGE: readonly [number, number] = [30, 50];

export interface Transport {
  /** Wh of the pack, and of one cell. */
  wattHours: number;
  cellWattHours: number;
  class: 'small' | 'large' | 'damaged';
  /** Alone, packed beside a device, or within it. */
  numbers: { alone: 'UN 3480'; withDevice: 'UN 3481'; within: 'UN 3481' };
  mayGo: string[];
  never: string[];
  source: string;
}

/** What a parcel may carry of a cell, and what it may not. @param damaged hurt, swollen or hot: never ordinary mail */
export function transportOf(rating: Rating, damaged = false): Transport {
  const { pack, cell } = wattHoursOf(rating);
  // The line of cells binds one that is sent as a cell; several joined are a battery, and a battery has its own.
  const single = rating.cells === 1;
  const small = single ? cell <= SMALL_CELL : pack <= SMALL_BATTERY;
  const common = {
    wattHours: pack,
    cellWattHours: cell,
    numbers: { alone: 'UN 3480', withDevice: 'UN 3481', within: 'UN 3481' },
    source: 'IATA DGR, packing instructions 965 to 967, from memory; local rules and the carrier decide',
  } as const;
  if (damaged)
    return {
      ...common,
      class: 'damaged',
      mayGo: ['By road only, by who is licensed for damaged cells, in packing approved for them.'],
      never: ['Never in ordinary mail, never in a parcel, never by air.', 'Never in household waste.'],
    };
  const limits = single
    ? `${cell.toFixed(1)} Wh, ${small ? 'at most' : 'more than'} ${SMALL_CELL} Wh for a cell`
    : `${pack.toFixed(1)} Wh in a battery of ${rating.cells} cells, ${small ? 'at most' : 'more than'} ${SMALL_BATTERY} Wh for a battery`;
  if (!small)
    return {
      ...common,
      class: 'large',
      mayGo: [`${limits}: full dangerous goods, packed and papered by who is trained for it.`],
      never: ['Not in an ordinary parcel.'],
    };
  return {
    ...common,
    class: 'small',
    mayGo: [
      `${limits}: by the relaxed provisions for small ${single ? 'cells' : 'batteries'}, still as UN 3480 alone or UN 3481 with a device.`,
      'Within its device: by mail where the carrier takes it; two batteries a parcel without a mark.',
      'Beside its device: marked, its contacts covered, kept from moving.',
    ],
    never: [
      `Alone by air: not as mail; only as dangerous goods, at no more than ${FLOWN_CHARGE} % charge.`,
      'Loose contacts, or a cell that was hurt: never.',
    ],
  };
}
