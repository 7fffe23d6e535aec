import type { Connector } from '../../anatomy/index.ts';
import type { Caution } from './cautions.ts';

/** All that the dive knows of one kind of connector. A new kind is one entry here. Times are own bench estimates, s. */
export interface ConnectorKind {
  /** It parts when its part is lifted and closes when it is fitted; no step opens or seats it. */
  byItself: boolean;
  /** It may be worked on an isolated device only. */
  isolatedOnly: boolean;
  tool: string;
  open: { verb: 'disconnect' | 'desolder'; seconds: number; hint: string };
  seat: { verb: 'connect' | 'solder'; seconds: number; hint: string };
  cautions: readonly Caution[];
  /** What work with the iron takes beside the joint itself; `null` for what is no joint. */
  iron: IronWork | null;
}

/** s: wetting, tinning, cooling before it is touched, and the look at it. */
export interface IronWork {
  flux: number;
  tin: number;
  cool: number;
  look: number;
}

const PRESSED = 'Clean the contacts, align, press evenly until it clicks. Never force.';

const plug = (opening: string, open: number, seat: number): ConnectorKind => ({
  byItself: false,
  isolatedOnly: false,
  tool: 'spudger',
  open: { verb: 'disconnect', seconds: open, hint: opening },
  seat: { verb: 'connect', seconds: seat, hint: PRESSED },
  cautions: ['static'],
  iron: null,
});

export const CONNECTOR_KINDS: Record<Connector['kind'], ConnectorKind> = {
  press: plug('Lift straight up at its edge.', 6, 9),
  'flip-lock': plug('Raise the locking bar, then slide the flex out.', 10, 15),
  'slide-lock': plug('Draw the bar out, then slide the flex out.', 10, 14),
  coax: plug('Lift straight up, beside the cable.', 8, 12),
  clipped: plug('Shield the clip with a finger, then lift.', 9, 12),
  contact: { ...plug('', 0, 0), byItself: true },
  solder: {
    byItself: false,
    isolatedOnly: true,
    tool: 'soldering-iron',
    open: {
      verb: 'desolder',
      seconds: 60,
      hint: 'Isolated devices only. Tin, heat, lift; do not pull on the pad.',
    },
    seat: { verb: 'solder', seconds: 90, hint: 'Isolated only. Clean pads, little heat, look at the joint.' },
    cautions: ['solder', 'hot'],
    iron: { flux: 15, tin: 40, cool: 60, look: 30 },
  },
};
