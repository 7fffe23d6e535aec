// Uses Node's own modules only: it runs before anything is installed.
import { execFileSync, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
const say = (text) => process.stderr.write(`${text}\n`);

function run(command, args, options = {}) {
  execFileSync(command, args, { cwd: root, stdio: ['ignore', 2, 2], ...options });
}

/** Installs the packages when they are missing or other than the lock file says. */
export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules', '.nibrel-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say('installing packages (once; the database driver may be compiled, about two minutes)');
  run('npm', ['ci', '--no-audit', '--no-fund']);
  writeFileSync(stamp, lock);
}

const found = (command) => {
  try {
    execFileSync('which', [command], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
};

/** Installs Debian's Chromium and PDF tools for the browser tests when they are missing. */
export function installBrowser() {
  const missing = [
    ['chromium', 'chromium'],
    ['pdftotext', 'poppler-utils'],
  ]
    .filter(([command]) => !found(command))
    .map(([, name]) => name);
  if (missing.length === 0) return;
  say(`installing ${missing.join(' and ')} from Debian's packages (once)`);
  const sudo = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  const apt = (args) => {
    const [command, ...rest] = [...sudo, 'apt-get', ...args];
    run(command, rest, { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  };
  try {
    apt(['update', '-q']);
    apt(['install', '-y', '-q', '--no-install-recommends', ...missing]);
  } catch {
    throw new Error(
      `could not install ${missing.join(' and ')}; install them by hand (apt-get install ${missing.join(' ')}) and try again`,
    );
  }
}

export function buildWeb() {
  run(process.execPath, [join(root, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'warn']);
}

/** Runs a TypeScript entry in this terminal; ends with its exit code. */
export function runTs(entry, args = [], env = {}) {
  // By its address, so that the working folder may be anywhere.
  const loader = import.meta.resolve('tsx');
  const child = spawn(process.execPath, ['--import', loader, join(root, entry), ...args], {
    cwd: process.cwd(),
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
  child.on('exit', (code, signal) => process.exit(code ?? (signal ? 1 : 0)));
  return child;
}

export function cacheFolder(name) {
  const folder = join(root, '.cache', name);
  mkdirSync(folder, { recursive: true });
  return folder;
}
