import { buildWeb, installPackages, root, runTs } from './prepare.mjs';

process.chdir(root);
installPackages();
buildWeb();
runTs('server/main.ts');
