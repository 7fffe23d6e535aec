// A thread of the pool. The types are stripped by the loader that the server itself runs under.
import { readlinkSync } from 'node:fs';
import { basename } from 'node:path';
import { workerData } from 'node:worker_threads';
import { tsImport } from 'tsx/esm/api';
import { giveWay } from './niceness.mjs';

// Linux gives each thread a priority of its own; elsewhere all keep the same.
let own = -1;
try {
  own = Number(basename(readlinkSync('/proc/thread-self')));
  giveWay(own);
} catch {
  // Only Linux tells.
}

const { work, keepRecipes } = await tsImport('./tasks.ts', import.meta.url);
const data = workerData?.data;
if (data) keepRecipes(data);

export default ({ thread, ...task }) => {
  // From now on it is computed, and by whom.
  Atomics.store(thread, 0, own);
  return work(task);
};
