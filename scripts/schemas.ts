/** `npm run schemas`: the JSON Schemas of the files that stay stable, from the same Zod schemas that check them. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { SCHEMAS, schemaText } from '../packages/contract/src/schemas.ts';

for (const [name, schema] of Object.entries(SCHEMAS))
  writeFileSync(join(import.meta.dirname, '../docs/schemas', `${name}.schema.json`), schemaText(name, schema));
