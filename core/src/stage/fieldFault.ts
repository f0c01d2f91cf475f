import { sentenceQuantity } from '../quantity/engineering.js';
import type { Problem, Relation } from '../result.js';
import { pathKey, pathText, valueAt, type StagePath } from './place.js';
import { problemSentence } from './problemSentence.js';
import { stageField } from './schema.js';

/** What is on the screen: the names of the fields, the texts in them, and the values in force. @public */
export interface OnScreen {
  /** The label of a field; undefined where none is known. */
  readonly labelOf: (path: StagePath) => string | undefined;
  /** A text that stands in a field and is not in force. */
  readonly textOf: (path: StagePath) => string | undefined;
  readonly document: unknown;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A place by its label, else by its quantity. @public */
export const nameOf = (path: StagePath, { labelOf }: Pick<OnScreen, 'labelOf'>): string =>
  labelOf(path) ?? capital(stageField(path)?.quantity ?? pathText(path));

/** What a field shows: its text under way, else the value in force. */
function shownAt(path: StagePath, screen: OnScreen): string {
  const text = screen.textOf(path);
  if (text !== undefined) return text;
  const value = valueAt(screen.document, path);
  const meta = stageField(path);
  return typeof value === 'number' && meta ? sentenceQuantity(value, meta.unit) : String(value);
}

/** Two values in each other's way, said from the field that was typed into, with the ways out. */
function relationSentence(relation: Relation, typed: StagePath, screen: OnScreen): string {
  const { lower, upper, strict, because } = relation;
  const why = because === undefined ? '' : `, as ${because}`;
  const [low, high] = [nameOf(lower, screen), nameOf(upper, screen)];
  const [lowText, highText] = [shownAt(lower, screen), shownAt(upper, screen)];
  const fault = strict ? 'is not below' : 'is above';
  if (pathKey(typed) === pathKey(upper))
    return `${high}, ${highText}, ${strict ? 'is not above' : 'is below'} ${low}, ${lowText}${why}: write ${strict ? `more than ${lowText}` : `${lowText} or more`}, or lower ${low}.`;
  const ways =
    pathKey(typed) === pathKey(lower)
      ? `write ${strict ? `less than ${highText}` : `${highText} or less`}, or raise ${high}`
      : `lower ${low}, or raise ${high}`;
  return `${low}, ${lowText}, ${fault} ${high}, ${highText}${why}: ${ways}.`;
}

/**
 * Why a text cannot be taken, in the words of the screen: the fields concerned by their labels and texts as they stand, and the way
 * out.
 *
 * @param typed the place of the field that was typed into.
 * @public
 */
export function fieldFault(problem: Problem, typed: StagePath, screen: OnScreen): string {
  if (problem.relation) return relationSentence(problem.relation, typed, screen);
  const path = problem.path === '' || problem.path === pathText(typed) ? typed : undefined;
  const said = { ...problem, path: '', ...(path && { quantity: nameOf(path, screen) }) };
  const text = path && screen.textOf(path);
  const own = text !== undefined && problem.received !== undefined ? { ...said, received: text } : said;
  return capital(
    problemSentence(own)
      .replace(/^At [^:]+: /, '')
      .replace(/^the /i, ''),
  );
}
