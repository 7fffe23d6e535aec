import { rmSync } from 'node:fs';
import { buildWeb, cacheFolder, installPackages, root, runTs } from './prepare.mjs';

process.chdir(root);
installPackages();
buildWeb();
const data = cacheFolder('demo');
rmSync(data, { recursive: true, force: true });
runTs('server/main.ts', [], { NIBREL_DEMO: '1', NIBREL_DATA: data });
