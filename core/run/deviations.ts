import { TELLTALE, type CauseKind } from '../diagnosis/index.ts';
import { table, type KindOf } from '../format/index.ts';

/** What an anatomy is made of. */
export type ItemType = 'part' | 'fastener' | 'connector' | 'bond' | 'latch';

/** What holds for one way in which a device is found other than it was drawn. */
export interface DeviationFacts {
  /** What it can be said of, and whether it can be said of the device as a whole. */
  of: readonly ItemType[];
  device: boolean;
  /** Of which cause it tells when a test fails, and how surely; `null`: of none. */
  tells: { kind: CauseKind | null; factor: number } | null;
}

const screw: readonly ItemType[] = ['fastener'];
const tells = (kind: CauseKind | null, factor: number) => ({ kind, factor });

export const DEVIATION_FACTS = table<DeviationFacts>('deviation')({
  stripped: { of: screw, device: false, tells: tells('loose', TELLTALE.hinted) },
  'cross-threaded': { of: screw, device: false, tells: tells('wrong-screw', TELLTALE.hinted) },
  corroded: { of: ['fastener', 'connector', 'part'], device: true, tells: tells('dirty', TELLTALE.recorded) },
  missing: { of: ['fastener', 'part', 'latch', 'bond'], device: false, tells: tells('loose', TELLTALE.hinted) },
  'other-length': { of: screw, device: false, tells: tells('wrong-screw', TELLTALE.recorded) },
  'other-screw': { of: screw, device: false, tells: tells('wrong-screw', TELLTALE.recorded) },
  snapped: { of: ['bond', 'latch'], device: false, tells: null },
  torn: { of: ['connector'], device: false, tells: tells('torn', TELLTALE.recorded) },
  broken: { of: ['part', 'latch', 'connector'], device: false, tells: tells('broken', TELLTALE.recorded) },
  'not-as-drawn': {
    of: ['part', 'fastener', 'connector', 'bond', 'latch'],
    device: true,
    tells: tells(null, TELLTALE.slow),
  },
  'already-replaced': {
    of: ['part', 'bond', 'connector'],
    device: false,
    tells: tells('was-bad-before', TELLTALE.hinted),
  },
  extra: { of: [], device: true, tells: null },
  overheated: { of: ['bond', 'part'], device: true, tells: tells('broken', TELLTALE.hinted) },
});
export type DeviationKind = KindOf<typeof DEVIATION_FACTS>;
export const DEVIATIONS = DEVIATION_FACTS.kinds;
