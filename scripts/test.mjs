import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildWeb, cacheFolder, installBrowser, installPackages, root } from './prepare.mjs';

process.chdir(root);
/** What the stages share: the made-up shop, which is planned once. */
const trials = mkdtempSync(join(tmpdir(), 'nibrel-trials-'));
process.env.NIBREL_TRIALS = trials;
process.on('exit', () => rmSync(trials, { recursive: true, force: true }));
installPackages();
installBrowser();

const bin = (name) => join(root, 'node_modules', '.bin', name);
let passed = 0;
let failed = 0;
/**
 * Runs a command beside others; what it says is shown as it comes, or in one piece when it has ended.
 * @returns its exit code, -1 where it could not be run or was ended
 */
const run = (command, args, { env = process.env, held = false } = {}) =>
  new Promise((resolve) => {
    const child = spawn(command, args, { stdio: held ? ['ignore', 'pipe', 'pipe'] : 'inherit', env });
    const said = [];
    child.stdout?.on('data', (piece) => said.push(piece));
    child.stderr?.on('data', (piece) => said.push(piece));
    child.on('error', () => resolve(-1));
    child.on('close', (code) => {
      process.stdout.write(Buffer.concat(said));
      resolve(code ?? -1);
    });
  });

/** One check that is a single thing: it passes or it fails. */
async function check(name, command, args) {
  const code = await run(command, args, { held: true });
  console.log(`${code === 0 ? '✓' : '✗'} ${name}${code === 0 ? '' : ' failed'}`);
  if (code === 0) passed++;
  else failed++;
}

/** Vitest projects that run together; their tests are counted. */
async function tests(name, projects) {
  const report = join(cacheFolder('test'), `${name}.json`);
  rmSync(report, { force: true });
  await run(
    bin('vitest'),
    [
      'run',
      ...projects.flatMap((project) => ['--project', project]),
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
    ],
    { env: { ...process.env, NO_COLOR: '1' } },
  );
  try {
    const result = JSON.parse(readFileSync(report, 'utf8'));
    passed += result.numPassedTests;
    // A file that does not even load holds no test that could fail.
    failed +=
      result.numFailedTests +
      result.testResults.filter((f) => f.status === 'failed' && f.assertionResults.every((t) => t.status === 'passed'))
        .length;
    if (result.numTotalTests === 0) failed++;
  } catch {
    console.log(`✗ ${name} tests gave no report`);
    failed++;
  }
}

console.log('\n— lint, format, arrows, types');
await Promise.all([
  check('lint', bin('biome'), ['lint', '--error-on-warnings', '.']),
  check('format', bin('biome'), ['format', '.']),
  check('import arrows', bin('depcruise'), [
    ...['core', 'words', 'server', 'cli', 'demo', 'bench'],
    ...['--config', '.dependency-cruiser.mjs'],
  ]),
  check('types', bin('tsc'), ['-p', '.']),
]);
console.log('\n— unit tests');
await tests('unit', ['core', 'unit']);
console.log('\n— building the web application');
buildWeb();
console.log('\n— browser tests');
await tests('browser', ['browser']);

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
