import type { EvaluatedStage } from '../corners/evaluate.js';
import { isSteady, type Verdict } from '../corners/verdict.js';
import type { Stage } from '../stage/schema.js';
import { workedWith } from './powerParts.js';

/** A target that would have to be given up, or a choice made otherwise, for every target to hold: from what is asked to what does. @public */
export interface Concession {
  readonly target: string;
  readonly from: number | string;
  readonly to: number | string;
}

/** Decimals to which a target is given that the best design does reach. */
const DIGITS = 3;
/** Halvings of the load until what it still carries is known well enough. */
const HALVINGS = 6;
/** How far outside its allowed range a switching frequency is looked at. */
const FREQUENCY_REACH = 2;
const MOST_PHASES = 4;
/** Shares of the load that are looked at where no record carries all of it. */
const LIGHTER = [0.7, 0.5, 0.3, 0.2, 0.1];

const rounded = (value: number): number => Number(value.toPrecision(DIGITS));
const fails = ({ pass }: Verdict): boolean => !pass;

/** A stage with less of a full load, A. */
const loaded = (stage: Stage, max: number): Stage => ({
  ...stage,
  targets: { ...stage.targets, outputCurrent: { min: Math.min(stage.targets.outputCurrent.min, max), max } },
});

/** The highest load, A, at which nothing in the steady state fails that has no figure: a runaway, a corner without an operating point. */
function loadCarried(stage: Stage): number | undefined {
  const { outputCurrent } = stage.targets;
  let [carried, most] = [0, outputCurrent.max];
  for (let k = 0; k < HALVINGS; k += 1) {
    const max = (carried + most) / 2;
    const worked = workedWith(loaded(stage, max), {});
    if (worked?.evaluation.verdicts.some((one) => fails(one) && one.worst === null) === false) carried = max;
    else most = max;
  }
  return carried > 0 ? carried : undefined;
}

/** The stage with one choice made otherwise that its targets do not state a value of: rectifier, phases, a frequency outside the range. */
function* otherwise({ rectifier, phases, coupling, targets }: Stage): Generator<{
  readonly given: Concession;
  readonly change: Partial<Stage>;
}> {
  const other = rectifier === 'diode' ? 'synchronous' : 'diode';
  if (rectifier === 'diode')
    yield { given: { target: 'rectifier', from: rectifier, to: other }, change: { rectifier: other } };
  if (phases < MOST_PHASES && coupling.kind === 'none')
    yield { given: { target: 'phases', from: phases, to: phases + 1 }, change: { phases: phases + 1 } };
  const range = targets.switchingFrequency;
  if (!range) return;
  for (const [edge, frequency] of [
    ['min', range.min / FREQUENCY_REACH],
    ['max', range.max * FREQUENCY_REACH],
  ] as const)
    yield {
      given: {
        target: `targets.switchingFrequency.${edge}`,
        from: rounded(range[edge]),
        to: rounded(frequency),
      },
      change: {
        switchingFrequency: rounded(frequency),
        targets: { ...targets, switchingFrequency: { ...range, [edge]: frequency } },
      },
    };
}

/** Both at once where no choice does alone: a switch in place of the diode, and as many phases as it takes. */
function both(asked: Stage, holds: (stage: Stage) => boolean): readonly Concession[] {
  const { rectifier, phases, coupling } = asked;
  if (coupling.kind !== 'none') return [];
  for (let more = phases + 1; more <= MOST_PHASES; more += 1)
    if (holds({ ...asked, rectifier: 'synchronous', phases: more }))
      return [
        rectifier === 'synchronous'
          ? { target: 'phases', from: phases, to: more }
          : {
              target: 'rectifier and phases',
              from: `${rectifier}, ${String(phases)}`,
              to: `synchronous, ${String(more)}`,
            },
      ];
  return [];
}

/**
 * What would have to be given for a design that misses targets: each target missed with what the design reaches; where a corner gives no
 * figure, the load it carries; and, where the steady state fails or no record does, other choices with which a draft holds all of it: the
 * other rectifier, one phase more, a frequency outside the range.
 *
 * @param lacksRecord whether a part that was to be chosen is no record: none of them does what is asked.
 * @param holds whether a draft of another stage, every part a record, holds all of its steady state.
 */
export function nearestOf(
  asked: Stage,
  { evaluation }: EvaluatedStage,
  lacksRecord: boolean,
  holds: (stage: Stage) => boolean,
): readonly Concession[] {
  const failing = evaluation.verdicts.filter(fails);
  const reached = failing.flatMap(({ target, required, worst }): readonly Concession[] =>
    worst === null ? [] : [{ target, from: required, to: rounded(worst) }],
  );
  if (!failing.some(isSteady) && !lacksRecord) return reached;
  const { stage } = evaluation;
  const { max } = stage.targets.outputCurrent;
  const carried = failing.some(({ worst }) => worst === null) ? loadCarried(stage) : undefined;
  const load =
    carried ?? (lacksRecord ? LIGHTER.map((share) => share * max).find((one) => holds(loaded(asked, one))) : undefined);
  const lighter = load === undefined ? [] : [{ target: 'targets.outputCurrent.max', from: max, to: rounded(load) }];
  const others = [...otherwise(asked)].flatMap(({ given, change }) => (holds({ ...asked, ...change }) ? [given] : []));
  const alone = [...reached, ...lighter, ...others];
  return alone.length > 0 ? alone : both(asked, holds);
}
