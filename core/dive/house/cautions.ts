export const CAUTIONS = {
  lithium:
    'Lithium cell: do not bend, pierce or overheat it. Swelling, hissing or ' +
    'smoke: stop, step back, sand not water, and follow your local fire rules.',
  'charged-lithium':
    'The cell may be full: a full cell burns fiercely when it is pierced, bent or overheated. ' +
    'Eye protection, gloves, a bucket of dry sand beside you, and no metal near it.',
  glass: 'Glass may shatter: wear eye protection, keep clear tape on cracks, sweep shards before going on.',
  hot: 'Hot surfaces: hold by the edges and let nothing rest on the heat source. Temperatures here are typical settings, not a guarantee.',
  solvent: 'Solvent vapour burns: air the bench, and no heat, flame or sparks while it is wet.',
  static: 'Static kills parts unseen: strap on, jewellery off, on a grounded mat.',
  solder: 'Hot iron and fumes: extract the fumes, isolate the device first, let joints cool.',
  emitter: 'Infrared or laser emitter: never look into it, never power it uncovered.',
  'retained-charge': 'Isolated is not empty: large capacitors keep charge for a while. Keep metal off them.',
  recycling: 'An old cell is hazardous waste: tape its contacts and hand it in by your local rules.',
  moisture: 'The moisture rating is gone once the seal is opened, and is not certified even with a new seal.',
} as const;

export type Caution = keyof typeof CAUTIONS;
