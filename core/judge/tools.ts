import { TOOLS } from '../kinds/index.ts';

const isDrawn = (tool: string): boolean => tool.startsWith('driver-');

/** A tool that is not listed is taken for one that conducts. */
export const conducts = (tool: string): boolean => !TOOLS.has(tool) || TOOLS.of(tool).conductive;

/** The one kind of steel that is let into a live device (A5). */
export const isDriver = (tool: string): boolean => isDrawn(tool) || (TOOLS.has(tool) && TOOLS.of(tool).driver);
