import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A folder for what the files of one run of the tests share: the made-up shop is planned once, which takes many seconds. */
export default function shareTrials(): () => void {
  // Whoever runs one stage after another keeps it for all of them.
  if (process.env.NIBREL_TRIALS) return () => {};
  const folder = mkdtempSync(join(tmpdir(), 'nibrel-trials-'));
  process.env.NIBREL_TRIALS = folder;
  return () => rmSync(folder, { recursive: true, force: true });
}
