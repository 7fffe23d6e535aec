// A backup in a process of its own, which gives way to all others. The types are stripped by the loader that the server runs under.
import { constants } from 'node:os';
import { giveWay } from '../niceness.mjs';
import { tsImport } from 'tsx/esm/api';

// Without the server that asked for it, it is asked for no more.
process.once('disconnect', () => process.exit(1));
process.umask(0o077);
giveWay(0, constants.priority.PRIORITY_BELOW_NORMAL);
const { makeBackup } = await tsImport('./backup.ts', import.meta.url);
const tell = (message) => new Promise((resolve) => process.send(message, resolve));
const [data, file] = process.argv.slice(2);
try {
  await tell({ report: await makeBackup(data, file) });
} catch (error) {
  await tell({ error: { message: error.message, code: error.code } });
}
process.exit(0);
