import { installPackages, root, runTs } from './prepare.mjs';

process.chdir(root);
installPackages();
runTs('bench/fuzzMain.ts', process.argv.slice(2));
