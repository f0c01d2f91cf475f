import type { Margin } from '../smallsignal/margins.js';
import { crossoverLimits, type CrossoverLimit } from './crossoverLimits.js';
import type { Stage } from '../stage/schema.js';
import type { Corner } from './corners.js';
import type { EvaluatedStage } from './evaluate.js';
import { leastMargin, type LeastMargin } from './leastMargin.js';
import { lightLoadWords } from './lightLoadLoop.js';
import { loopCorners, type CornerLoop, type CornerMargins } from './loopCorners.js';
import { worstVerdict, type Actual, type Judged } from './worstVerdict.js';
import type { Verdict } from './verdict.js';

/** The loop of a stage at every corner, and the verdicts on it. @public */
export interface JudgedLoop {
  readonly corners: readonly CornerLoop[];
  readonly verdicts: readonly Verdict[];
  /** Crossovers against the limits of practice. */
  readonly limits: readonly CrossoverLimit[];
  /** Why there is no loop, where the stage says too little of one. */
  readonly reason?: string;
}

/** Words of the unjudged targets that a loop settles. */
const SETTLED = new Set(['phase margin', 'gain margin']);

/** What grows, in words: with the sign of the multiplier the way it does. */
function unstable({ largestMultiplier, alternates }: CornerMargins): string {
  const growth = `a disturbance grows by a factor of ${largestMultiplier.toFixed(3)} from period to period`;
  return alternates
    ? `the loop is unstable: ${growth} and changes its sign, so that long and short pulses alternate`
    : `the loop is unstable: ${growth}`;
}

/** The corner whose loop loses most in discontinuous conduction, in words. */
function lightLoadNote(corners: readonly CornerLoop[]): string | undefined {
  let most: CornerLoop | undefined;
  for (const one of corners)
    if (one.lightLoad && one.lightLoad.lostGain > (most?.lightLoad?.lostGain ?? -Infinity)) most = one;
  return most?.lightLoad && lightLoadWords(most.corner, most.lightLoad);
}

/** How one target is judged on a loop. */
export interface LoopRule {
  readonly rule: Judged;
  readonly actual: (loop: CornerLoop['loop']) => Actual['actual'];
  readonly note?: string | undefined;
}

/** The rules that the targets of a stage call for on its loop: stability, then the margins asked for. */
export function loopRules({ targets }: Stage, corners: readonly CornerLoop[]): readonly LoopRule[] {
  const found = (margin: Margin): Actual['actual'] =>
    margin.kind === 'found' ? margin.value : { reason: margin.reason };
  const rule = (
    judged: Omit<Judged, 'figure'>,
    actual: (loop: CornerMargins) => Actual['actual'],
    note?: string,
  ): LoopRule => ({
    rule: { ...judged, figure: 'loop' },
    actual: (loop) => (loop.kind === 'solved' ? actual(loop) : { reason: loop.reason }),
    note,
  });
  const { phaseMargin, gainMargin } = targets;
  return [
    rule(
      {
        target: 'loopStability',
        quantity: 'loop gain towards alternating pulses',
        unit: 'ratio',
        sense: 'at-most',
        required: 1,
      },
      (loop) => (loop.stable ? Math.max(0, -loop.subharmonicGain) : { reason: unstable(loop) }),
      lightLoadNote(corners),
    ),
    ...(phaseMargin === undefined
      ? []
      : [
          rule(
            { target: 'phaseMargin', quantity: 'phase margin', unit: 'deg', sense: 'at-least', required: phaseMargin },
            (loop) => found(loop.phaseMargin),
          ),
        ]),
    ...(gainMargin === undefined
      ? []
      : [
          rule(
            { target: 'gainMargin', quantity: 'gain margin', unit: 'dB', sense: 'at-least', required: gainMargin },
            (loop) => (loop.gainMargin.kind === 'found' ? loop.gainMargin.value : undefined),
          ),
          // A number of its own: how much the gain may rise where the phase does not limit it.
          rule(
            {
              target: 'subharmonicMargin',
              quantity: 'subharmonic margin',
              unit: 'dB',
              sense: 'at-least',
              required: gainMargin,
            },
            (loop) => (loop.gainMargin.kind === 'found' ? undefined : loop.gainMayRise),
            'held against the gain margin asked for, as the phase does not pass −180° below half the switching frequency',
          ),
        ]),
  ];
}

/** What of the loop is nearest to failing at each of its corners. @public */
export function loopMargins(
  stage: Stage,
  corners: readonly CornerLoop[],
): readonly { readonly corner: Corner; readonly least: LeastMargin | undefined }[] {
  const rules = loopRules(stage, corners);
  return corners.map(({ corner, loop }) => ({
    corner,
    least: leastMargin(rules.map(({ rule, actual }) => ({ rule, actual: actual(loop) }))),
  }));
}

/**
 * Judge the loop of an evaluated stage: stability from the multipliers, whatever the margins say, then the margins asked for.
 *
 * @param corners its loops, where they are worked already.
 * @public
 */
export function judgeLoop(evaluated: EvaluatedStage, corners = loopCorners(evaluated)): JudgedLoop {
  const incomplete = corners.find(({ loop }) => loop.kind === 'unsolved' && loop.why === 'incomplete');
  if (incomplete?.loop.kind === 'unsolved')
    return { corners: [], verdicts: [], limits: [], reason: incomplete.loop.reason };
  const verdicts = loopRules(evaluated.evaluation.stage, corners).flatMap(({ rule, actual, note }): Verdict[] => {
    const verdict = worstVerdict(
      rule,
      corners.map(({ corner, loop }) => ({ corner, actual: actual(loop) })),
    );
    return verdict ? [note === undefined ? verdict : { ...verdict, note }] : [];
  });
  return { corners, verdicts, limits: crossoverLimits(evaluated, corners) };
}

/** Why the loop of a stage is not judged at all; undefined where it is, or where none is wanted. @public */
export function unjudgedLoop(stage: Stage, { verdicts, reason }: JudgedLoop): string | undefined {
  if (verdicts.length > 0 || stage.control.scheme === 'open-loop') return undefined;
  return reason ?? 'no corner has an operating point';
}

/** An evaluation with the verdicts on its loop added, where it has one. @public */
export function withLoop(evaluated: EvaluatedStage, { verdicts }: JudgedLoop): EvaluatedStage {
  if (verdicts.length === 0) return evaluated;
  const { evaluation } = evaluated;
  return {
    ...evaluated,
    evaluation: {
      ...evaluation,
      verdicts: [...evaluation.verdicts, ...verdicts],
      notJudged: evaluation.notJudged.filter((words) => !SETTLED.has(words)),
    },
  };
}
