import type { Act } from './document.ts';
import type { Violation } from './device.ts';
import type { JudgeMessage } from './messages.ts';

/** What a rule found wrong, before it is known at which step; `null` is nothing. */
export type Found = Omit<Violation, 'step'> | null;

/** What of a step the rules look at. */
export type StepLike = Act;

export const broken = (rule: Violation['rule'], item: string, said: JudgeMessage): Found => ({ rule, item, said });
