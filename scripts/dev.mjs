import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { cacheFolder, installPackages, root } from './prepare.mjs';

process.chdir(root);
installPackages();
const children = [
  spawn(process.execPath, ['--watch', '--import', 'tsx', 'server/main.ts'], {
    stdio: 'inherit',
    env: { ...process.env, NIBREL_DEMO: '1', NIBREL_DATA: cacheFolder('dev') },
  }),
  spawn(process.execPath, [join('node_modules', 'vite', 'bin', 'vite.js')], { stdio: 'inherit' }),
];
const stop = () => {
  for (const child of children) child.kill('SIGTERM');
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
for (const child of children) child.on('exit', stop);
