import { nibrel } from './nibrel.ts';

// What is written, a backup among it, is for the user who writes it.
process.umask(0o077);
const { code, out, err } = await nibrel(process.argv.slice(2));
process.stdout.write(out);
process.stderr.write(err);
process.exitCode = code;
