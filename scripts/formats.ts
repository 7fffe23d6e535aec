import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { jsonSchemas } from './jsonSchemas.ts';

// Writes docs/formats/*.schema.json from the Joi schemas: node --import tsx scripts/formats.ts
for (const [name, schema] of Object.entries(jsonSchemas())) {
  writeFileSync(
    fileURLToPath(new URL(`../docs/formats/${name}.schema.json`, import.meta.url)),
    `${JSON.stringify(schema, null, 2)}\n`,
  );
}
