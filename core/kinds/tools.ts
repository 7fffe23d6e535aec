import { table, type KindOf } from '../format/index.ts';

/** What holds for a tool of the bench in any shop. */
export interface ToolFacts {
  conductive: boolean;
  /** It turns screws: the one conductive tool that is let into a live device (A5). */
  driver: boolean;
}

const HARMLESS: ToolFacts = { conductive: false, driver: false };
const STEEL: ToolFacts = { ...HARMLESS, conductive: true };

/** All but the drivers, in the order of a bench drawer. Which of them conduct: common practice. What warms has its settings in `core/heat`. */
export const TOOLS = table<ToolFacts>('tool')({
  spudger: HARMLESS,
  pick: HARMLESS,
  'eject-pin': STEEL,
  'suction-cup': HARMLESS,
  'cup-clamp': HARMLESS,
  'thin-blade': STEEL,
  mat: HARMLESS,
  pad: HARMLESS,
  gun: HARMLESS,
  'gel-pack': HARMLESS,
  dryer: HARMLESS,
  'solvent-dropper': HARMLESS,
  tweezers: HARMLESS,
  'soldering-iron': STEEL,
  wipes: HARMLESS,
  clips: HARMLESS,
  weight: HARMLESS,
  'cover-tape': HARMLESS,
  film: HARMLESS,
  camera: HARMLESS,
  'leak-tester': HARMLESS,
  'screw-extractor': { ...STEEL, driver: true },
});
export type HandTool = KindOf<typeof TOOLS>;
