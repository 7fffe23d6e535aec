import { fileURLToPath } from 'node:url';
import { configFrom } from './config.ts';
import { start } from './start.ts';

const root = fileURLToPath(new URL('..', import.meta.url));

// What a shop keeps is for the user who runs it: folders 700, files 600.
process.umask(0o077);

try {
  const config = configFrom(process.env, root);
  const running = await start(config, (line) => console.error(line));
  console.log(`Nibrel ${config.demo ? 'demonstration, made-up data, ' : ''}at ${running.url}`);
  const stop = () => void running.stop().finally(() => process.exit(0));
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
} catch (error) {
  console.error(`Nibrel does not start: ${(error as Error).message}`);
  process.exit(1);
}
