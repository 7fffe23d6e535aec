import { table } from '../../format/index.ts';
import type { FastenerKind } from '../../kinds/index.ts';
import type { Hint } from '../hints.ts';
import { SECONDS } from './times.ts';

/** What the dive knows of one kind of fastener. A new kind is one entry here, one in `core/kinds`, and its words. */
export interface FastenerWork {
  /** Turned, pulled or sprung, s. */
  seconds: number;
  /** What is said as it comes out. */
  out: readonly Hint[];
}

export const FASTENER_KINDS = table<FastenerWork>('fastener')({
  screw: { seconds: SECONDS.perScrew, out: [] },
  captive: { seconds: SECONDS.perCaptive, out: [{ code: 'captive-stay' }] },
  standoff: { seconds: SECONDS.perStandoff, out: [] },
  clip: { seconds: SECONDS.perClip, out: [{ code: 'clip-flies' }] },
  cap: { seconds: SECONDS.perClip, out: [{ code: 'pulled-out', pulled: 'cap' }] },
  plug: { seconds: SECONDS.perClip, out: [{ code: 'pulled-out', pulled: 'plug' }] },
  'press-fit': { seconds: SECONDS.perClip, out: [{ code: 'pulled-out', pulled: 'press-fit' }] },
} satisfies Record<FastenerKind, FastenerWork>);
