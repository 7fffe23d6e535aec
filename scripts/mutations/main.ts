import { spawn } from 'node:child_process';
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { seededDraw } from '../../demo/synthetic.ts';
import { mutantsOf, type Mutant } from './mutants.ts';

/*
 * `npm run mutations -- [how many] [seed] [which]`: breaks the rooms that planner and model share, one small change at a time, and
 * asks the oracle each time. Prints what became of each. `which` is a pattern: only those of the sample are tried whose line of
 * the print matches it.
 */
const ROOT = fileURLToPath(new URL('../../', import.meta.url));
const ROOMS = ['core/dive/graph', 'core/dive/house', 'core/dive/order', 'core/dive/return'];
const ALONE = ['core/anatomy/geometry.ts', 'core/anatomy/model.ts'];
/** s after which a mutant that goes on for ever is ended; the oracle takes a fraction of it. */
const LONGEST = 150;

const files = [
  ...ALONE,
  ...ROOMS.flatMap((room) =>
    readdirSync(join(ROOT, room))
      .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts'))
      .map((f) => `${room}/${f}`),
  ),
];
const all = files.flatMap((file) => mutantsOf(file, readFileSync(join(ROOT, file), 'utf8')));
const [amount, seed] = [Number(process.argv[2] ?? 200), Number(process.argv[3] ?? 1)];
const which = new RegExp(process.argv[4] ?? '');
const draw = seededDraw(seed);
const sample: Mutant[] = [];
for (const left = [...all]; sample.length < amount && left.length > 0; )
  sample.push(...left.splice(draw(left.length), 1));
const named = (m: Mutant): string => `${m.file}:${m.line}  ${m.what}`;
const chosen = sample.filter((m) => which.test(named(m)));

/** The tree as it was when all began: one may go on working on it meanwhile. */
const whole = mkdtempSync(join(tmpdir(), 'nibrel-whole-'));
for (const room of ['core', 'demo', 'scripts', 'package.json', 'tsconfig.json'])
  cpSync(join(ROOT, room), join(whole, room), { recursive: true });

/** One tree in which files are broken and mended again. */
function workTree(): string {
  const dir = mkdtempSync(join(tmpdir(), 'nibrel-mutant-'));
  cpSync(whole, dir, { recursive: true });
  symlinkSync(join(ROOT, 'node_modules'), join(dir, 'node_modules'));
  return dir;
}

/** What the oracle says of a tree: its first word, or `null` when it finds nothing. */
const asked = (dir: string, file = ''): Promise<string | null> =>
  new Promise((resolve) => {
    const child = spawn(process.execPath, ['--import', 'tsx', 'scripts/mutations/oracle.ts', file], { cwd: dir });
    let said = '';
    child.stdout.on('data', (d: Buffer) => (said += d.toString()));
    child.stderr.on('data', (d: Buffer) => (said += d.toString()));
    const end = setTimeout(() => child.kill('SIGKILL'), LONGEST * 1000);
    child.on('close', (code, signal) => {
      clearTimeout(end);
      const lines = said.split('\n').filter((l) => l.trim() !== '');
      const first = lines.find((l) => l.includes('Error')) ?? lines[0] ?? '';
      resolve(code === 0 ? null : signal ? 'goes on for ever' : first.trim().slice(0, 140));
    });
  });

const found = new Map<Mutant, string | null>();
async function worker(): Promise<void> {
  const dir = workTree();
  try {
    const sound = await asked(dir);
    if (sound !== null) throw new Error(`the oracle finds fault with the tree as it is: ${sound}`);
    for (let next = chosen.find((m) => !found.has(m)); next; next = chosen.find((m) => !found.has(m))) {
      found.set(next, '');
      writeFileSync(join(dir, next.file), next.source);
      const said = await asked(dir, next.file);
      found.set(next, said);
      cpSync(join(whole, next.file), join(dir, next.file));
      console.log(`${said === null ? 'SURVIVES' : 'killed'}  ${named(next)}  ${said ?? ''}`);
    }
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
}
await Promise.all(
  Array.from(
    { length: Math.min(Number(process.env.MUTATION_WORKERS ?? availableParallelism()), chosen.length) },
    worker,
  ),
);

rmSync(whole, { recursive: true, force: true });
const survivors = chosen.filter((m) => found.get(m) === null);
console.log(`${chosen.length - survivors.length} of ${chosen.length} killed, of ${all.length} mutants in all`);
