import type { Step } from '../types.ts';
import type { Violation } from './device.ts';

/** What a rule found wrong, before it is known at which step; `null` is nothing. */
export type Found = Omit<Violation, 'step'> | null;

/** What of a step the rules look at. */
export type StepLike = Pick<Step, 'do' | 'items' | 'tool' | 'gate' | 'n'> & { face?: Step['face'] };

export const broken = (rule: Violation['rule'], item: string, message: string): Found => ({ rule, item, message });
