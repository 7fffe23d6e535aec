import { create } from 'zustand';
import type { Drive, Face, Fastener, Point } from '../../../core/anatomy/index.ts';

export const TOOLS = [
  'select',
  'part',
  'polygon',
  'circle',
  'screw',
  'plug',
  'area',
  'strip',
  'tab',
  'catch',
  'mate',
] as const;
export type Tool = (typeof TOOLS)[number];

/** Each tool with its key and what it does with the next press on the device. */
export const TOOL_WORDS: Record<Tool, { name: string; key: string; hint: string }> = {
  select: {
    name: 'Select',
    key: 'v',
    hint: 'Press an item; press again for what lies beneath. Drag to move, arrows by 0.1 mm.',
  },
  part: { name: 'Part', key: 'r', hint: 'Drag a rectangle.' },
  polygon: { name: 'Outline', key: 'g', hint: 'Press corner after corner; Enter closes it.' },
  circle: { name: 'Round part', key: 'c', hint: 'Drag from its middle to its rim.' },
  screw: { name: 'Screw', key: 's', hint: 'Press where it sits; it is like the last one.' },
  plug: { name: 'Plug', key: 'p', hint: 'Drag from the socket to the part whose flex it is.' },
  area: { name: 'Bond, area', key: 'a', hint: 'Select the part that it holds, then drag over where it sticks.' },
  strip: {
    name: 'Bond, strip',
    key: 'b',
    hint: 'Select the part that it holds, press along the strip; Enter ends it.',
  },
  tab: { name: 'Pull tab', key: 't', hint: 'Select the bond, then press where its tab is gripped.' },
  catch: { name: 'Catch', key: 'h', hint: 'Select the part, then press near its edge.' },
  mate: {
    name: 'Mating order',
    key: 'm',
    hint: 'Press the plugs in the order in which they are seated; Enter ends it.',
  },
};

/** What a new screw is like. */
export type Stamp = Pick<Fastener, 'kind' | 'drive' | 'length' | 'thread' | 'head' | 'colour' | 'magnetic'>;

/** Origin: own choice; the commonest screw of a phone. */
const FIRST_STAMP: Stamp = {
  kind: 'screw',
  drive: 'PH000' satisfies Drive,
  // Until somebody measures one.
  length: null,
  thread: 1.2,
  head: 2,
  colour: 'bright',
  magnetic: true,
};

interface Board {
  tool: Tool;
  face: Exclude<Face, 'edge'>;
  /** Layers that are off: what lies above is not drawn. */
  layer: number;
  /** Only what lies in this layer is drawn fully. */
  solo: boolean;
  selected: readonly string[];
  stamp: Stamp;
  /** Points that were pressed of what is not finished yet. */
  points: readonly Point[];
  /** Where the keyboard's cross stands, mm; `null` until it is moved. */
  cross: Point | null;
  panel: 'item' | 'device' | 'screws' | 'caliper' | 'proposals' | 'publish' | 'files';
  plate: { shown: boolean; strength: number; id: string | null };
  /** The part that the small dive goes to. */
  aim: string | null;
  snap: boolean;
  set: (change: Partial<Omit<Board, 'set' | 'select'>>) => void;
  select: (ids: readonly string[]) => void;
}

/** What is looked at and held in the hand on the board; none of it is part of the device. */
export const useBoard = create<Board>()((set) => ({
  tool: 'select',
  face: 'front',
  layer: 0,
  solo: false,
  selected: [],
  stamp: FIRST_STAMP,
  points: [],
  cross: null,
  panel: 'item',
  plate: { shown: true, strength: 0.85, id: null },
  aim: null,
  snap: true,
  set: (change) => set(change),
  select: (selected) =>
    set((b) => ({
      selected,
      panel: selected.length > 0 && b.panel !== 'proposals' && b.panel !== 'screws' ? 'item' : b.panel,
    })),
}));
