import type Joi from 'joi';
import parse from 'joi-to-json';
import { anatomyFormat } from '../core/anatomy/index.ts';
import { asOf, joiOf } from '../core/format/index.ts';
import { planFormat, planOneFormat, rulesFormat } from '../core/dive/index.ts';

/** The published JSON Schemas of the open formats, made from the schemas that read them. */
export function jsonSchemas(): Record<string, object> {
  const of = (schema: Joi.Schema, title: string) => ({
    $schema: 'http://json-schema.org/draft-07/schema#',
    title,
    ...(parse(schema as Parameters<typeof parse>[0], 'json') as object),
  });
  return {
    'nibrel.anatomy-1': of(joiOf(asOf(anatomyFormat, 1)), 'nibrel.anatomy/1'),
    'nibrel.anatomy-2': of(joiOf(anatomyFormat), 'nibrel.anatomy/2'),
    'nibrel.plan-1': of(joiOf(planOneFormat), 'nibrel.plan/1'),
    'nibrel.plan-2': of(joiOf(planFormat), 'nibrel.plan/2'),
    'nibrel.rules-1': of(joiOf(rulesFormat), 'nibrel house rules'),
  };
}
