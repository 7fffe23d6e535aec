export type { Act, Dive, Document, StepRead } from './document.ts';
export { Checker } from './checker.ts';
export { closedDevice, copyDevice, type Device, type Violation } from './device.ts';
export type { JudgeMessage } from './messages.ts';
export { needless } from './needless.ts';
export { checkPlan, type Asked } from './replay.ts';
export { CRAFT_RULES } from './craft/index.ts';
export { PERHAPS, SURELY } from './ground.ts';
export { Reading } from './reading.ts';
