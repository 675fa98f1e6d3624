import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';
import { DeliverySpec, MeasureDocument, Recheck, Report, Trial } from '@bevrin/contract';

/** Publishes the schemas of files that leave Bevrin, as JSON Schema 2020-12. */
export const SCHEMAS = {
  'measure-document': MeasureDocument,
  'delivery-spec': DeliverySpec,
  report: Report,
  trial: Trial,
  recheck: Recheck,
};

export const published = (schema: z.ZodType): string =>
  `${JSON.stringify(z.toJSONSchema(schema, { io: 'input' }), null, 2)}\n`;

if (process.argv[1]?.endsWith('schemas.ts'))
  for (const [name, schema] of Object.entries(SCHEMAS))
    writeFileSync(join('docs', `${name}.schema.json`), published(schema));
