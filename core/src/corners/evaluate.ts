import { z } from 'zod';
import { good, type Result } from '../result.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { stageSchema, type Stage } from '../stage/schema.js';
import { sameCourses } from '../orbit/course.js';
import { operatingPointIn } from '../modes/operatingMode.js';
import { operatingPointSchema, type Near, type SolvedPoint } from '../steady/operatingPoint.js';
import type { UnsolvedPoint } from '../steady/solveCircuit.js';
import { cornersOf, type Corner } from './corners.js';
import { targetRules, unjudgedTargets, type TargetRule } from './targetRules.js';
import { verdictSchema, type Verdict } from './verdict.js';
import { leastMargin, type LeastMargin } from './leastMargin.js';
import { worstVerdict } from './worstVerdict.js';

/** What `evaluate` and `size` report. @public */
export const evaluationSchema = z.strictObject({
  stage: stageSchema,
  operatingPoints: z.array(operatingPointSchema),
  verdicts: z.array(verdictSchema),
  /** Targets stated in the stage that nothing judges yet, in words. */
  notJudged: z.array(z.string()),
  /** What the losses and efficiencies leave out, as the records do not state it: a sentence each. */
  notIncluded: z.array(z.string()),
});
/** @public */
export type Evaluation = z.infer<typeof evaluationSchema>;

/** An evaluated corner, with its waveforms when it has an operating point. @public */
export interface CornerResult {
  readonly corner: Corner;
  readonly result: SolvedPoint | UnsolvedPoint;
}

/** An evaluation together with what lies behind its numbers. @public */
export interface EvaluatedStage {
  readonly evaluation: Evaluation;
  readonly complete: CompleteStage;
  readonly corners: readonly CornerResult[];
}

/** What losses leave out, a sentence each. @public */
export const leftOutSentences = (unknown: readonly string[]): string[] =>
  unknown.map((what) => `The losses are without the ${what}, which is not stated.`);

/** What the losses of some corner leave out, each named once. */
const leftOut = (corners: readonly CornerResult[]): readonly string[] => [
  ...new Set(corners.flatMap(({ result }) => (result.kind === 'solved' ? result.heat.unknown : []))),
];

function judged(rule: TargetRule, corners: readonly CornerResult[]): Verdict | undefined {
  const { target, quantity, unit, sense, required, figure } = rule;
  const base = { target, quantity, unit, sense, required, figure };
  // A corner without an operating point fails the regulation of the output; the other targets are judged where there is one.
  const unsolved = target === 'dutyMax' ? corners.find(({ result }) => result.kind === 'unsolved') : undefined;
  if (unsolved?.result.kind === 'unsolved') {
    return { ...base, worst: null, margin: null, pass: false, corner: unsolved.corner, reason: unsolved.result.reason };
  }
  return worstVerdict(
    rule,
    corners.map(({ corner, result }) => ({
      corner,
      actual: result.kind === 'solved' ? rule.actual(result.point, corner) : undefined,
    })),
  );
}

/** What is nearest to failing at each corner of a stage, of all that its steady state decides; in the order of its corners. @public */
export function cornerMargins({ complete, corners }: EvaluatedStage): readonly (LeastMargin | undefined)[] {
  const rules = targetRules(complete);
  return corners.map(({ corner, result }) =>
    leastMargin(
      rules.map((rule) => ({
        rule,
        actual: result.kind === 'solved' ? rule.actual(result.point, corner) : { reason: result.reason },
      })),
    ),
  );
}

/** Among the corners solved already, the one to start from, and the duty ratio expected from those around. */
function neighbourOf(corner: Corner, solved: readonly CornerResult[]): Near | undefined {
  const at = (inputVoltage: number | undefined, outputCurrent: number | undefined): SolvedPoint | undefined => {
    const one = solved.find(
      ({ corner: c }) => c.inputVoltage === inputVoltage && c.outputCurrent === outputCurrent,
    )?.result;
    return one?.kind === 'solved' ? one : undefined;
  };
  const { inputVoltage, outputCurrent } = corner;
  const inputBefore = solved.findLast((one) => one.corner.inputVoltage !== inputVoltage)?.corner.inputVoltage;
  const loadsHere = solved.filter((one) => one.corner.inputVoltage === inputVoltage);
  const lastLoad = loadsHere.at(-1)?.corner.outputCurrent;
  const sameLoad = at(inputBefore, outputCurrent);
  const last = at(inputVoltage, lastLoad);
  const lastAtInputBefore = at(inputBefore, lastLoad);
  if (sameLoad) {
    // As the duty ratio went from one load to the next at the input before.
    if (!last || !lastAtInputBefore) return { point: sameLoad };
    return { point: sameLoad, duty: (sameLoad.solution.duty * last.solution.duty) / lastAtInputBefore.solution.duty };
  }
  const earlierLoad = loadsHere.at(-2)?.corner.outputCurrent;
  const earlier = at(inputVoltage, earlierLoad);
  if (!last || lastLoad === undefined || !earlier || earlierLoad === undefined) return undefined;
  const alike = sameCourses(earlier.solution.courses, last.solution.courses);
  if (!alike) return { point: last, duty: last.solution.duty };
  const slope = (last.solution.duty - earlier.solution.duty) / (lastLoad - earlierLoad);
  return { point: last, duty: last.solution.duty + slope * (outputCurrent - lastLoad) };
}

/**
 * Work a whole stage: every corner of input voltage and load, and a verdict for each target at its worst corner.
 *
 * @returns the evaluation with its waveforms, or what the stage still lacks.
 * @public
 */
export function evaluateStage(stage: Stage): Result<EvaluatedStage> {
  const complete = completeStage(stage);
  if (!complete.ok) return complete;
  const corners: CornerResult[] = [];
  for (const corner of cornersOf(stage)) {
    const near = neighbourOf(corner, corners);
    const condition = {
      inputVoltage: corner.inputVoltage,
      ambient: corner.temperature,
      load: { kind: 'current' as const, current: corner.outputCurrent },
    };
    corners.push({ corner, result: operatingPointIn(stage.operatingMode, complete.value, condition, { near }) });
  }
  const verdicts = targetRules(complete.value).flatMap((rule) => judged(rule, corners) ?? []);
  const operatingPoints = corners.flatMap(({ result }) => (result.kind === 'solved' ? [result.point] : []));
  return good({
    evaluation: {
      stage,
      operatingPoints,
      verdicts,
      notJudged: [...unjudgedTargets(complete.value)],
      notIncluded: leftOutSentences(leftOut(corners)),
    },
    complete: complete.value,
    corners,
  });
}
