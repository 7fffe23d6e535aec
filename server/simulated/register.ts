import { setTimeout as pause } from 'node:timers/promises';
import {
  NOT_ASKED,
  type DeviceRegister,
  type RegisterAnswer,
  type RegisterQuestion,
} from '../../core/counter/index.ts';

/** Last three digits before the check digit that make the stand-in answer, so that each case can be shown. */
const CASES: Record<string, Partial<Record<RegisterQuestion, RegisterAnswer>>> = {
  '666': { 'reported-lost': 'set', blacklist: 'set' },
  '777': { blacklist: 'set' },
  '888': { 'network-lock': 'set' },
  '999': { 'account-lock': 'set' },
};

const ANSWERS_AFTER = 80;

/**
 * A register that stands in for one. It knows a few made-up devices by their numbers; of all others it says *clear*,
 * which is shown as *not asked*, since a stand-in clears nothing.
 */
export function simulatedRegister(answersAfter = ANSWERS_AFTER): DeviceRegister {
  return {
    name: 'Register of devices',
    simulated: true,
    async ask(numbers) {
      await pause(answersAfter);
      const answers = Object.fromEntries(Object.keys(NOT_ASKED).map((q) => [q, 'clear'])) as Record<
        RegisterQuestion,
        RegisterAnswer
      >;
      for (const number of numbers) {
        const known = /^\d{15}$/.test(number) ? CASES[number.slice(11, 14)] : undefined;
        for (const [question, answer] of Object.entries(known ?? {}))
          answers[question as RegisterQuestion] = answer as RegisterAnswer;
      }
      return answers;
    },
  };
}
