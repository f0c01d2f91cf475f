import { readFile, writeFile } from 'node:fs/promises';
import { text } from 'node:stream/consumers';
import { parseArgs, type ParseArgsConfig } from 'node:util';
import {
  parseQuantity,
  problemsSentence,
  readStage,
  sentenceQuantity,
  type Result,
  type Stage,
  type Unit,
} from '@yundro/core';
import { CommandError } from './commandError.js';

type Options = NonNullable<ParseArgsConfig['options']>;

/** `--step -3` as `--step=-3`: a number below zero after an option is its value, not an option of its own. */
function negativesJoined(words: readonly string[], options: Options): string[] {
  const joined: string[] = [];
  for (const word of words) {
    const before = joined.at(-1);
    const takes = before?.startsWith('--') && options[before.slice(2)]?.type === 'string';
    if (takes && /^-[\d.]/.test(word)) joined[joined.length - 1] = `${String(before)}=${word}`;
    else joined.push(word);
  }
  return joined;
}

/** The words of a command as options and what is none. */
function parsedWords(words: readonly string[], options: Options) {
  try {
    return parseArgs({
      args: negativesJoined(words, options),
      options: { ...options, json: { type: 'boolean' } },
      allowPositionals: true,
    });
  } catch (error) {
    const message = error instanceof Error ? (error.message.split('. ')[0] ?? '') : '';
    throw new CommandError(
      `${message.replace(/\.$/, '')}; the options here are ${['json', ...Object.keys(options)].map((name) => `--${name}`).join(', ')}.`,
    );
  }
}

/** The options of a command that takes no file. */
export function optionsAlone(words: readonly string[], options: Options): Readonly<Record<string, unknown>> {
  const { values, positionals } = parsedWords(words, options);
  const [extra] = positionals;
  if (extra !== undefined) throw new CommandError(`No stage file is read here: “${extra}” is one too many.`);
  return values;
}

/** Split the words of a command into the stage file's name and the options. */
export function commandLine(
  words: readonly string[],
  options: Options,
): { readonly file: string; readonly values: Readonly<Record<string, unknown>> } {
  const parsed = parsedWords(words, options);
  const [file, extra] = parsed.positionals;
  if (file === undefined) throw new CommandError('Name the stage file to read, or - for standard input.');
  if (extra !== undefined) throw new CommandError(`One stage file at a time: “${extra}” is one too many.`);
  return { file, values: parsed.values };
}

const CAUSES: Readonly<Record<string, string>> = {
  ENOENT: 'there is no such file',
  EACCES: 'you may not read or write it',
  EISDIR: 'it is a folder',
  ENOSPC: 'the disk is full',
  ENOTDIR: 'a part of its path is not a folder',
};

function cannot(verb: string, file: string, error: unknown): CommandError {
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  return new CommandError(`Cannot ${verb} ${file}: ${CAUSES[code] ?? code}.`);
}

export const cannotRead = (file: string, error: unknown): CommandError => cannot('read', file, error);

/** The value of a result, or a CommandError with the sentence for its problems. */
export function valueOrSentence<T>(result: Result<T>): T {
  if (!result.ok) throw new CommandError(problemsSentence(result.problems));
  return result.value;
}

/** Read and check the stage file named on the command line. */
export async function stageFrom(file: string): Promise<Stage> {
  let content: string;
  try {
    content = file === '-' ? await text(process.stdin) : await readFile(file, 'utf8');
  } catch (error) {
    throw cannot('read', file, error);
  }
  return valueOrSentence(readStage(content));
}

/** Write a text file for the `--output` kind of option. */
export async function writeTo(file: string, content: string): Promise<void> {
  try {
    await writeFile(file, content);
  } catch (error) {
    throw cannot('write', file, error);
  }
}

/** A number given as an option, typed as in the interface (`4.7`, `100m`, `2k`), within its range. */
export function numberOption(
  values: Readonly<Record<string, unknown>>,
  name: string,
  unit: Unit,
  { above, min, max }: { readonly above?: number; readonly min?: number; readonly max: number },
): number | undefined {
  const text = values[name];
  if (typeof text !== 'string') return undefined;
  const read = parseQuantity(text, unit);
  if (!read.ok) throw new CommandError(`--${name}: ${problemsSentence(read.problems)}`);
  const inside =
    (above === undefined || read.value > above) && (min === undefined || read.value >= min) && read.value <= max;
  if (inside) return read.value;
  const low =
    above === undefined ? `at least ${sentenceQuantity(min ?? 0, unit)}` : `above ${sentenceQuantity(above, unit)}`;
  throw new CommandError(
    `--${name} is ${sentenceQuantity(read.value, unit)}, but must be ${low} and at most ${sentenceQuantity(max, unit)}.`,
  );
}
