import { chmodSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { recipeFor } from '../core/heat/index.ts';
import { demoModel } from '../demo/models.ts';
import { recipeFiles } from './recipes.ts';

const newData = () => mkdtempSync(join(tmpdir(), 'nibrel-recipes-'));
const filesIn = (data: string) =>
  (readdirSync(join(data, 'cache'), { recursive: true }) as string[]).filter((file) => file.endsWith('.json'));

describe('recipes that are kept', () => {
  it('come back as they were computed, those that do not exist with why', () => {
    const data = newData();
    const quill = demoModel('velmora-quill-5');
    const kept = {
      found: recipeFor(quill, 'display-seal', { source: 'pad' }),
      none: recipeFor(quill, 'display-seal', { source: 'dryer' }),
      unknown: null,
    };
    expect([kept.found.ok, kept.none.ok]).toEqual([true, false]);
    const store = recipeFiles(data);
    for (const [key, recipe] of Object.entries(kept)) store.set(key, recipe);
    const later = recipeFiles(data);
    for (const [key, recipe] of Object.entries(kept)) expect(later.get(key)).toEqual(recipe);
    expect(later.get('another')).toBeUndefined();
  });
  it('of another program are gone, and a damaged one is computed again', () => {
    const data = newData();
    mkdirSync(join(data, 'cache', 'recipes-0123456789abcdef'), { recursive: true });
    writeFileSync(join(data, 'cache', 'recipes-0123456789abcdef', 'x.json'), 'null');
    const store = recipeFiles(data);
    expect(filesIn(data)).toEqual([]);
    store.set('key', null);
    expect(store.get('key')).toBeNull();
    const file = join(data, 'cache', filesIn(data)[0]!);
    const written = readFileSync(file, 'utf8');
    // Cut off, or another value that reads as well.
    for (const damaged of [written.slice(0, -2), written.replace('null', 'true'), '']) {
      writeFileSync(file, damaged);
      expect(store.get('key')).toBeUndefined();
    }
  });
  it('hold up nothing where they cannot be written', () => {
    const file = join(newData(), 'file');
    writeFileSync(file, '');
    chmodSync(file, 0o400);
    const store = recipeFiles(file);
    store.set('key', null);
    expect(store.get('key')).toBeUndefined();
  });
});
