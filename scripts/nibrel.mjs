import { installPackages, runTs } from './prepare.mjs';

installPackages();
// npm changes into the package's folder; paths are meant from where the command was given.
if (process.env.INIT_CWD) process.chdir(process.env.INIT_CWD);
runTs('cli/main.ts', process.argv.slice(2));
