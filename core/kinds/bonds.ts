import { table, type KindOf } from '../format/index.ts';

/** What holds for every bond of a kind, in any device and any shop. */
export interface BondFacts {
  /** What it is called, since a bond has no name of its own. */
  called: string;
  /** It is let go by its tabs, and says where they are gripped; no pick goes in. */
  tabs: 'strips' | 'pouch' | null;
  /** It parts with its part and joins with it, and no step does either: paste. */
  byItself: boolean;
  /** It is stuck over what it joins: peeled off before its part is lifted, laid after it lies. */
  over: boolean;
  /** It sets as soon as it is laid, so that it is laid only when its part goes down. */
  setsAtOnce: boolean;
  /** The new one comes with liners, which are taken off last. */
  lined: boolean;
  /** How the new one takes hold: by wetting under a load, by a cure, by being held shut, or by a hand's press. */
  takes: 'wetting' | 'cure' | 'shut' | 'hand';
  /** Laid round a rim it keeps water out, and asks for a load or a cure. */
  seals: boolean;
  /** It holds by sticking, and what it held comes away by force, heat or solvent alone. */
  sticks: boolean;
  /** What has once been parted does not stick again. */
  spent: boolean;
  /** It may be pressed by screws or catches instead of sticking: lifted off and laid back. */
  pressed: boolean;
  /** The house rule of seals says what it is laid as: die-cut, in strips, or liquid. */
  byHouse: boolean;
  /** N/mm² that it asks for over its area, new. */
  pressure: number;
  /** s that a centimetre of the old takes to come off. */
  scrape: number;
  /** What the new one costs. */
  price: string;
}

/** Only the exceptions are said at each kind. */
const HOLDS: Omit<BondFacts, 'called' | 'pressure' | 'scrape' | 'price'> = {
  tabs: null,
  byItself: false,
  over: false,
  setsAtOnce: false,
  lined: false,
  takes: 'hand',
  seals: false,
  sticks: true,
  spent: false,
  pressed: false,
  byHouse: false,
};

/**
 * Kinds of bonds. A new kind is one entry here, one in the planner's table (`core/dive/house/bondKinds.ts`) and its words.
 *
 * Pressure: tape 1 kgf/cm², which sheets of pressure-sensitive tapes ask for, and which 32 kg on a bonded tablet display come to
 * (common practice); glue and gasket only have to be held shut; these are own estimates. Scraping: own bench estimates; tape rolls
 * off with a thumb and alcohol, hardened glue is scraped, strips leave next to nothing. Prices: own estimates, to be set by the shop.
 */
export const BONDS = table<BondFacts>('bond')({
  tape: {
    ...HOLDS,
    called: 'adhesive tape',
    takes: 'wetting',
    lined: true,
    seals: true,
    spent: true,
    byHouse: true,
    pressure: 0.0980665,
    scrape: 1.5,
    price: '2.40',
  },
  'stretch-tab': {
    ...HOLDS,
    called: 'stretch-release strips',
    tabs: 'strips',
    lined: true,
    pressure: 0.05,
    scrape: 0.3,
    price: '1.80',
  },
  'pull-pouch': {
    ...HOLDS,
    called: 'pull pouch',
    tabs: 'pouch',
    lined: true,
    pressure: 0.05,
    scrape: 0.3,
    price: '2.20',
  },
  glue: {
    ...HOLDS,
    called: 'glue',
    takes: 'cure',
    setsAtOnce: true,
    seals: true,
    spent: true,
    pressure: 0.02,
    scrape: 3,
    price: '1.50',
  },
  gasket: {
    ...HOLDS,
    called: 'gasket',
    takes: 'shut',
    sticks: false,
    seals: true,
    pressed: true,
    pressure: 0.03,
    scrape: 1.5,
    price: '3.00',
  },
  thermal: {
    ...HOLDS,
    called: 'thermal paste',
    sticks: false,
    byItself: true,
    setsAtOnce: true,
    pressure: 0.02,
    scrape: 1,
    price: '0.90',
  },
  foil: { ...HOLDS, called: 'foil', sticks: false, over: true, pressure: 0.02, scrape: 0.3, price: '1.20' },
});
export type BondKind = KindOf<typeof BONDS>;

/** What the house lays in the place of what the maker used. */
export const laidAs = (kind: BondKind, seal: string): BondKind =>
  seal === 'liquid-glue' && BONDS.of(kind).byHouse ? 'glue' : kind;
