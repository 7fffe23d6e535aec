import type { Language } from '../language.ts';
import { bench } from './bench.ts';
import { cells } from './cells.ts';
import { closing } from './closing.ts';
import { kinds } from './kinds.ts';
import { labels } from './labels.ts';
import { messages } from './messages.ts';
import { refusals } from './refusals.ts';

export const english: Language = {
  tag: 'en-GB',
  messages: { ...messages, ...refusals, ...cells, ...closing },
  ...kinds,
  ...labels,
  ...bench,
};
