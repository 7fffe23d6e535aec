import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { BONDS, CONNECTORS, FASTENERS, RULE_TABLES } from '../core/kinds/index.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
const ROOMS = ['core', 'words', 'server', 'cli', 'web'];
/** Where kinds are at home: the tables of what holds for them, of how they are worked, and of their words. */
const HOMES = /^(core\/kinds\/|core\/dive\/house\/(bond|connector|fastener)Kinds\.ts|words\/en\/)/;

const TABLES: readonly (readonly [what: string, kinds: readonly string[]])[] = [
  ['bond', BONDS.kinds],
  ['connector', CONNECTORS.kinds],
  ['fastener', FASTENERS.kinds],
  ...RULE_TABLES.map((table) => ['rule', table.kinds] as const),
];

/** Kinds whose names mean nothing else: a comparison with one of them is a fact that its table lacks. */
const TELLING = new Set([
  ...BONDS.kinds,
  ...CONNECTORS.kinds.filter((kind) => kind !== 'press'),
  ...['captive', 'standoff', 'press-fit'],
]);
/** Literals that follow one another in a list, a union, a record or a switch. */
const RUN = /(?:(?:case )?'?[A-Za-z][A-Za-z0-9-]*'?\s*(?:[|,:]|=>)\s*(?:\/\/[^\n]*\n\s*)?)*'?[A-Za-z][A-Za-z0-9-]*'?/g;

/** Kinds that are typed elsewhere than at home, each with what it looks like: in the text of one file. */
export function typedIn(text: string): string[] {
  const code = text.replaceAll(/\/\*[\s\S]*?\*\/|\/\/[^\n]*/g, '');
  const found: string[] = [];
  for (const [run] of code.matchAll(RUN)) {
    const literals = [...run.matchAll(/'([A-Za-z][A-Za-z0-9-]*)'/g)].map((m) => m[1]!);
    for (const [what, kinds] of TABLES) {
      const there = literals.filter((literal) => kinds.includes(literal));
      if (new Set(there).size >= 3 && there.length === literals.length)
        found.push(`kinds of ${what} typed by hand: ${there.join(', ')}`);
    }
  }
  for (const [, kind] of code.matchAll(/\bkind\)? [!=]== '([a-z-]+)'/g))
    if (TELLING.has(kind! as never)) found.push(`asks for one kind: ${kind}`);
  return found;
}

/** Kinds that are typed elsewhere than in their tables, by file. */
export function typedElsewhere(): string[] {
  return ROOMS.flatMap((room) =>
    (readdirSync(join(root, room), { recursive: true }) as string[])
      .map((name) => `${room}/${name}`)
      .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$/.test(file) && !HOMES.test(file))
      .flatMap((file) => typedIn(readFileSync(join(root, file), 'utf8')).map((said) => `${file}: ${said}`)),
  );
}
