import { english } from './en/index.ts';
import type { Language } from './language.ts';

/** The language that is spoken. */
export const spoken: Language = english;
