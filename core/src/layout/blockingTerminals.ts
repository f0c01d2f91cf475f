import type { Element } from '../circuit/elements.js';
import { average } from '../orbit/measures.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import { voltageOf } from '../orbit/signal.js';

/** Terminals of a switch or diode so that what it blocks counts positive, whichever way round it was drawn: drain or cathode first. */
export const blockingTerminals = (
  solution: PeriodicSolution,
  { name, a, b }: Pick<Element, 'name' | 'a' | 'b'>,
): readonly [plus: string, minus: string] => (average(solution, voltageOf(name)) >= 0 ? [a, b] : [b, a]);
