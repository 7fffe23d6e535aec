import parse from 'joi-to-json';
import { anatomySchema } from '../core/anatomy/index.ts';
import { planSchema, rulesSchema } from '../core/dive/index.ts';

/** The published JSON Schemas of the open formats, made from the schemas that read them. */
export function jsonSchemas(): Record<string, object> {
  const of = (schema: Parameters<typeof parse>[0], title: string) => ({
    $schema: 'http://json-schema.org/draft-07/schema#',
    title,
    ...(parse(schema, 'json') as object),
  });
  return {
    'nibrel.anatomy-1': of(anatomySchema, 'nibrel.anatomy/1'),
    'nibrel.plan-1': of(planSchema, 'nibrel.plan/1'),
    'nibrel.rules-1': of(rulesSchema, 'nibrel house rules'),
  };
}
