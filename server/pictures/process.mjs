// Pictures in a process of their own: what a file unfolds to takes nothing from the server. The types are stripped by the loader
// that the server itself runs under.
import { writeFileSync } from 'node:fs';
import { tsImport } from 'tsx/esm/api';
import { giveWay } from '../niceness.mjs';

// Without the server that asked for it, it is asked for no more.
process.once('disconnect', () => process.exit(1));
giveWay();
try {
  // Where memory runs out, this is what goes.
  writeFileSync('/proc/self/oom_score_adj', '1000');
} catch {
  // Only Linux asks.
}
const { workOn } = await tsImport('./work.ts', import.meta.url);
const { default: sharp } = await import('sharp');
// What was decoded is not kept: the next picture is another.
sharp.cache(false);
process.on('message', async ({ name, input }) => {
  let answer;
  try {
    answer = await workOn(name, input);
  } catch (error) {
    answer = { failed: error instanceof Error ? error.message : String(error) };
  }
  process.send(answer);
});
