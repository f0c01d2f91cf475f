import { z } from 'zod';
import { sentenceQuantity } from '../quantity/engineering.js';
import { UNITS } from '../quantity/unit.js';
import { good, refused, type Problem, type Relation, type Result } from '../result.js';
import { BELOW_LEAST, fieldMetaAt, schemaAt } from './field.js';
import { migrated } from './migrate.js';
import { pathText, valueAt } from './place.js';
import { stageSchema, type Stage } from './schema.js';

/** The largest stage file read, in characters; also the body limit of the server. @public */
export const STAGE_TEXT_LIMIT = 1_000_000;

/** A text short enough for a sentence, without what no sentence can carry. */
function abridged(text: string): string {
  const readable = text.replace(/\p{Cc}/gu, '␀').toWellFormed();
  return readable.length > 60 ? `${readable.slice(0, 57)}…` : readable;
}

/** A short rendering of what was given, safe to put in a sentence. */
function shown(value: unknown): string {
  if (typeof value === 'string') return `the text “${abridged(value)}”`;
  if (typeof value === 'number') return sentenceQuantity(value, 'ratio');
  return value === undefined ? 'nothing' : abridged(JSON.stringify(value));
}

const words = (key: PropertyKey | undefined): string =>
  String(key ?? 'file').replace(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`);

const choices = (values: readonly unknown[]): string => {
  const quoted = values.map((value) => JSON.stringify(value));
  return quoted.length > 1 ? `${quoted.slice(0, -1).join(', ')} or ${quoted.at(-1) ?? ''}` : (quoted[0] ?? '');
};

const TYPE_WORDS: Readonly<Record<string, string>> = {
  number: 'a number',
  int: 'a whole number',
  string: 'a text',
  object: 'an object in braces',
  array: 'a list in brackets',
  tuple: 'a pair in brackets',
  boolean: 'true or false',
};

function problemsOf(issue: z.core.$ZodIssue, root: z.core.$ZodType, document: unknown): readonly Problem[] {
  const path = pathText(issue.path);
  const received = valueAt(document, issue.path);
  const meta = fieldMetaAt(root, issue.path);
  const base = { path, quantity: meta?.quantity ?? words(issue.path.at(-1)) };
  const number = meta && UNITS[meta.unit].symbol !== '' ? `a number in ${UNITS[meta.unit].symbol}` : 'a number';
  switch (issue.code) {
    case 'unrecognized_keys':
      return issue.keys.slice(0, MOST_PROBLEMS).map((key) => ({
        code: 'unknown-key' as const,
        path: pathText([...issue.path, abridged(key)]),
        received: `“${abridged(key)}”`,
      }));
    case 'invalid_type': {
      const kind = TYPE_WORDS[issue.expected] ?? issue.expected;
      const expected = meta ? (issue.expected === 'int' ? kind : number) : kind;
      return received === undefined
        ? [{ ...base, code: 'missing', expected }]
        : [{ ...base, code: 'wrong-type', received: shown(received), expected }];
    }
    case 'too_small':
    case 'too_big':
      if (meta && typeof received === 'number') {
        return [
          {
            ...base,
            code: 'out-of-range',
            received: sentenceQuantity(received, meta.unit),
            unit: meta.unit,
            min: meta.min,
            max: meta.max,
          },
        ];
      }
      return [
        {
          ...base,
          code: 'wrong-type',
          received: issue.code === 'too_small' ? 'too short' : 'too long',
          expected:
            issue.code === 'too_small'
              ? `at least ${String(issue.minimum)} long`
              : `at most ${String(issue.maximum)} long`,
        },
      ];
    case 'invalid_value': {
      if (received === undefined) return [{ ...base, code: 'missing', expected: choices(issue.values) }];
      return [{ ...base, code: 'not-allowed', received: shown(received), expected: choices(issue.values) }];
    }
    case 'invalid_union': {
      // Report against the member whose literal `kind` was chosen; else say which kinds there are.
      const schema = schemaAt(root, issue.path);
      const branches = issue.errors.map((branch) =>
        branch.flatMap((inner) => problemsOf({ ...inner, path: [...issue.path, ...inner.path] }, root, document)),
      );
      const chosen = branches.find((problems) => !problems.some((p) => p.path.endsWith('.kind')));
      if (chosen && chosen.length > 0) return chosen;
      const kinds =
        schema instanceof z.ZodUnion
          ? schema.options.flatMap((option) => {
              const kind = schemaAt(option, ['kind']);
              if (kind instanceof z.ZodLiteral) return [...kind.values];
              return kind instanceof z.ZodEnum ? kind.options : [];
            })
          : [];
      const place = [...issue.path, 'kind'];
      return [
        {
          ...base,
          path: pathText(place),
          code: 'not-allowed',
          received: shown(valueAt(document, place)),
          expected: choices(kinds),
        },
      ];
    }
    case 'custom': {
      if (issue.params?.['code'] === BELOW_LEAST && meta && typeof received === 'number') {
        const { unit, min, max, least } = meta;
        return [{ ...base, code: 'out-of-range', received: sentenceQuantity(received, unit), unit, min, max, least }];
      }
      const { expected = issue.message, relation } = (issue.params ?? {}) as { expected?: string; relation?: Relation };
      const scalar = typeof received === 'number' || typeof received === 'string';
      const given = meta && typeof received === 'number' ? sentenceQuantity(received, meta.unit) : shown(received);
      return [
        { ...base, code: 'inconsistent', expected, ...(scalar && { received: given }), ...(relation && { relation }) },
      ];
    }
    default:
      return [{ ...base, code: 'wrong-type', received: shown(received), expected: issue.message }];
  }
}

/** Deepest nesting of anything that is read: the stage file itself has a depth of seven. */
const DEEPEST = 32;
/** Most problems reported of one document: the first of them are mended first, and an answer stays short. */
const MOST_PROBLEMS = 20;

/** Most members of one object: no schema has a tenth of them, and naming a hundred thousand unknown ones takes its time. */
const WIDEST = 500;

/** Longest list: a batch of parts has a thousand. */
const LONGEST = 5000;

/** What makes a document no document of ours at a glance; looked for without recursion, which its depth would end. */
function oversize(document: unknown): Problem | undefined {
  let level: readonly unknown[] = [document];
  for (let depth = 0; depth <= DEEPEST; depth += 1) {
    const next: unknown[] = [];
    for (const value of level) {
      if (typeof value !== 'object' || value === null) continue;
      const members: readonly unknown[] = Object.values(value);
      const [what, most] = Array.isArray(value) ? (['list', LONGEST] as const) : (['object', WIDEST] as const);
      if (members.length > most)
        return {
          code: 'too-large',
          path: '',
          received: `holding one ${what} of ${String(members.length)} members`,
          expected: String(most),
        };
      for (const member of members) next.push(member);
    }
    if (next.length === 0) return undefined;
    level = next;
  }
  return { code: 'too-deep', path: '', expected: `${String(DEEPEST)} levels` };
}

/** Check a value against any of the core's schemas; the problems found are reported as data, up to a number that can be read. @public */
export function checked<T>(schema: z.ZodType<T>, document: unknown): Result<T> {
  const size = oversize(document);
  if (size) return refused(size);
  const parsed = schema.safeParse(document);
  if (parsed.success) return good(parsed.data);
  const problems: Problem[] = [];
  for (const issue of parsed.error.issues) {
    if (problems.length >= MOST_PROBLEMS) break;
    problems.push(...problemsOf(issue, schema, document).slice(0, MOST_PROBLEMS - problems.length));
  }
  return refused(...problems);
}

/** Check a parsed JSON document as a stage, migrating an older version first. @public */
export function stageFromDocument(document: unknown): Result<Stage> {
  const present = migrated(document);
  if (!present.ok) return present;
  return checked(stageSchema, present.value);
}

/** Where the JSON text stops making sense, in words, without the wording of one JavaScript engine. */
function damage(text: string, error: unknown): string {
  if (text.trim() === '') return 'it is empty';
  const message = error instanceof Error ? error.message : '';
  const position = /position (\d+)/.exec(message)?.[1];
  if (position === undefined || /end of JSON|Unterminated/i.test(message)) {
    return `it ends in the middle, after ${String(text.length)} characters`;
  }
  const before = text.slice(0, Number(position));
  const line = before.split('\n').length;
  const column = Number(position) - (before.lastIndexOf('\n') + 1) + 1;
  return `it cannot be understood from line ${String(line)}, character ${String(column)} on`;
}

/**
 * Read the text of a stage file.
 *
 * @returns the stage with its defaults filled in, or every problem found.
 * @public
 */
export function readStage(text: string): Result<Stage> {
  if (text.length > STAGE_TEXT_LIMIT) {
    return refused({
      code: 'too-large',
      path: '',
      received: `${(text.length / 1e6).toFixed(1)} MB`,
      expected: `${String(STAGE_TEXT_LIMIT / 1e6)} MB`,
    });
  }
  let document: unknown;
  try {
    document = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    return refused({ code: 'not-json', path: '', expected: damage(text, error) });
  }
  return stageFromDocument(document);
}

/**
 * The text of a stage file: keys in the order of the schema, two spaces of indent, a closing newline, so that writing a
 * stage that was read from Yundro's own text gives the same bytes.
 *
 * @public
 */
export function writeStage(stage: Stage): string {
  return `${JSON.stringify(stageSchema.parse(stage), null, 2)}\n`;
}
