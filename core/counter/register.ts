/** What is asked of outside registers before a device is opened or a donor fitted. */
export const QUESTIONS = ['reported-lost', 'blacklist', 'network-lock', 'account-lock'] as const;
export type RegisterQuestion = (typeof QUESTIONS)[number];

/** `not-asked` is never taken as clear: it is what stands where nobody has asked, or the register did not answer. */
export const ANSWERS = ['clear', 'set', 'not-asked'] as const;
export type RegisterAnswer = (typeof ANSWERS)[number];

export interface RegisterReport {
  answers: Record<RegisterQuestion, RegisterAnswer>;
  /** The register that was asked, by name. */
  register: string;
  /** It stands in for one: none of its answers is worth anything outside a demonstration. */
  simulated: boolean;
  at: string;
}

/** What a register of devices is to Nibrel. A real one is asked over the network; it may fail, and then nothing is clear. */
export interface DeviceRegister {
  name: string;
  simulated: boolean;
  /** @param numbers the IMEIs of a device, or its serial number */
  ask(numbers: readonly string[]): Promise<Record<RegisterQuestion, RegisterAnswer>>;
}

export const NOT_ASKED: Record<RegisterQuestion, RegisterAnswer> = {
  'reported-lost': 'not-asked',
  blacklist: 'not-asked',
  'network-lock': 'not-asked',
  'account-lock': 'not-asked',
};

/** A register that stands in for one says what it would say, but nothing that it calls clear is. */
export function worthOf({
  answers,
  simulated,
}: Pick<RegisterReport, 'answers' | 'simulated'>): Record<RegisterQuestion, RegisterAnswer> {
  if (!simulated) return answers;
  return Object.fromEntries(
    Object.entries(answers).map(([question, answer]) => [question, answer === 'clear' ? 'not-asked' : answer]),
  ) as Record<RegisterQuestion, RegisterAnswer>;
}

/** What to do at the counter with a device that somebody misses (common practice; local law comes first). */
export const LOST_ADVICE =
  'This device is reported lost or stolen. Do not open it. Tell the customer calmly what the register says, ask for proof ' +
  'of purchase, and write down who brought it. Hand it to nobody and keep nobody: your local police say what to do next.';

/** What each question that is answered with yes means for the work. */
export const REGISTER_WORDS: Record<RegisterQuestion, { name: string; whenSet: string }> = {
  'reported-lost': { name: 'Reported lost', whenSet: LOST_ADVICE },
  blacklist: {
    name: 'Blacklisted',
    whenSet: 'No network will take it; a repair does not change that. Say so before quoting.',
  },
  'network-lock': {
    name: 'Network lock',
    whenSet: 'Only cards of one network work in it; have the customer bring theirs for the call test.',
  },
  'account-lock': {
    name: 'Account lock',
    whenSet:
      'It starts only with the account it is bound to. Ask the customer to sign out, or to be there for the tests.',
  },
};
