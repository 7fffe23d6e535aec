import type { ConditionMark, DeviceIdentity } from '../../../core/counter/index.ts';
import type { CheckId, Symptom } from '../../../core/diagnosis/index.ts';
import type { EventBody, TestOutcome } from '../../../core/run/index.ts';
import { NOTHING_TYPED, type Unlisted } from './Devices.tsx';
import type { Answers } from './Findings.tsx';

/** Everything that an intake asks, as it stands in its fields: what a draft keeps. */
export interface IntakeForm {
  customer: string;
  customerId: string | null;
  contact: string;
  /** Numbers as they were typed or scanned; empty is none. */
  imei: [string, string];
  serial: string;
  how: DeviceIdentity['how'];
  /** Id of the anatomy; `null` while none is chosen or the device is in no list. */
  anatomy: string | null;
  unlisted: Unlisted | null;
  findings: Answers;
  cracked: boolean;
  outside: string;
  marks: ConditionMark[];
  photos: string[];
  /** Percent as it stands in the field; empty is not known. */
  charge: string;
  dark: boolean;
  /** What worked when it was tried, by function; left out is not tried, `null` cannot be told. */
  works: Record<string, Exclude<TestOutcome, 'waived'> | null>;
  complaint: string;
  symptoms: Symptom[];
  checks: Partial<Record<CheckId, string>>;
  unlock: string;
  worth: string;
  replace: string[];
  spares: Record<string, string>;
}

export const EMPTY_FORM: IntakeForm = {
  customer: '',
  customerId: null,
  contact: '',
  imei: ['', ''],
  serial: '',
  how: 'typed',
  anatomy: null,
  unlisted: null,
  findings: {},
  cracked: false,
  outside: '',
  marks: [],
  photos: [],
  charge: '',
  dark: false,
  works: {},
  complaint: '',
  symptoms: [],
  checks: {},
  unlock: '',
  worth: '',
  replace: [],
  spares: {},
};

/** A draft as an older version wrote it lacks what was added since. */
export const readForm = (document: Partial<IntakeForm>): IntakeForm => ({
  ...EMPTY_FORM,
  ...document,
  unlisted: document.unlisted ? { ...NOTHING_TYPED, ...document.unlisted } : null,
});

/** Has anything been entered that would be a pity to lose? */
export const isBegun = (form: IntakeForm): boolean => JSON.stringify(form) !== JSON.stringify(EMPTY_FORM);

/** The identity that was entered; `null` where nobody entered or said anything of it. */
export function identityOf({ imei, serial, how }: IntakeForm): DeviceIdentity | null {
  const numbers = imei.map((n) => n.trim()).filter(Boolean);
  if (how === 'unreadable') return { imei: [], serial: null, how };
  if (numbers.length === 0 && serial.trim() === '') return null;
  return { imei: numbers, serial: serial.trim() === '' ? null : serial.trim(), how };
}

/** What was found before it is opened, as events. */
export function foundOf(form: IntakeForm): EventBody[] {
  const tests = Object.entries(form.works).flatMap(([id, outcome]): EventBody[] =>
    outcome === null
      ? []
      : [
          {
            type: 'test',
            function: id,
            outcome,
            reason: outcome === 'fail' ? 'failed at the counter' : '',
            circumstance: 'intake',
          },
        ],
  );
  return [
    ...(form.symptoms.length > 0 ? [{ type: 'complained', symptoms: form.symptoms } as const] : []),
    ...Object.entries(form.checks).map(
      ([check, outcome]): EventBody => ({ type: 'checked', check: check as CheckId, outcome }),
    ),
    ...form.marks.map((mark): EventBody => ({ type: 'condition-marked', mark })),
    ...tests,
  ];
}
