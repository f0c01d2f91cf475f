import { peakWithin } from '../linalg/goldenSection.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';

const POINTS = 8;
const STEPS = 14;

/**
 * The highest RMS current of all input capacitors at full load over the whole input range, corners and between: a buck has
 * its worst at a duty ratio of a half where the range holds it.
 *
 * @returns undefined where the stage has no operating point in the range.
 * @public
 */
export function inputRmsPeak(
  complete: CompleteStage,
): { readonly inputVoltage: number; readonly rms: number; readonly duty: number } | undefined {
  const { inputVoltage, outputCurrent } = complete.stage.targets;
  const at = (volts: number) => {
    const found = operatingPoint(complete, {
      inputVoltage: volts,
      load: { kind: 'current', current: outputCurrent.max },
    });
    return found.kind === 'solved' ? found.point : undefined;
  };
  const rms = (volts: number): number => at(volts)?.inputCapacitorRms ?? -1;
  const step = (inputVoltage.max - inputVoltage.min) / POINTS;
  const grid = Array.from({ length: POINTS + 1 }, (_, i) => inputVoltage.min + i * step);
  const values = grid.map(rms);
  const highest = values.reduce((best, value, i) => (value > (values[best] ?? -1) ? i : best), 0);
  const volts = grid[highest] ?? inputVoltage.min;
  const within =
    step > 0
      ? peakWithin(rms, Math.max(inputVoltage.min, volts - step), Math.min(inputVoltage.max, volts + step), STEPS)
      : { at: volts, value: values[highest] ?? -1 };
  // The ends of the range are corners of their own: the search inside does not touch them.
  const best = within.value > (values[highest] ?? -1) ? within.at : volts;
  const point = at(best);
  return point && { inputVoltage: best, rms: point.inputCapacitorRms, duty: point.duty };
}
