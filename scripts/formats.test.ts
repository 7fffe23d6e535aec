import { readFileSync } from 'node:fs';
import Ajv from 'ajv';
import { describe, expect, it } from 'vitest';
import { modelOf, readAnatomyText } from '../core/anatomy/index.ts';
import { planDive, planFormat } from '../core/dive/index.ts';
import { readAs } from '../core/format/index.ts';
import { tinyDevice } from '../demo/tiny.ts';
import { jsonSchemas } from './jsonSchemas.ts';

const text = (path: string) => readFileSync(new URL(`../${path}`, import.meta.url), 'utf8');
const schema = (name: string) => JSON.parse(text(`docs/formats/${name}.schema.json`)) as object;
const DEMOS = ['velmora-quill-5', 'tannbrook-field-3'];

describe('the published JSON Schemas', () => {
  it.each(Object.entries(jsonSchemas()))('%s is what the reader uses', (name, made) => {
    expect(schema(name)).toEqual(JSON.parse(JSON.stringify(made)));
  });
  const validate = (name: string) => new Ajv({ strict: false, allErrors: true }).compile(schema(name));

  it.each(DEMOS)('an independent validator (ajv) takes the demo anatomy %s', (name) => {
    const check = validate('nibrel.anatomy-1');
    expect(check(JSON.parse(text(`demo/anatomies/${name}.json`))), JSON.stringify(check.errors)).toBe(true);
  });
  it.each(DEMOS)('and the plans of %s', (name) => {
    const reading = readAnatomyText(text(`demo/anatomies/${name}.json`));
    if (!reading.ok) throw new Error('faults');
    const model = modelOf(reading.value);
    const check = validate('nibrel.plan-2');
    for (const part of reading.value.parts.filter((p) => !p.fixed)) {
      const plan = planDive(model, { replace: [part.id] });
      expect(check(plan), JSON.stringify(check.errors)).toBe(true);
      expect(readAs(planFormat, plan)).toMatchObject({ ok: true });
    }
  });
  it('refuses an unknown field', () => {
    expect(validate('nibrel.anatomy-1')({ ...tinyDevice(), colour: 'blue' })).toBe(false);
  });
});
