/**
 * Which tools conduct, and which of those are drivers, the one kind of steel that is let into a live device (A5). Common
 * practice; a tool that is not listed is taken for one that conducts.
 */
const HARMLESS: ReadonlySet<string> = new Set([
  'spudger',
  'pick',
  'suction-cup',
  'cup-clamp',
  'mat',
  'pad',
  'gun',
  'gel-pack',
  'dryer',
  'solvent-dropper',
  'tweezers',
  'wipes',
  'clips',
  'weight',
  'cover-tape',
  'film',
  'camera',
  'leak-tester',
]);

export const conducts = (tool: string): boolean => !HARMLESS.has(tool);

export const isDriver = (tool: string): boolean => tool.startsWith('driver-') || tool === 'screw-extractor';
