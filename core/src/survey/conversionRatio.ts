import { peakWithin } from '../linalg/goldenSection.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { withoutLosses } from './withoutLosses.js';

/** Output over input voltage against the duty ratio, at one input voltage and with a load resistance. @public */
export interface ConversionRatio {
  readonly inputVoltage: number;
  /** ohm */
  readonly loadResistance: number;
  readonly duties: readonly number[];
  /** Magnitude of output over input voltage; NaN where the stage has no steady state. */
  readonly withLosses: readonly number[];
  readonly lossFree: readonly number[];
  /** Where the ratio turns over, so that more duty gives less output: absent when it rises all the way. */
  readonly peak: { readonly duty: number; readonly ratio: number } | undefined;
}

const POINTS = 48;
/** Points lie closer towards full duty, where the ratio of boost and buck-boost is steep. */
const DENSER = 1.8;
const LOWEST = 0.02;
const HIGHEST = 0.98;
/** A last point lower than the highest by this share is a turn and not rounding. */
const TURNED = 1e-4;
const SEARCH_STEPS = 18;

/**
 * The conversion ratio of a stage, worked point by point with the engine, and that of the same stage without losses.
 *
 * The load is a resistance, the one that draws `outputCurrent` at the target output: a load that kept its current would have
 * no steady state at most duty ratios. (R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., ch. 3,
 * draws the ratio of the lossy boost in the same way.)
 *
 * @public
 */
export function conversionRatio(complete: CompleteStage, inputVoltage: number, outputCurrent: number): ConversionRatio {
  const loadResistance = Math.abs(complete.stage.targets.outputVoltage) / outputCurrent;
  const load = { kind: 'resistance' as const, resistance: loadResistance };
  const ideal = withoutLosses(complete);
  const real = withoutSeriesInductance(complete);
  const ratio = (stage: CompleteStage, fixedDuty: number): number => {
    const found = operatingPoint(stage, { inputVoltage, load }, { fixedDuty });
    return found.kind === 'solved' ? Math.abs(found.point.outputVoltage) / inputVoltage : NaN;
  };
  const duties = Array.from(
    { length: POINTS + 1 },
    (_, i) => LOWEST + (HIGHEST - LOWEST) * (1 - (1 - i / POINTS) ** DENSER),
  );
  const withLosses = duties.map((duty) => ratio(real, duty));
  const lossFree = duties.map((duty) => ratio(ideal, duty));
  const highest = withLosses.reduce((best, value, i) => (value > (withLosses[best] ?? -Infinity) ? i : best), 0);
  const last = withLosses.findLast((value) => Number.isFinite(value)) ?? NaN;
  const turns = last < (withLosses[highest] ?? NaN) * (1 - TURNED);
  const top = turns
    ? peakWithin(
        (duty) => ratio(real, duty),
        duties[highest - 1] ?? LOWEST,
        duties[highest + 1] ?? HIGHEST,
        SEARCH_STEPS,
      )
    : undefined;
  const peak = top && { duty: top.at, ratio: top.value };
  if (peak) {
    // The top itself belongs to the curve.
    const place = duties.findIndex((duty) => duty > peak.duty);
    duties.splice(place, 0, peak.duty);
    withLosses.splice(place, 0, peak.ratio);
    lossFree.splice(place, 0, ratio(ideal, peak.duty));
  }
  return { inputVoltage, loadResistance, duties, withLosses, lossFree, peak };
}

/** Series inductance of capacitors spikes against a load resistance and leaves the averages alone: not looked at here. */
function withoutSeriesInductance(complete: CompleteStage): CompleteStage {
  const plain = (banks: CompleteStage['outputCapacitors']) => banks.map((bank) => ({ ...bank, esl: 0 }));
  return {
    ...complete,
    outputCapacitors: plain(complete.outputCapacitors),
    inputCapacitors: plain(complete.inputCapacitors),
  };
}
