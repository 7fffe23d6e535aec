import { createHash } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { keepRecipesIn, type KeptRecipe, type RecipeStore } from '../core/dive/index.ts';

/** Folder of the shop's data for what can be computed again. */
const CACHE = 'cache';
/** Recipes that are kept at most; the ones that were written first go. Origin: own choice; those of some hundred devices. */
const MOST = 4000;

/**
 * Recipes as files, one for each key: a heating takes a second or more to look for, threads come and go, and a shop asks for the same
 * ones again and again. They hold for the program that computed them: one that computes otherwise begins anew. What cannot be read
 * or written is computed.
 */
export function recipeFiles(data: string): RecipeStore {
  const cache = join(data, CACHE);
  const name = `recipes-${programHash().slice(0, 16)}`;
  const folder = join(cache, name);
  const fileOf = (key: string) => join(folder, `${hashOf(key)}.json`);
  quietly(() => {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    for (const other of readdirSync(cache)) if (other !== name) rmSync(join(cache, other), { recursive: true });
    const files = readdirSync(folder).map((file) => join(folder, file));
    const spare = files.length > MOST ? files.sort((a, b) => statSync(a).mtimeMs - statSync(b).mtimeMs) : [];
    for (const file of spare.slice(0, files.length - MOST)) rmSync(file, { force: true });
  });
  return {
    get: (key) =>
      quietly(() => {
        const [seal, text] = readFileSync(fileOf(key), 'utf8').split('\n', 2);
        // Temperatures and minutes: what is not as it was written is computed again.
        return seal === hashOf(text!) ? (JSON.parse(text!) as KeptRecipe) : undefined;
      }),
    set: (key, recipe) =>
      quietly(() => {
        const file = fileOf(key);
        const partial = `${file}.${process.pid}.${Math.random().toString(36).slice(2)}`;
        const text = JSON.stringify(recipe);
        writeFileSync(partial, `${hashOf(text)}\n${text}`, { mode: 0o600 });
        renameSync(partial, file);
      }),
  };
}

/** In this thread recipes are kept with the shop's data. */
export const keepRecipes = (data: string): void => keepRecipesIn(recipeFiles(data));

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex');

function quietly<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch {
    return undefined;
  }
}

let known: string | null = null;

/** What tells one program that computes recipes from another: a hash of all that computes. */
function programHash(): string {
  if (known) return known;
  const core = fileURLToPath(new URL('../core/', import.meta.url));
  const hash = createHash('sha256');
  const sources = (readdirSync(core, { recursive: true }) as string[]).filter(
    (file) => file.endsWith('.ts') && !file.endsWith('.test.ts'),
  );
  for (const file of sources.sort()) hash.update(file).update(readFileSync(join(core, file)));
  known = hash.digest('hex');
  return known;
}
