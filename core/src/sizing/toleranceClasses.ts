import { outputTolerance, USUAL_TOLERANCES } from '../controller/outputTolerance.js';
import type { EvaluatedStage } from '../corners/evaluate.js';
import { outputError } from '../corners/targetRules.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { Stage } from '../stage/schema.js';
import type { Choice } from './choice.js';

/** Classes that resistors and references are sold in, the usual one first. Finer: dearer. Common practice. */
const RESISTORS = [USUAL_TOLERANCES.resistors, 0.005, 0.001] as const;
const REFERENCES = [USUAL_TOLERANCES.reference, 0.005, 0.0025] as const;

/** How far the output is from its target at the worst corner by what the stage does of itself, half its ripple included; relative. */
const errorOfItself = ({ corners, evaluation }: Worked): number =>
  Math.max(
    0,
    ...corners.map(({ result }) =>
      result.kind === 'solved' ? outputError(result.point, evaluation.stage.targets.outputVoltage) : 0,
    ),
  );

/** A stage worked at its corners. */
type Worked = Pick<EvaluatedStage, 'corners' | 'evaluation'>;

/**
 * The classes of resistors and reference that keep the output within its tolerance with everything at its worst: finer resistors
 * before a finer reference, which limits the choice of controllers. What is stated stays.
 *
 * @param worked the stage with all else that sets its output: constant on-time settles beside the divider's voltage.
 */
export function toleranceClasses(worked: Worked): {
  readonly control: Stage['control'];
  readonly choices: readonly Choice[];
} {
  const { control, targets } = worked.evaluation.stage;
  const allowed = targets.outputVoltageTolerance;
  const nothing = { control, choices: [] };
  if (allowed === undefined) return nothing;
  const { tolerances } = control;
  const resistors = tolerances?.resistors === undefined ? RESISTORS : [tolerances.resistors];
  const references = control.referenceTolerance === undefined ? REFERENCES : [control.referenceTolerance];
  const besides = errorOfItself(worked);
  const tried = references.flatMap((referenceTolerance) =>
    resistors.map((one) => ({ ...control, referenceTolerance, tolerances: { ...tolerances, resistors: one } })),
  );
  const errors = tried.map((one) => outputTolerance({ control: one, targets })?.worstCase.value);
  if (errors.some((error) => error === undefined)) return nothing;
  const enough = tried.find((_, k) => (errors[k] ?? Infinity) + besides <= allowed);
  const fits = enough ?? tried.at(-1);
  if (!fits) return nothing;
  const percent = (value: number): string => `${formatQuantity(100 * value, 'count', 3)} %`;
  const choices: Choice[] = [];
  const choose = (path: string, quantity: string, value: number, rule: string): void => {
    choices.push({ path, quantity, unit: 'ratio', value, rule, source: 'Common practice' });
  };
  const within = enough
    ? `so that the output stays within ${percent(allowed)} with everything at its worst, ripple included`
    : `the finest there usually is: with everything at its worst, ripple included, even so not always within ${percent(allowed)}`;
  if (tolerances?.resistors === undefined)
    choose(
      'control.tolerances.resistors',
      'tolerance of the resistors',
      fits.tolerances.resistors,
      `Class of the divider, ${within}.`,
    );
  if (control.referenceTolerance === undefined)
    choose(
      'control.referenceTolerance',
      'tolerance of the reference',
      fits.referenceTolerance,
      `Needed of the controller, ${within}.`,
    );
  return { control: fits, choices };
}
