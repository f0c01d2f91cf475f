import { sentenceQuantity } from '../quantity/engineering.js';
import { UNITS, type Unit } from '../quantity/unit.js';
import type { Problem } from '../result.js';

const isUnit = (unit: string): unit is Unit => unit in UNITS;

function withUnit(value: number, unit: string | undefined): string {
  return unit !== undefined && isUnit(unit) ? sentenceQuantity(value, unit) : sentenceQuantity(value, 'ratio');
}

function allowedRange(problem: Problem): string {
  const { min, max, unit, least } = problem;
  if (least !== undefined) {
    const either = min !== undefined && min < 0;
    return `${either ? `of a magnitude of at least ${withUnit(least, unit)}` : `at least ${withUnit(least, unit)}`}, or 0`;
  }
  const low = min === undefined ? undefined : `at least ${withUnit(min, unit)}`;
  const high = max === undefined ? undefined : `at most ${withUnit(max, unit)}`;
  return [low, high].filter((part) => part !== undefined).join(' and ');
}

function body(problem: Problem): string {
  const quantity = problem.quantity ?? 'value';
  switch (problem.code) {
    case 'not-json':
      return `the file is not readable as JSON: ${problem.expected ?? 'its text is damaged'}`;
    case 'too-large':
      return `the file is ${problem.received ?? 'too large'}; a stage file holds at most ${problem.expected ?? ''}`;
    case 'unknown-key':
      return `the key ${problem.received ?? ''} is not known here; remove it or check its spelling`;
    case 'missing':
      return `the ${quantity} is missing; give ${problem.expected ?? 'a value'}`;
    case 'wrong-type':
      return `the ${quantity} is ${problem.received ?? 'of the wrong kind'}, but must be ${problem.expected ?? 'something else'}`;
    case 'out-of-range':
      return `the ${quantity} is ${problem.received ?? 'out of range'}, but must be ${allowedRange(problem)}`;
    case 'not-allowed':
      return `${problem.received ?? 'this value'} is not allowed; choose ${problem.expected ?? 'another'}`;
    case 'inconsistent':
      return `${problem.received === undefined ? '' : `${problem.received} does not fit; `}needed here is ${problem.expected ?? 'another value'}`;
    case 'newer-version':
      return `the file is of version ${problem.received ?? '?'}, newer than this program reads (${problem.expected ?? ''}); update Yundro to open it`;
    case 'too-deep':
      return `brackets and braces stand deeper within each other than ${problem.expected ?? 'allowed'}; a stage file has no such depth`;
    case 'ambiguous-quantity':
      return `“${problem.received ?? ''}” may mean either: write ${problem.expected ?? 'it without the comma'}`;
    case 'unreadable-quantity':
      return `“${problem.received ?? ''}” cannot be read here; type ${problem.expected ?? 'a number'}`;
  }
}

/** One problem as one sentence for the designer, the place in the file first. @public */
export function problemSentence(problem: Problem): string {
  const text = body(problem);
  const where =
    (problem.code === 'unreadable-quantity' || problem.code === 'ambiguous-quantity') && problem.path === ''
      ? ''
      : `At ${problem.path === '' ? 'the top level' : problem.path}: `;
  const sentence = where + text;
  return `${sentence.charAt(0).toUpperCase()}${sentence.slice(1)}.`;
}

/** All problems as one sentence: the first in full, the others by their places. @public */
export function problemsSentence(problems: readonly Problem[]): string {
  const [first, ...others] = problems;
  if (!first) return 'Nothing is wrong.';
  if (others.length === 0) return problemSentence(first);
  const places = others.slice(0, 5).map((p) => (p.path === '' ? 'the top level' : p.path));
  const more = others.length > 5 ? ', …' : '';
  const sentence = problemSentence(first).slice(0, -1);
  return `${sentence} (and ${String(others.length)} more to mend, at ${places.join(', ')}${more}).`;
}
