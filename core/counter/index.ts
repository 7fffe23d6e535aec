export {
  groupedImei,
  IDENTITY_WAYS,
  identityFaults,
  luhnDigit,
  MOST_IMEI,
  numbersOf,
  readIdentity,
  type DeviceIdentity,
  type IdentityReading,
  type IdentityWay,
} from './identity.ts';
export {
  ANSWERS,
  LOST_ADVICE,
  NOT_ASKED,
  QUESTIONS,
  REGISTER_WORDS,
  worthOf,
  type DeviceRegister,
  type RegisterAnswer,
  type RegisterQuestion,
  type RegisterReport,
} from './register.ts';
export {
  added,
  DEFAULT_TILL,
  sumText,
  tillFormat,
  digitsOf,
  moneyOf,
  readMoney,
  rounded,
  taxOn,
  tellMoney,
  type Money,
  type Till,
} from './money.ts';
export { expectedWork, spreadOf, USUAL_RATIO, type Chanced, type PastJob, type Spread } from './spread.ts';
export { MISHAPS, mishapsOf, type Mishap, type MishapKind } from './mishaps.ts';
export {
  ESTIMATED,
  ESTIMATED_OTHER,
  partsToBuy,
  spareFor,
  type Line,
  type Offer,
  type OwnSpare,
  type PartsSupplier,
  type SpareAsked,
} from './prices.ts';
export { quoteOf, type Quote, type QuoteBasis, type QuoteRisk } from './quote.ts';
export {
  DATA_CHOICES,
  isOverLimit,
  PAD,
  signatureFault,
  UNFINISHED_CHOICES,
  type AgreementTerms,
  type DataChoice,
  type Stroke,
  type UnfinishedChoice,
} from './agreement.ts';
export {
  CONTACTS,
  donorBrings,
  donorChecks,
  GRADES,
  RESET_CHARGE,
  RETURN_DAYS,
  RETURN_WARNING,
  returnBy,
  TRIED,
  type ContactState,
  type Donor,
  type DonorCheck,
  type Grade,
  type Tried,
  type Wanted,
} from './donor.ts';
export { MARK_KINDS, MARKS, type ConditionMark, type MarkKind } from './condition.ts';
