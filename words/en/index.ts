import type { Language } from '../language.ts';
import { labels } from './labels.ts';
import { messages } from './messages.ts';

export const english: Language = { tag: 'en-GB', messages, ...labels };
