import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import { dampedPeak, dampingMultiple, dampingResistance, inputResistance } from '../firstcut/inputFilterForms.js';
import { capacitanceOf } from '../parts/capacitorBank.js';
import type { OperatingCondition } from '../powerstage/powerStage.js';
import { preferredAtLeast } from '../quantity/preferredValues.js';
import type { CompleteStage } from '../stage/completeStage.js';
import {
  conductedNoise,
  excessOver,
  fedBy,
  shareLeft,
  type LimitLine,
  type Network,
  type NoiseLine,
} from './conductedNoise.js';

/** A filter before the input capacitors of a stage, damped, with a capacitor across the terminals. @public */
export interface NoiseFilter {
  /** H, and Ω of its winding. */
  readonly inductance: number;
  readonly resistance: number;
  /** F and Ω, beside the input capacitors. */
  readonly damping: { readonly capacitance: number; readonly resistance: number };
  /** F, across the terminals. */
  readonly terminal: number;
  /** dB over the limit that are left at the worst; none or below. */
  readonly over: number;
  /** Peak of its output impedance, Ω, and what the stage draws with at its lowest input. */
  readonly peak: number;
  readonly stage: number;
  readonly working: readonly AppliedForm[];
}

/** What a noise filter is looked for among, H and F. */
const CHOKES = [1e-6, 1.5e-6, 2.2e-6, 3.3e-6, 4.7e-6, 6.8e-6, 10e-6, 15e-6, 22e-6, 33e-6, 47e-6] as const;
const CAPACITORS = [0.47e-6, 1e-6, 2.2e-6, 4.7e-6, 10e-6, 22e-6, 47e-6, 100e-6] as const;
/** Resistance of a filter choke for each henry, Ω/H, where it carries some amperes. Common practice. */
const WINDING = 3e3;
/** The output impedance of a filter keeps to this share of what the stage draws with, 6 dB: Middlebrook; common practice. */
const APART = 0.5;

/** What a filter weighs: the energy its choke and its capacitors hold. */
const sizeOf = (inductance: number, current: number, capacitance: number, voltage: number): number =>
  (inductance * current ** 2 + capacitance * voltage ** 2) / 2;

/**
 * The smallest filter of one choke that brings noise below a limit without harming the loop: its output impedance with the input capacitors of
 * the stage, damped at its best (R. W. Erickson and D. Maksimović, Fundamentals of Power Electronics, ch. 17), stays 6 dB below the input
 * resistance −V²/P of the stage (R. D. Middlebrook, 1976). The loop verdicts judge it exactly once it is in the stage.
 *
 * @param deviation of dithering, a share.
 * @param lowest where the stage draws most: its lowest input, V, and its input power there, W.
 * @returns the words for why there is none.
 * @public
 */
export function noiseFilter(
  complete: CompleteStage,
  network: Network,
  condition: OperatingCondition,
  judged: { readonly limit: LimitLine; readonly margin: number; readonly deviation: number },
  lowest: { readonly vIn: number; readonly power: number },
): NoiseFilter | string {
  const { limit, margin, deviation } = judged;
  const parts = { ...complete.stage.parts };
  delete parts.inputFilter;
  const bare: CompleteStage = { ...complete, stage: { ...complete.stage, parts } };
  const capacitance = capacitanceOf(complete.inputCapacitors, lowest.vIn);
  if (!(capacitance > 0)) return 'the stage has no input capacitors to filter against';
  const noise = conductedNoise(bare, network, condition);
  if (typeof noise === 'string') return noise;
  const stage = applied(inputResistance, lowest);
  const current = lowest.power / lowest.vIn;
  const fed = fedBy(bare, network);
  const within = noise.lines.filter(({ frequency }) => limit.length > 0 && excessAt(frequency, limit));
  const found: NoiseFilter[] = [];
  for (const inductance of CHOKES) {
    const characteristic = Math.sqrt(inductance / capacitance);
    const asked = Math.max(1, dampingMultiple.compute({ characteristic, peak: APART * stage.value }));
    const bulk = preferredAtLeast(asked * capacitance, 'E6');
    const multiple = bulk / capacitance;
    const damping = { capacitance: bulk, resistance: dampingResistance.compute({ characteristic, multiple }) };
    const peak = applied(dampedPeak, { characteristic, multiple });
    const working = [applied(dampingResistance, { characteristic, multiple }), peak, stage];
    const resistance = Math.min(0.05, WINDING * inductance);
    const filtered: CompleteStage = {
      ...fed,
      stage: { ...fed.stage, parts: { ...fed.stage.parts, inputFilter: { inductance, resistance, damping } } },
    };
    for (const terminal of CAPACITORS) {
      const left = shareLeft([fed], [filtered, { capacitance: terminal }], condition.inputVoltage, network);
      const lines = within.map(({ frequency, level }): NoiseLine => ({
        frequency,
        level: level + 20 * Math.log10(left(frequency)),
      }));
      const over = excessOver(lines, limit, margin, deviation)?.over;
      if (over === undefined || over > 0) continue;
      found.push({ inductance, resistance, damping, terminal, over, peak: peak.value, stage: stage.value, working });
      break;
    }
  }
  const weigh = ({ inductance, terminal, damping }: NoiseFilter): number =>
    sizeOf(inductance, current, terminal + damping.capacitance, lowest.vIn);
  const [best] = found.sort((a, b) => weigh(a) - weigh(b));
  return best ?? 'no filter of one choke up to 47 µH and 100 µF brings it below the limit: two stages, or slower edges';
}

/** Whether a limit line says anything at a frequency. */
const excessAt = (frequency: number, limit: LimitLine): boolean =>
  frequency >= (limit[0]?.frequency ?? Infinity) && frequency <= (limit.at(-1)?.frequency ?? 0);
