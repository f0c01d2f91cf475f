import { z } from 'zod';
import { stageSchema } from './schema.js';

/** The JSON Schema (2020-12) of the stage file, generated from the one Zod schema, for editors and other programs. @public */
export function stageJsonSchema(): Record<string, unknown> {
  const schema = z.toJSONSchema(stageSchema, { io: 'input', target: 'draft-2020-12' });
  return { title: 'Yundro stage file', ...schema };
}
