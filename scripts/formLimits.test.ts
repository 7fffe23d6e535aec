import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { anatomyFormat } from '../core/anatomy/index.ts';
import { GROUPS } from '../core/draft/index.ts';
import { SOURCE_KINDS } from '../core/heat/index.ts';
import { boundsOf, choicesOf, place, type Bounds } from '../core/format/index.ts';
import { fieldsOf, limits } from '../web/screens/workshop/fields.ts';
import { boundsSaid, ruleLimits, shopLimits } from '../web/controls/bounds.ts';

const web = fileURLToPath(new URL('../web/', import.meta.url));
const OF: Record<string, (...path: string[]) => Bounds> = { limits, ruleLimits, shopLimits };

/** Every `limits('bonds', 'softensAt')` of the screens whose path stands there in full. */
const asked = (readdirSync(web, { recursive: true }) as string[])
  .filter((file) => /\.tsx?$/.test(file) && !file.endsWith('.test.ts'))
  .flatMap((file) => [
    ...readFileSync(join(web, file), 'utf8').matchAll(/\b(limits|ruleLimits|shopLimits)\(((?:'[^']*'(?:, )?)+)\)/g),
  ])
  .map(([, of, path]): [string, string[]] => [of!, [...path!.matchAll(/'([^']*)'/g)].map((m) => m[1]!)]);

describe('the limits of forms', () => {
  it.each(asked)('%s of %j are what a format says', (of, path) => {
    expect(boundsSaid(OF[of]!(...path))).not.toBe('');
  });
  it('are there for what is asked field by field', () => {
    for (const measure of ['length', 'thread', 'head', 'holeDepth', 'torque'])
      expect(limits('fasteners', measure)).toBeDefined();
    for (const field of ['volts', 'milliampHours', 'series', 'parallel']) expect(limits('cells', field)).toBeDefined();
    for (const field of ['width', 'height', 'thickness', 'cornerRadius']) expect(limits('body', field)).toBeDefined();
    for (const key of ['trayRows', 'trayColumns', 'trays', 'toolChange', 'turnOver', 'workable', 'reheat'])
      expect(ruleLimits(key)).toBeDefined();
    for (const source of SOURCE_KINDS) {
      expect(ruleLimits('hottest', source)).toBeDefined();
      for (const key of ['conductance', 'nozzle', 'distance', 'speed'])
        expect(ruleLimits('sources', source, key)).toBeDefined();
    }
  });
  it.each(GROUPS)('%s: every field is asked for as the format has it', (group) => {
    for (const field of fieldsOf(group)) {
      const shape = place(anatomyFormat, group, field.field);
      if (field.as === 'number') expect(field.bounds).toBe(boundsOf(shape));
      if (field.as === 'choice') expect(field.of).toBe(choicesOf(shape));
    }
  });
  it('are told in words', () => {
    expect(boundsSaid({ whole: true, least: 1, most: 9 })).toBe('whole, 1 to 9');
    expect(boundsSaid({ above: 0, most: 60 })).toBe('more than 0, at most 60');
  });
});
