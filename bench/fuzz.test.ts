import { describe, it } from 'vitest';
import { FUZZERS } from './fuzz.ts';

describe('nothing that is read breaks the reader', () => {
  it.each(Object.entries(FUZZERS))('%s', async (_, { run, share }) => {
    await run(Math.round(2500 * share));
  });
});
