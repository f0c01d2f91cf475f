import { refused, good, type Result } from '../result.js';
import { STAGE_VERSION } from './schema.js';

type Document = Readonly<Record<string, unknown>>;
type Migration = (older: Document) => Document;

/** Step `n` turns a version `n` document into version `n + 1`. Version 1 is the first, so there is none yet. */
const MIGRATIONS: Readonly<Record<number, Migration>> = {};

/** Bring a parsed document to the present version; a newer one is refused. Other faults are left to the schema. */
export function migrated(
  document: unknown,
  migrations: Readonly<Record<number, Migration>> = MIGRATIONS,
  present: number = STAGE_VERSION,
): Result<unknown> {
  if (typeof document !== 'object' || document === null || Array.isArray(document)) return good(document);
  let current = document as Document;
  const given = current['version'];
  if (typeof given !== 'number' || !Number.isInteger(given)) return good(current);
  if (given > present) {
    return refused({
      code: 'newer-version',
      path: 'version',
      received: String(given),
      expected: `version ${String(present)}`,
    });
  }
  for (let version = given; version < present; version += 1) {
    const migrate = migrations[version];
    if (!migrate) break;
    current = { ...migrate(current), version: version + 1 };
  }
  return good(current);
}
