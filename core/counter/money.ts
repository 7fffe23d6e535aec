import Big from 'big.js';
import { choice, record, text, type Of } from '../format/index.ts';

/** A sum as a decimal text in the shop's currency: `129.90`. Computed with decimals, never with binary fractions. */
export type Money = string;

/** A sum or a rate: not below zero, with at most four digits after the point. */
export const sumText = text({ written: [/^\d{1,9}(\.\d{1,4})?$/, 'a sum, as 129.90'] });

/** What a shop reckons with. */
export const tillFormat = record({
  /** ISO 4217, such as `EUR`. */
  currency: choice(Intl.supportedValuesOf('currency')),
  /** Percent that is added on top; 0 where prices carry none. */
  tax: sumText,
  /** For an hour of hands-on work, before tax. */
  hourly: sumText,
  /** Part of a spare's price that is added to it, percent. */
  markup: sumText,
});
export interface Till extends Of<typeof tillFormat> {}

/** Origin: own choice, to be set by every shop for itself; the tax is a usual one and no advice. */
export const DEFAULT_TILL: Till = { currency: 'EUR', tax: '20', hourly: '54.00', markup: '15' };

/** @throws Error when a text is no sum */
export function moneyOf(text: string | number): Big {
  try {
    return new Big(text);
  } catch {
    throw new Error(`"${text}" is no sum`);
  }
}

/** Digits after the point of a currency (ISO 4217, as the runtime knows them). @throws RangeError for no currency */
export const digitsOf = (currency: string): number =>
  new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;

/** A sum rounded to the currency's smallest coin, half away from zero. */
export const rounded = (sum: Big | Money, currency: string): Money =>
  moneyOf(String(sum)).toFixed(digitsOf(currency), Big.roundHalfUp);

export const added = (sums: readonly (Money | Big)[]): Big =>
  sums.reduce<Big>((total, sum) => total.plus(sum), new Big(0));

/** Tax on a sum, rounded; both together are what is paid. */
export const taxOn = (net: Money | Big, { tax, currency }: Pick<Till, 'tax' | 'currency'>): Money =>
  rounded(moneyOf(String(net)).times(tax).div(100), currency);

/** A sum as a person reads it: `€ 129.90`. */
export function tellMoney(sum: Money, currency: string, language = 'en'): string {
  return new Intl.NumberFormat(language, { style: 'currency', currency, currencyDisplay: 'narrowSymbol' }).format(
    // What is shown only is rounded already; the text of it is exact to the last digit that is shown.
    Number(sum),
  );
}

/** Reads a sum as it is typed, with a point or a comma. @returns `null` when it is none, or below zero */
export function readMoney(text: string, currency: string): Money | null {
  const plain = text.trim().replace(/\s/g, '').replace(',', '.');
  if (!/^\d{1,9}(\.\d+)?$/.test(plain)) return null;
  const decimals = plain.split('.')[1]?.length ?? 0;
  return decimals > digitsOf(currency) ? null : rounded(plain, currency);
}
