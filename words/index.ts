export type { Language, Said } from './language.ts';
export { spoken } from './spoken.ts';
export { english } from './en/index.ts';
export { agreementText, nameOfLoss } from './agreement.ts';
export {
  BY_ID,
  cautionText,
  explain,
  ruleText,
  sentence,
  tell,
  tellAction,
  tellAll,
  toolName,
  whereWord,
  type Names,
} from './tell.ts';
