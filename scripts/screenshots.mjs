import { buildWeb, installBrowser, installPackages, root, runTs } from './prepare.mjs';

process.chdir(root);
installPackages();
installBrowser();
buildWeb();
runTs('e2e/screenshots.ts', process.argv.slice(2));
