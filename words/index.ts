export type { Language, Said } from './language.ts';
export { spoken } from './spoken.ts';
export { english } from './en/index.ts';
export { agreementText } from './agreement.ts';
export {
  BY_ID,
  cautionText,
  explain,
  explainAll,
  gateName,
  nameOfLoss,
  noteWords,
  ruleText,
  sentence,
  tell,
  tellAction,
  tellAll,
  tellNext,
  tellUnreached,
  toolName,
  whyNoCut,
  whereWord,
  whyWords,
  type Names,
} from './tell.ts';
