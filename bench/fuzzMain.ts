import { FUZZERS } from './fuzz.ts';

/** Cases in all where none are asked for. */
const CASES = 100_000;
const asked = Number(process.argv[2] ?? CASES);
if (!Number.isInteger(asked) || asked < 1) {
  process.stderr.write('usage: npm run fuzz [-- <cases>]\n');
  process.exit(2);
}
let run = 0;
let failed = 0;
for (const [name, { run: fuzzer, share }] of Object.entries(FUZZERS)) {
  const cases = Math.max(1, Math.round(asked * share));
  const from = performance.now();
  try {
    await fuzzer(cases);
    process.stdout.write(`${name}: ${cases} cases, ${((performance.now() - from) / 1000).toFixed(1)} s\n`);
  } catch (error) {
    failed++;
    process.stdout.write(`${name}: ${(error as Error).message}\n`);
  }
  run += cases;
}
process.stdout.write(`${run} cases, ${failed} of ${Object.keys(FUZZERS).length} kinds broke something\n`);
process.exit(failed === 0 ? 0 : 1);
