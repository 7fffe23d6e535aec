/** Torque in N·cm from kgf·cm. 1 kgf·cm = 9.80665 N·cm (NIST SP 811, Appendix B.8). */
export const NCM_PER_KGFCM = 9.80665;
/** Torque in N·m from lbf·in (NIST SP 811, Appendix B.8). */
export const NM_PER_LBFIN = 0.1129848;

export function kgfcmToNcm(value: number): number {
  return value * NCM_PER_KGFCM;
}

export function lbfinToNcm(value: number): number {
  return value * NM_PER_LBFIN * 100;
}

/** A torque of `ncm` N·cm in every unit a driver may show. */
export function torqueUnits(ncm: number): { ncm: number; kgfcm: number; mNm: number; lbfin: number } {
  return { ncm, kgfcm: ncm / NCM_PER_KGFCM, mNm: ncm * 10, lbfin: ncm / 100 / NM_PER_LBFIN };
}

/** Seconds as a technician reads them: `45 s`, `12 min`, `1 h 05`. */
export function minutes(seconds: number): string {
  if (seconds < 60) return `${Math.round(seconds)} s`;
  const whole = Math.round(seconds / 60);
  if (whole < 60) return `${whole} min`;
  return `${Math.floor(whole / 60)} h ${String(whole % 60).padStart(2, '0')}`;
}

/** Seconds as a running clock: `4:05`. Never below zero. */
export function clock(seconds: number): string {
  const left = Math.max(0, Math.ceil(seconds));
  return `${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}`;
}

export function mm(value: number): string {
  return `${Number(value.toFixed(2))} mm`;
}

/** The length of a screw; what nobody has measured is not known, and is not told as a number. */
export const screwLength = (length: number | null): string => (length === null ? '? mm' : `${length} mm`);

/** Energy of a battery in Wh: volts times ampere-hours. */
export function wattHours(volts: number, milliampHours: number): number {
  return (volts * milliampHours) / 1000;
}

/** A number as it is typed, with a decimal point or comma; `null` when it is none. */
export function readNumber(text: string): number | null {
  const typed = text.trim();
  if (!/^[+-]?(\d+([.,]\d*)?|[.,]\d+)$/.test(typed)) return null;
  return Number(typed.replace(',', '.'));
}
