import parse from 'joi-to-json';
import { anatomySchema, FASTENER_KINDS } from '../core/anatomy/index.ts';
import { planOneSchema, planSchema, rulesSchema } from '../core/dive/index.ts';

/** A JSON Schema as far as it is looked into here. */
interface Described {
  properties: Record<string, Described & { enum?: string[]; items?: Described }>;
}

/** Fields that only the second format of anatomies has, by the list that they stand in; `''` is the document itself. */
const SECOND = {
  '': ['cells', 'rails', 'bodies', 'hinge'],
  parts: ['limits', 'body'],
  connectors: ['isolates'],
  bonds: ['compressedBy'],
} as const;

/** The first format of anatomies: the second without what only that has. */
function first(schema: object): object {
  const whole = JSON.parse(JSON.stringify(schema)) as Described;
  for (const [list, fields] of Object.entries(SECOND)) {
    const { properties } = list === '' ? whole : whole.properties[list]!.items!;
    for (const field of fields) delete properties[field];
  }
  whole.properties.schema!.enum = ['nibrel.anatomy/1'];
  whole.properties.fasteners!.items!.properties.kind!.enum = FASTENER_KINDS.slice(0, 4);
  return whole;
}

/** The published JSON Schemas of the open formats, made from the schemas that read them. */
export function jsonSchemas(): Record<string, object> {
  const of = (schema: Parameters<typeof parse>[0], title: string) => ({
    $schema: 'http://json-schema.org/draft-07/schema#',
    title,
    ...(parse(schema, 'json') as object),
  });
  const second = of(anatomySchema, 'nibrel.anatomy/2');
  return {
    'nibrel.anatomy-1': first({ ...second, title: 'nibrel.anatomy/1' }),
    'nibrel.anatomy-2': second,
    'nibrel.plan-1': of(planOneSchema, 'nibrel.plan/1'),
    'nibrel.plan-2': of(planSchema, 'nibrel.plan/2'),
    'nibrel.rules-1': of(rulesSchema, 'nibrel house rules'),
  };
}
