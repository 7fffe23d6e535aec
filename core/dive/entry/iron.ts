import { rule } from '../graph/reasons.ts';
import type { IronWork } from '../house/connectorKinds.ts';
import type { Phase } from '../types.ts';
import { draft, type Draft } from './draft.ts';

/** R24: what the iron goes to is wetted with flux first, soldered or unsoldered. */
export const fluxed = (id: string, phase: Phase, iron: IronWork): Draft =>
  draft(phase, 'flux', [id], {
    seconds: iron.flux,
    because: [rule('R24')],
    cautions: ['solder'],
    hint: [{ code: 'flux-pads' }],
  });
