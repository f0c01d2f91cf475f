import { dividers } from './divider.js';
import type { Components, Frame } from '../controller/shape.js';
import { formatQuantity } from '../quantity/engineering.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import type { Stage } from '../stage/schema.js';
import type { Choice } from './choice.js';

/** Lower divider resistor about which the divider is chosen, ohm. */
const LOWER = 10e3;

/** Whether the divider of a control is still to be chosen, and with it the level of impedance of the network about an op-amp. */
export const dividerIsFree = ({ compensator }: Stage['control']): boolean =>
  compensator === undefined ||
  (compensator.components.rUpper === undefined &&
    compensator.components.rLower === undefined &&
    compensator.amplifier.kind !== 'ota');

/**
 * Divider and amplifier a network is put round: what is given stays.
 *
 * @param about lower divider resistor about which it is chosen, ohm.
 */
export function frameOf(control: Stage['control'], outputVoltage: number, about = LOWER): Frame | undefined {
  const given = control.compensator;
  const network = given?.network ?? (control.scheme.endsWith('current-mode') ? 'type-2' : 'type-3');
  const amplifier = given?.amplifier ?? { kind: 'op-amp' };
  const { rUpper, rLower } = given?.components ?? {};
  if (rUpper !== undefined && rLower !== undefined) return { network, amplifier, rUpper, rLower };
  const [best] = dividers({
    vOut: Math.abs(outputVoltage),
    reference: control.reference ?? 0,
    // Both are stocked, and a pair of the coarser may be the exact one.
    series: ['E96', 'E24'],
    lower: rLower ?? about,
    resistorTolerance: 0,
    referenceTolerance: 0,
    bias: 0,
  });
  return best && { network, amplifier, rUpper: best.upper, rLower: best.lower };
}

const ROUNDED = { rZero: 'E24', rFeedforward: 'E24', cZero: 'E12', cPole: 'E12', cFeedforward: 'E12' } as const;

/** The components as they can be ordered: resistors of E24, capacitors of E12. @public */
export function preferredComponents(components: Components): Components {
  const out: Components = { ...components };
  for (const [key, series] of Object.entries(ROUNDED)) {
    const value = components[key as keyof typeof ROUNDED];
    if (value !== undefined && value > 0) out[key as keyof typeof ROUNDED] = nearestPreferred(value, series);
  }
  return out;
}

const COMPONENT_WORDS = {
  rUpper: ['upper divider resistor', 'ohm'],
  rLower: ['lower divider resistor', 'ohm'],
  rFeedforward: ['feed-forward resistor', 'ohm'],
  cFeedforward: ['feed-forward capacitor', 'F'],
  rZero: ['zero resistor', 'ohm'],
  cZero: ['zero capacitor', 'F'],
  cPole: ['pole capacitor', 'F'],
} as const;

/** How zeros and poles of a network were placed. */
export const PLACED = {
  'k-factor': {
    words: 'zeros and poles by the K factor',
    source:
      'H. D. Venable, The K Factor: A New Mathematical Tool for Stability Analysis and Synthesis, Powercon 10 (1983)',
  },
  'highest-crossover': {
    words: 'zeros, poles and gain searched for the highest crossover that keeps the margins at every corner',
    source:
      'Compass search, as in T. G. Kolda, R. M. Lewis, V. Torczon, Optimization by Direct Search, SIAM Review 45 (2003)',
  },
} as const;

/** The parts of a network as choices, with why. */
export function componentChoices(
  components: Components,
  { network }: Frame,
  crossover: number,
  placed: keyof typeof PLACED,
): readonly Choice[] {
  return Object.entries(COMPONENT_WORDS).flatMap(([key, [quantity, unit]]): Choice[] => {
    const value = components[key as keyof Components];
    if (value === undefined) return [];
    const divider = key === 'rUpper' || key === 'rLower';
    return [
      {
        path: `control.compensator.components.${key}`,
        quantity,
        unit,
        value,
        rule: divider
          ? 'Divides the output down to the reference: the pair of E96 and E24 with the least error.'
          : `Makes a ${network} network for a crossover of ${formatQuantity(crossover, 'Hz', 3)} at the strongest corner, ${PLACED[placed].words}; rounded to the preferred series.`,
        source: divider ? 'Definition' : PLACED[placed].source,
      },
    ];
  });
}

/** Choices of a network's parts with other values, for the same reasons. */
export const withValues = (choices: readonly Choice[], components: Components): readonly Choice[] =>
  choices.map((choice) => {
    const key = choice.path.replace('control.compensator.components.', '');
    return { ...choice, value: components[key as keyof Components] ?? choice.value };
  });
