import type { CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { operatingPoint, type Near, type SolvedPoint } from '../steady/operatingPoint.js';
import type { UnsolvedPoint } from '../steady/solveCircuit.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { SETTLED, settledFrequency } from './settledFrequency.js';

/** @public */
export type OperatingMode = Stage['operatingMode'];

/**
 * On-time of a pulse that stands alone, as a share of the on-time in continuous conduction. Longer pulses come less often:
 * less loss at light load, more ripple. Common practice sets the peak current of a pulse, which is the same.
 *
 * @public
 */
export const PULSE_SHARE = 0.7;
/** The ear hears up to 20 kHz; the pulses are held this far above, for the tolerance of a clock. */
export const ABOVE_AUDIO = 22e3;
/** In critical conduction the frequency follows load and input up to this multiple of the clock. */
const FASTEST = 4;

/** A stage whose rectifying switches open at zero current, with its pulses at a frequency, Hz. */
const emulated = (complete: CompleteStage, switchingFrequency: number): CompleteStage => ({
  ...complete,
  switchingFrequency,
  diodeEmulation: true,
});

/** A known point as a start at another frequency: the pulse lasts as long as before, in another period. */
function startAt(known: SolvedPoint | undefined, frequency: number): Near | undefined {
  if (!known) return undefined;
  const { solution } = known;
  const scale = frequency * solution.period;
  const instants = solution.instants.map((steps) => steps.map((instant) => instant * scale));
  return { point: { ...known, solution: { ...solution, instants } }, duty: solution.duty * scale };
}

/** The frequency to expect beside a known point: pulses of the same charge, as often as the load asks. */
function expectedFrequency({ point }: SolvedPoint, { load }: OperatingCondition): number {
  const { switchingFrequency, outputCurrent } = point;
  return load.kind === 'current' && outputCurrent > 0
    ? (switchingFrequency * load.current) / outputCurrent
    : switchingFrequency;
}

/** On-time of the main switch, s. */
const onTime = ({ solution }: SolvedPoint): number => solution.duty * solution.period;

/**
 * Pulses of the set on-time, as often as the load asks: found by the law that the on-time goes with the root of load over
 * frequency while the current stops between pulses.
 *
 * @param slowest Hz; below it the pulses are made shorter instead.
 */
function skipping(
  complete: CompleteStage,
  condition: OperatingCondition,
  slowest: number,
  near: SolvedPoint | undefined,
): SolvedPoint | UnsolvedPoint {
  const { clock, stage } = complete;
  const { minimumOnTime } = stage.control;
  // On the way to the frequency a pulse may be shorter than the controller can make it: it is looked at in the end.
  const free =
    minimumOnTime > 0
      ? { ...complete, stage: { ...stage, control: { ...stage.control, minimumOnTime: 0 } } }
      : complete;
  const first = near ? Math.min(clock, Math.max(slowest, expectedFrequency(near, condition))) : clock;
  let start = near;
  const found = settledFrequency<SolvedPoint | UnsolvedPoint>(first, (frequency) => {
    const at = operatingPoint(emulated(free, frequency), condition, { near: startAt(start, frequency) });
    if (at.kind === 'unsolved') return { found: at };
    start = at;
    const pulse = Math.max(minimumOnTime, (PULSE_SHARE * at.powerStage.idealDuty) / clock);
    // While the current stops between pulses the on-time goes with the root of load over frequency.
    const wanted = frequency * (onTime(at) / pulse) ** 2;
    return { found: at, next: Math.min(clock, Math.max(slowest, wanted)) };
  });
  // The shortest pulse would bring more than the load takes: then the pulses cannot be held above audio.
  const tooShort = found.kind === 'solved' && onTime(found) < minimumOnTime * (1 - SETTLED);
  return tooShort && slowest > 0 ? skipping(complete, condition, 0, undefined) : found;
}

/** The frequency at which the current just reaches zero as the next pulse begins. */
function critical(complete: CompleteStage, condition: OperatingCondition): SolvedPoint | UnsolvedPoint {
  const { clock, stage } = complete;
  const fastest = stage.targets.switchingFrequency?.max ?? FASTEST * clock;
  return settledFrequency<SolvedPoint | UnsolvedPoint>(clock, (frequency) => {
    const found = operatingPoint({ ...complete, switchingFrequency: frequency }, condition);
    if (found.kind === 'unsolved') return { found };
    const { ripple, average } = found.point.inductorCurrent;
    const next = (frequency * ripple) / (2 * Math.abs(average));
    return next < fastest ? { found, next } : { found: operatingPoint(emulated(complete, fastest), condition) };
  });
}

/**
 * The operating point of a stage in an operating mode, at the frequency the mode runs at there.
 *
 * - forced PWM: at the clock; the inductor current of a synchronous stage may run backwards.
 * - pulse skipping: like it while the current never stops; below that the rectifier opens at zero current, and once the pulse
 *   would become shorter than {@link PULSE_SHARE} of the continuous on-time, pulses are left out instead.
 * - ultrasonic: the same, with no fewer pulses than {@link ABOVE_AUDIO}, as far as the shortest pulse lets it.
 * - critical conduction: the frequency follows load and input so that the current just reaches zero.
 *
 * @param near a solved point at a like condition, in the same mode.
 * @public
 */
export function operatingPointIn(
  mode: OperatingMode,
  complete: CompleteStage,
  condition: OperatingCondition,
  { near }: { readonly near?: Near | undefined } = {},
): SolvedPoint | UnsolvedPoint {
  if (mode === 'forced-pwm') return operatingPoint(complete, condition, { near });
  if (mode === 'critical-conduction') return critical(complete, condition);
  const slowest = mode === 'ultrasonic' ? Math.min(ABOVE_AUDIO, complete.clock) : 0;
  const known = near?.point;
  if (known?.emulated === true) {
    const light = skipping(complete, condition, slowest, known);
    if (light.kind === 'unsolved' || light.point.conductionMode === 'DCM') return light;
  }
  const forced = operatingPoint(complete, condition, { near: known?.emulated === true ? undefined : near });
  if (forced.kind === 'unsolved' || (forced.point.conductionMode === 'CCM' && forced.point.inductorCurrent.valley >= 0))
    return forced;
  return skipping(complete, condition, slowest, undefined);
}
