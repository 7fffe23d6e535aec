import { nibrel } from './nibrel.ts';

const { code, out, err } = await nibrel(process.argv.slice(2));
process.stdout.write(out);
process.stderr.write(err);
process.exitCode = code;
