import { buildWeb, installBrowser, installPackages, root, runTs } from './prepare.mjs';

process.chdir(root);
installPackages();
installBrowser();
buildWeb();
runTs('bench/main.ts', process.argv.slice(2));
