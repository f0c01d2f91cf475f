import { formatQuantity } from '../quantity/engineering.js';
import { pathText } from '../stage/place.js';
import type { Stage } from '../stage/schema.js';
import { ledgerOf } from './ledger.js';
import { loopLedger } from './loopLedger.js';
import type { EvaluatedStage } from './evaluate.js';
import { judgeLoop, type JudgedLoop } from './loopVerdicts.js';
import { lineWithoutDrivers, type LedgerLine } from './marginProbe.js';
import { nextSteps, type NextStep } from './nextSteps.js';
import { transientLedger } from './transientLedger.js';
import { judgeTransient, type JudgedTransient } from './transientVerdicts.js';
import { isSteady, marginText, type Remedy, type Verdict } from './verdict.js';

const SIDES = [
  ['outputCapacitors', 'output capacitors'],
  ['inputCapacitors', 'input capacitors'],
] as const;

/** A change in words: "4 output capacitors instead of 3". @public */
export function changeWords({ quantity, path, unit, from, to }: NextStep): string {
  const write = (value: number): string => (unit === 'count' ? String(value) : formatQuantity(value, unit, 3));
  const [, place] = SIDES.find(([key]) => path.includes(key)) ?? [];
  if (unit === 'count' && place !== undefined) return `${write(to)} ${place} instead of ${write(from)}`;
  return `${quantity}${place === undefined ? '' : ` of the ${place}`} ${write(to)} instead of ${write(from)}`;
}

const margin = (value: number | null): string => (value === null ? 'none' : marginText(value));

/**
 * What mends a target that fails: each the change of one value, worked whole, after which the target holds and nothing fails that held
 * before. Empty where no single value does.
 */
function remediesOf(stage: Stage, line: LedgerLine, goesOn: () => boolean): readonly Remedy[] {
  return nextSteps(stage, line, goesOn)
    .filter(({ clean }) => clean)
    .map((step) => ({
      path: pathText(step.path),
      from: step.from,
      to: step.to,
      effect: `${changeWords(step)}: margin of the ${step.mended.quantity} from ${margin(step.mended.before)} to ${margin(step.mended.after)}, nothing else fails by it`,
    }));
}

/**
 * The whole ledger of a stage: steady state, loop and load step with what drives each margin; what fails carries its remedies. What
 * drives a load step that holds is not worked, as it takes a simulation for each value.
 *
 * @param goesOn whether there is time left to look for what mends; a line that was not looked at to the end has no remedies at all.
 * @public
 */
export function wholeLedger(
  evaluated: EvaluatedStage,
  loop: JudgedLoop,
  transient: JudgedTransient,
  goesOn: () => boolean = () => true,
): readonly LedgerLine[] {
  const { stage } = evaluated.evaluation;
  const missed = transient.verdicts.some(({ pass }) => !pass);
  const lines = [
    ...ledgerOf(evaluated),
    ...loopLedger(evaluated, loop),
    ...(missed ? transientLedger(stage, transient, goesOn) : transient.verdicts.map(lineWithoutDrivers)),
  ];
  return lines.map((line) => {
    if (line.pass) return line;
    const remedies = [...remediesOf(stage, line, goesOn)];
    // That there is none is known only where the search was not cut short.
    return remedies.length > 0 || goesOn() ? { ...line, remedies } : line;
  });
}

/**
 * The verdicts of a stage that has been judged in everything, those that fail with their remedies.
 *
 * @public
 */
export function withRemedies(evaluated: EvaluatedStage, goesOn: () => boolean = () => true): readonly Verdict[] {
  const { verdicts } = evaluated.evaluation;
  if (verdicts.every(({ pass }) => pass) || !goesOn()) return verdicts;
  const judged = { ...evaluated, evaluation: { ...evaluated.evaluation, verdicts: verdicts.filter(isSteady) } };
  const lines = wholeLedger(judged, judgeLoop(evaluated), judgeTransient(evaluated.complete), goesOn);
  return verdicts.map((verdict) => {
    const remedies = lines.find(({ target }) => target === verdict.target)?.remedies;
    return remedies === undefined ? verdict : { ...verdict, remedies };
  });
}
