import { marginsAt, type CornerMargins } from '../corners/loopCorners.js';
import type { Spread } from '../corners/designValues.js';
import type { CornerResult } from '../corners/evaluate.js';
import type { Complex } from '../linalg/complex.js';
import { operatingPointIn } from '../modes/operatingMode.js';
import { closeLoop, type CloseOptions } from '../smallsignal/closedLoop.js';
import { loopFrequencies, LoopResponse, type NoLoop } from '../smallsignal/loopResponse.js';
import { marginsOf } from '../smallsignal/margins.js';
import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { valueAt, withValue } from '../stage/place.js';
import type { Stage } from '../stage/schema.js';
import type { SolvedPoint } from '../steady/operatingPoint.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { powerStageOf } from '../powerstage/powerStageOf.js';
import { loopSpreads } from './loopSpreads.js';
import { randomOf } from './random.js';

/** One set of parts, each somewhere within its tolerance. @public */
export interface Sample {
  readonly index: number;
  readonly loop: CornerMargins | NoLoop;
  /** The loop gain at the frequencies of the band; empty where there is no loop. */
  readonly gains: readonly Complex[];
  /** What of stability and the margins asked for it does not keep; empty where it passes. */
  readonly misses: readonly Missed[];
}

/** @public */
export type Missed = 'loop' | 'stability' | 'phase margin' | 'gain margin';

/** Frequencies at which a sample is looked at: crossings are refined between them, and the band is drawn through them. */
const POINTS = 28;
/** Lowest of them, as a share of the switching frequency. */
const FROM = 1e-3;

/** The frequencies of the band, Hz. @public */
export function bandFrequencies(switchingFrequency: number): readonly number[] {
  const [first = 1, last = first] = loopFrequencies(switchingFrequency, 2);
  const low = Math.max(first, FROM * switchingFrequency);
  return Array.from({ length: POINTS }, (_, k) => low * (last / low) ** (k / (POINTS - 1)));
}

/**
 * Scatter the parts of a stage over their tolerances and work the exact loop of each set at one corner. Every value is spread
 * evenly between its limits and independently of the others: harder than real lots, which gather about their middle.
 *
 * @param at the corner, solved with every part at its stated value.
 * @param seed the same seed and index give the same set of parts, whatever else is worked.
 * @public
 */
export function loopSampler(complete: CompleteStage, at: CornerResult, seed = 1): ((index: number) => Sample) | string {
  const { corner, result } = at;
  if (result.kind !== 'solved') return result.reason;
  const { stage } = complete;
  const spreads = loopSpreads(stage);
  const { inputVoltage, outputCurrent, temperature } = corner;
  const condition: OperatingCondition = {
    inputVoltage,
    ambient: temperature,
    load: { kind: 'current', current: outputCurrent },
  };
  const frequencies = bandFrequencies(complete.switchingFrequency);
  // The loop of the stated stage, from which the scattered ones are not far.
  const stated = closeLoop(complete, condition, result);
  const like = stated.kind === 'closed' ? { loop: stated.loop, precision: ORBIT_PRECISION } : undefined;
  return (index) => {
    const scattered = scatter(stage, spreads, randomOf(seed, index));
    const loop = loopOf(scattered, condition, result, complete.inductor.inductance, like);
    if (typeof loop === 'string')
      return { index, loop: { kind: 'unsolved', why: 'not-converged', reason: loop }, gains: [], misses: ['loop'] };
    const points = frequencies.map((frequency) => ({ frequency, value: loop.loop(frequency) }));
    const margins = marginsAt(
      loop,
      marginsOf(points, (frequency) => loop.loop(frequency), SAMPLE_PRECISION),
      stage.control.scheme,
    );
    return { index, loop: margins, gains: points.map(({ value }) => value), misses: missedBy(margins, stage.targets) };
  };
}

/** Precision of a sample's crossings, of their logarithm: margins to a hundredth of a degree. */
const SAMPLE_PRECISION = 1e-4;
/** Relative precision of a sample's orbit. */
const ORBIT_PRECISION = 1e-4;

function missedBy(
  { stable, phaseMargin, gainMayRise }: CornerMargins,
  { phaseMargin: degrees, gainMargin: decibels }: Stage['targets'],
): readonly Missed[] {
  const reached = phaseMargin.kind === 'found' ? phaseMargin.value : -Infinity;
  const missed: readonly (readonly [boolean, Missed])[] = [
    [!stable, 'stability'],
    [degrees !== undefined && reached < degrees, 'phase margin'],
    [decibels !== undefined && gainMayRise !== undefined && gainMayRise < decibels, 'gain margin'],
  ];
  return missed.flatMap(([misses, what]) => (misses ? [what] : []));
}

/** A stage with each of its values somewhere between the ends of its spread. */
export function scatter(stage: Stage, spreads: readonly Spread[], next: () => number): Stage {
  return spreads.reduce<unknown>((document, { path, low, high }) => {
    const factor = low + (high - low) * next();
    const value = valueAt(stage, path);
    return typeof value === 'number' ? withValue(document, path, value * factor) : document;
  }, stage) as Stage;
}

/** Distance of the inductor current from zero, over its ripple, from which no tolerance brings it there. */
const AWAY = 0.5;

/** Whether diodes conduct in a scattered stage as they do in the stated one: else what conducts must be found anew. */
function keepsItsOutcomes({ operatingMode, rectifier, deadTime }: Stage, { point }: SolvedPoint): boolean {
  if (operatingMode !== 'forced-pwm') return false;
  if (rectifier === 'synchronous' && deadTime === 0) return true;
  const { valley, ripple } = point.inductorCurrent;
  return valley > AWAY * ripple;
}

/** The closed loop of a scattered stage, sought from the steady state of the stated one; the words for why there is none. */
function loopOf(
  stage: Stage,
  condition: OperatingCondition,
  stated: SolvedPoint,
  nominal: number,
  like: CloseOptions['like'],
): LoopResponse | string {
  const complete = completeStage(stage);
  if (!complete.ok) return 'the stage is not complete';
  let solved: SolvedCircuit;
  let near = like;
  if (keepsItsOutcomes(stage, stated)) {
    // The closed loop regulates itself: the stated steady state is near enough to begin with.
    const { inductor } = complete.value;
    const effective = stated.saturation
      ? {
          ...complete.value,
          inductor: {
            ...inductor,
            // As much of the stated inductance is left as in the stated stage.
            inductance: (stated.saturation.effectiveInductance * inductor.inductance) / nominal,
          },
        }
      : complete.value;
    solved = { powerStage: powerStageOf(effective, condition), solution: stated.solution };
  } else {
    const found = operatingPointIn(stage.operatingMode, complete.value, condition, { near: { point: stated } });
    if (found.kind !== 'solved') return found.reason;
    solved = found;
    near = undefined;
  }
  const closed = closeLoop(complete.value, condition, solved, { like: near });
  return closed.kind === 'closed' ? new LoopResponse(closed.loop) : closed.reason;
}
