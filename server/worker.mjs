// A thread of the pool. The types are stripped by the loader that the server itself runs under.
import { readlinkSync } from 'node:fs';
import { setPriority } from 'node:os';
import { basename } from 'node:path';
import { workerData } from 'node:worker_threads';
import { tsImport } from 'tsx/esm/api';

// Whoever presses a key goes first. Linux gives each thread a priority of its own; elsewhere all keep the same. A third of a
// usual share is enough for that, and lets what is computed come to its end on a machine that is busy with something else.
const NICE = 5;
try {
  setPriority(Number(basename(readlinkSync('/proc/thread-self'))), NICE);
} catch {
  // It computes as before.
}

const { work, keepRecipes } = await tsImport('./tasks.ts', import.meta.url);
const data = workerData?.data;
if (data) keepRecipes(data);

export default work;
