/**
 * The check digit of a number by Luhn's formula: from the right every other digit is doubled, and the digits of all are
 * added (3GPP TS 23.003, Annex B; ISO/IEC 7812-1).
 * @param digits all digits but the check digit
 * @throws Error when there is something other than digits
 */
export function luhnDigit(digits: string): number {
  if (!/^\d+$/.test(digits)) throw new Error('only digits have a check digit');
  let sum = 0;
  for (let i = 0; i < digits.length; i++) {
    const digit = Number(digits[digits.length - 1 - i]);
    const doubled = i % 2 === 0 ? 2 * digit : digit;
    sum += doubled > 9 ? doubled - 9 : doubled;
  }
  return (10 - (sum % 10)) % 10;
}

export type IdentityReading =
  | { ok: true; kind: 'imei' | 'serial'; number: string }
  | { ok: false; kind: 'imei' | 'serial' | null; because: string };

/** Longest serial number that is taken. Origin: own choice; longer than any seen on a label. */
const LONGEST_SERIAL = 40;

/**
 * Reads an identity as it is typed or scanned. What is digits only and about as long as an IMEI must be one; blanks,
 * points, strokes and dashes between them count for nothing. Anything else is a serial number.
 */
export function readIdentity(text: string): IdentityReading {
  const plain = text
    .normalize('NFKC')
    .trim()
    .replace(/^IMEI\s*\d?\s*[:/]?\s*/i, '');
  if (plain === '') return { ok: false, kind: null, because: 'there is no number' };
  const digits = plain.replace(/[\s./-]/g, '');
  if (/^\d+$/.test(digits) && digits.length >= 13 && digits.length <= 17) return readImei(digits);
  const serial = plain.replace(/\s/g, '').toUpperCase();
  if (serial.length > LONGEST_SERIAL)
    return {
      ok: false,
      kind: 'serial',
      because: `a serial number has at most ${LONGEST_SERIAL} signs, not ${serial.length}`,
    };
  if (!/^[A-Z0-9][A-Z0-9/.-]{2,}$/.test(serial))
    return {
      ok: false,
      kind: 'serial',
      because: 'a serial number has at least three signs: letters, digits, / . and -',
    };
  return { ok: true, kind: 'serial', number: serial };
}

function readImei(digits: string): IdentityReading {
  const wrong = (because: string): IdentityReading => ({ ok: false, kind: 'imei', because });
  if (digits.length === 16)
    return wrong('sixteen digits are an IMEI with its software version (IMEISV); enter the fifteen of the IMEI itself');
  if (digits.length !== 15) return wrong(`an IMEI has 15 digits, not ${digits.length}`);
  if (/^(\d)\1+$/.test(digits)) return wrong('the same digit fifteen times is no IMEI');
  const check = luhnDigit(digits.slice(0, 14));
  if (check !== Number(digits[14]))
    return wrong(`the last digit should be ${check}, not ${digits[14]}; one digit is wrong, or two are swapped`);
  return { ok: true, kind: 'imei', number: digits };
}

/** An IMEI as it is printed: in groups, so that it can be read aloud. */
export const groupedImei = (imei: string): string => imei.replace(/^(\d{2})(\d{6})(\d{6})(\d)$/, '$1 $2 $3 $4');

export const IDENTITY_WAYS = ['typed', 'scanned', 'unreadable'] as const;
export type IdentityWay = (typeof IDENTITY_WAYS)[number];

/** Who a device is: one IMEI for each card, and the number its maker gave it. */
export interface DeviceIdentity {
  imei: string[];
  serial: string | null;
  how: IdentityWay;
}

/** All numbers by which a device can be known again, each once. */
export const numbersOf = ({ imei, serial }: Pick<DeviceIdentity, 'imei' | 'serial'>): string[] => [
  ...new Set([...imei, ...(serial ? [serial] : [])]),
];

/** How many cards a device has room for at most. Origin: common practice. */
export const MOST_IMEI = 2;

/** @returns what is wrong with an identity, by field; empty when it may be kept */
export function identityFaults({ imei, serial, how }: DeviceIdentity): { path: string; message: string }[] {
  const faults: { path: string; message: string }[] = [];
  if (imei.length > MOST_IMEI) faults.push({ path: 'imei', message: `a device has at most ${MOST_IMEI} of them` });
  imei.forEach((number, i) => {
    const reading = readIdentity(number);
    if (!reading.ok) faults.push({ path: `imei[${i}]`, message: reading.because });
    else if (reading.kind !== 'imei') faults.push({ path: `imei[${i}]`, message: 'this is no IMEI' });
  });
  if (imei.length === 2 && imei[0] === imei[1])
    faults.push({ path: 'imei[1]', message: 'the two cards have the same number' });
  if (serial !== null) {
    const reading = readIdentity(serial);
    if (!reading.ok) faults.push({ path: 'serial', message: reading.because });
  }
  if (how !== 'unreadable' && imei.length === 0 && serial === null)
    faults.push({ path: 'imei', message: 'enter an IMEI or a serial number, or say that none can be read' });
  return faults;
}
