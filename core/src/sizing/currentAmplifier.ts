import type { EvaluatedStage } from '../corners/evaluate.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import type { Stage } from '../stage/schema.js';
import type { Choice } from './choice.js';
import { currentSlopes } from './slopeCompensation.js';

type Parts = NonNullable<Stage['control']['currentAmplifier']>;

const DIXON =
  'L. Dixon, Average Current Mode Control of Switching Power Supplies, Unitrode application note U-140 (1990), from memory';
/** Input resistor about which the amplifier is built, ohm. */
const INPUT = 10e3;
/** Share taken of the gain at which the amplified falling slope equals that of the ramp: above it, pulses are decided by ripple. */
const SHARE = 0.6;
/** The current loop crosses over this far below the switching frequency at most: beyond, sampling makes pulses alternate. */
const CROSSOVER_BELOW = 5;
/** The zero lies this far below the lowest crossover of the current loop. */
const ZERO_BELOW = 4;
/** The pole lies at the switching frequency, and this far above the highest crossover. */
const POLE_ABOVE = 3;

/**
 * The amplifier of an average current loop: as much gain as the slopes allow, a zero below its crossover, a pole above.
 *
 * @param ramp V peak to peak.
 * @param gain of the current sense, V/A.
 * @returns undefined where no corner runs in continuous conduction, to which the rule belongs.
 */
export function sizeCurrentAmplifier(
  { corners, complete: { switchingFrequency: fSw } }: Pick<EvaluatedStage, 'corners' | 'complete'>,
  ramp: number,
  gain: number,
): { readonly parts: Parts; readonly choices: readonly Choice[] } | undefined {
  const slopes = corners.flatMap((one) => currentSlopes(one, fSw) ?? []);
  if (slopes.length === 0) return undefined;
  const steepest = Math.max(...slopes.map(({ falling }) => falling));
  // Crossover of the current loop: the swing of the switch node over L is the sum of both slopes.
  const swing = slopes.map(({ rising, falling }) => (gain * (rising + falling)) / (2 * Math.PI * ramp));
  const amplifierGain = Math.min((SHARE * ramp * fSw) / (gain * steepest), fSw / CROSSOVER_BELOW / Math.max(...swing));
  const crossovers = swing.map((one) => amplifierGain * one);
  const zero = Math.min(...crossovers) / ZERO_BELOW;
  const pole = Math.max(fSw, POLE_ABOVE * Math.max(...crossovers));
  const rZero = nearestPreferred(amplifierGain * INPUT, 'E24');
  const parts = {
    rInput: INPUT,
    rZero,
    cZero: nearestPreferred(1 / (2 * Math.PI * zero * rZero), 'E12'),
    cPole: nearestPreferred(1 / (2 * Math.PI * pole * rZero), 'E12'),
  };
  const choice = (key: keyof typeof parts, quantity: string, unit: Choice['unit'], rule: string): Choice => ({
    path: `control.currentAmplifier.${key}`,
    quantity,
    unit,
    value: parts[key],
    rule,
    source: DIXON,
  });
  return {
    parts,
    choices: [
      choice('rInput', 'input resistor of the current amplifier', 'ohm', 'A start; the other parts follow it.'),
      choice(
        'rZero',
        'zero resistor of the current amplifier',
        'ohm',
        `Gain above the zero: ${String(100 * SHARE)} % of that at which the amplified falling slope equals the slope of the ramp, or less, so that the current loop crosses over at a ${String(CROSSOVER_BELOW)}th of the switching frequency at most.`,
      ),
      choice(
        'cZero',
        'zero capacitor of the current amplifier',
        'F',
        `Zero at a ${String(ZERO_BELOW)}th of the lowest crossover of the current loop.`,
      ),
      choice(
        'cPole',
        'pole capacitor of the current amplifier',
        'F',
        'Pole at the switching frequency or above the crossover of the current loop, whichever is higher.',
      ),
    ],
  };
}
