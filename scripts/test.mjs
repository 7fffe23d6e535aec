import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { buildWeb, cacheFolder, installBrowser, installPackages, root } from './prepare.mjs';

process.chdir(root);
installPackages();
installBrowser();

const bin = (name) => join(root, 'node_modules', '.bin', name);
let passed = 0;
let failed = 0;
/** One check that is a single thing: it passes or it fails. */
function check(name, command, args) {
  console.log(`\n— ${name}`);
  const { status } = spawnSync(command, args, { stdio: 'inherit' });
  if (status === 0) passed++;
  else {
    failed++;
    console.log(`✗ ${name} failed`);
  }
}
/** Vitest projects that run together; their tests are counted. */
function tests(name, projects = [name]) {
  console.log(`\n— ${name} tests`);
  const report = join(cacheFolder('test'), `${name}.json`);
  rmSync(report, { force: true });
  spawnSync(
    bin('vitest'),
    [
      'run',
      ...projects.flatMap((project) => ['--project', project]),
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
    ],
    { stdio: 'inherit', env: { ...process.env, NO_COLOR: '1' } },
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

check('lint', bin('biome'), ['lint', '--error-on-warnings', '.']);
check('format', bin('biome'), ['format', '.']);
check('import arrows', bin('depcruise'), [
  'core',
  'server',
  'cli',
  'demo',
  'bench',
  '--config',
  '.dependency-cruiser.mjs',
]);
check('types', bin('tsc'), ['-p', '.']);
tests('unit', ['core', 'unit']);
console.log('\n— building the web application');
buildWeb();
tests('browser');

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
