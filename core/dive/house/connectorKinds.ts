import { table } from '../../format/index.ts';
import type { ConnectorKind } from '../../kinds/index.ts';
import type { OpeningWay, SeatingWay } from '../hints.ts';
import type { Caution } from './cautions.ts';

/** How the dive works one kind of connector; what holds for the kind itself stands in `core/kinds`. Times are own bench estimates, s. */
export interface ConnectorWork {
  /** It may be worked on an isolated device only. */
  isolatedOnly: boolean;
  tool: string;
  open: { verb: 'disconnect' | 'desolder'; seconds: number; way: OpeningWay };
  seat: { verb: 'connect' | 'solder'; seconds: number; way: SeatingWay };
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

const plug = (opening: OpeningWay, open: number, seat: number): ConnectorWork => ({
  isolatedOnly: false,
  tool: 'spudger',
  open: { verb: 'disconnect', seconds: open, way: opening },
  seat: { verb: 'connect', seconds: seat, way: 'press' },
  cautions: ['static'],
  iron: null,
});

export const CONNECTOR_KINDS = table<ConnectorWork>('connector')({
  press: plug('lift-edge', 6, 9),
  'flip-lock': plug('raise-bar', 10, 15),
  'slide-lock': plug('draw-bar', 10, 14),
  coax: plug('lift-cable', 8, 12),
  clipped: plug('shield-clip', 9, 12),
  contact: plug('lift-edge', 0, 0),
  solder: {
    isolatedOnly: true,
    tool: 'soldering-iron',
    open: { verb: 'desolder', seconds: 60, way: 'unsolder' },
    seat: { verb: 'solder', seconds: 90, way: 'solder' },
    cautions: ['solder', 'hot'],
    iron: { flux: 15, tin: 40, cool: 60, look: 30 },
  },
} satisfies Record<ConnectorKind, ConnectorWork>);
