import { comesToRest } from '../orbit/course.js';
import { saturatedSwing, type InductanceCurve, type SaturatedSwing } from '../parts/inductanceCurve.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { idealPoint } from '../powerstage/idealPoint.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { average, extremes } from '../orbit/measures.js';
import { currentOf } from '../orbit/signal.js';
import { solveCircuit, type SolvedCircuit, type SolveOptions, type UnsolvedPoint } from './solveCircuit.js';

/** What saturation does to the inductor at a point. */
export interface Saturation extends SaturatedSwing {
  /** Swing of the flux linkage over the period, V s. */
  readonly fluxSwing: number;
  /** The constant inductance with the same ripple, with which the circuit was solved, H. */
  readonly effectiveInductance: number;
  /** Average of the current, and its peak with that inductance, A. */
  readonly average: number;
  readonly linearPeak: number;
  /** Flux swing and average over those of the loss-free stage: much the same at a like condition. */
  readonly overIdeal: { readonly fluxSwing: number; readonly average: number };
}

/** A solved circuit, with what saturation does in it; without, where there is no ripple to speak of. */
export type SaturatingCircuit = {
  readonly kind: 'solved';
  readonly saturation?: Saturation | undefined;
} & SolvedCircuit;

/** Rounds in which the effective inductance settles, and the relative change at which it has. */
const MOST_ROUNDS = 30;
const SETTLED = 1e-5;
/** A valley this small beside the ripple is that of a current that has stopped. */
const STOPPED = 1e-6;

/** Whether a diode rectifier stops conducting before its turn is over. Idling within a dead time does not count. */
export function isDiscontinuous(
  { stage, diodeEmulation }: CompleteStage,
  { powerStage, solution }: SolvedCircuit,
): boolean {
  const intervals = powerStage.phases[0]?.intervals ?? [];
  return (
    (stage.rectifier === 'diode' || diodeEmulation) &&
    intervals.some((interval, i) => comesToRest(interval, solution.courses[i] ?? []))
  );
}

/** The saturation of a circuit that was solved with a constant inductance. */
function saturationOf(
  complete: CompleteStage,
  condition: OperatingCondition,
  { solution, powerStage }: SolvedCircuit,
  curve: InductanceCurve,
): Saturation | undefined {
  const current = currentOf(powerStage.elements.inductors[0] ?? '');
  const { max, min, peakToPeak } = extremes(solution, current);
  if (peakToPeak === 0) return undefined;
  const effectiveInductance = complete.inductor.inductance;
  const fluxSwing = effectiveInductance * peakToPeak;
  const mean = average(solution, current);
  const stopped = isDiscontinuous(complete, { powerStage, solution }) && min >= -STOPPED * peakToPeak;
  const swing = saturatedSwing(curve, fluxSwing, mean, stopped);
  const ideal = idealSwing(complete, condition);
  const overIdeal = { fluxSwing: fluxSwing / ideal.fluxSwing, average: ideal.average > 0 ? mean / ideal.average : 1 };
  return { ...swing, fluxSwing, effectiveInductance, average: mean, linearPeak: max, overIdeal };
}

/** Flux swing and average of the loss-free stage in continuous conduction: nearly those of the real one. */
function idealSwing({ stage, switchingFrequency }: CompleteStage, { inputVoltage, load }: OperatingCondition) {
  const { onVoltage, duty, phaseCurrent } = idealPoint(stage, inputVoltage);
  const vOut = Math.abs(stage.targets.outputVoltage);
  const current =
    load.kind === 'current' ? load.current : load.kind === 'power' ? load.power / vOut : vOut / load.resistance;
  return {
    fluxSwing: (onVoltage * duty) / switchingFrequency,
    average: (phaseCurrent * current) / stage.targets.outputCurrent.max,
  };
}

/** The inductance to start with: that of the ideal swing, corrected by how far a solved neighbour is from its own ideal. */
function firstGuess(
  complete: CompleteStage,
  condition: OperatingCondition,
  curve: InductanceCurve,
  before: Saturation | undefined,
): number {
  const ideal = idealSwing(complete, condition);
  const fluxSwing = ideal.fluxSwing * (before?.overIdeal.fluxSwing ?? 1);
  const average = ideal.average * (before?.overIdeal.average ?? 1);
  if (!(fluxSwing > 0) || !Number.isFinite(average)) return complete.inductor.inductance;
  const { peak, valley } = saturatedSwing(curve, fluxSwing, average, false);
  return fluxSwing / (peak - valley);
}

/**
 * Solve a stage whose inductor loses inductance with current: with the constant inductance that has the same ripple, found by
 * iteration. The flux swing hardly depends on it, so each round is nearer by some orders of magnitude. Figures are measured by
 * the caller, once, on the circuit that is returned.
 */
export function solveSaturating(
  complete: CompleteStage,
  condition: OperatingCondition,
  curve: InductanceCurve,
  options: SolveOptions & {
    readonly near?: (SolveOptions['near'] & { readonly saturation?: Saturation | undefined }) | undefined;
  },
): SaturatingCircuit | UnsolvedPoint {
  let near: SolveOptions['near'] = options.near;
  let inductance =
    options.near?.saturation && complete.diodeEmulation
      ? options.near.saturation.effectiveInductance
      : firstGuess(complete, condition, curve, options.near?.saturation);
  for (let round = 1; ; round += 1) {
    const tried: CompleteStage = { ...complete, inductor: { ...complete.inductor, inductance } };
    const found = solveCircuit(tried, condition, { ...options, near });
    if (found.kind === 'unsolved') return found;
    const saturation = saturationOf(tried, condition, found, curve);
    if (!saturation) return found;
    const next = saturation.fluxSwing / (saturation.peak - saturation.valley);
    if (Math.abs(next - inductance) <= SETTLED * inductance || round === MOST_ROUNDS) return { ...found, saturation };
    inductance = next;
    near = { ...found, duty: found.solution.duty };
  }
}
