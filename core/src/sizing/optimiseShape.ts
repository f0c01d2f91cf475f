import { completeCompensator, type Compensator } from '../controller/compensatorCircuit.js';
import { compensatorResponse } from '../controller/compensatorResponse.js';
import { componentsOf, type Components, type Frame, type Shape } from '../controller/shape.js';
import type { Stage } from '../stage/schema.js';
import type { AskedMargins } from './askedMargins.js';
import { roughMargins, type Plant } from './plants.js';

/** Steps of the search, as natural logarithms of a frequency or gain: the next finer one when none is better. */
const STEPS = [0.7, 0.35, 0.15, 0.06] as const;
/** Sweeps over all directions with one step at most. */
const MOST_SWEEPS = 30;
/** Degrees and dB over what is asked: what rounding to preferred values and ripple at the comparator take. */
const SPARE_PHASE = 3;
const SPARE_GAIN = 1;
/** What missing a margin costs, in decades of crossover for each share missed. */
const PENALTY = 8;
/** What a zero slower than is asked costs, in decades of crossover for each of its own. */
const SLOW = 1;
/** What a corner without a crossover costs. */
const NO_CROSSOVER = 20;
/** Gain towards half the switching frequency must have fallen by this much, dB, for pulses not to alternate. */
const FALLEN = 6;

/** Least and largest values of parts that can be ordered and whose own strays do not count: ohm, F. Common practice. */
const RESISTOR = [10, 10e6] as const;
const CAPACITOR = [3e-12, 10e-6] as const;

export function isOrderable({ rZero, rFeedforward, cZero, cPole, cFeedforward }: Components): boolean {
  const within = (value: number | undefined, [least, most]: readonly [number, number]): boolean =>
    value === undefined || (value >= least && value <= most);
  return (
    [rZero, rFeedforward].every((value) => within(value, RESISTOR)) &&
    [cZero, cPole, cFeedforward].every((value) => within(value, CAPACITOR))
  );
}

/** How good a shape is: decades of the lowest crossover, less what margins miss. */
function worth(
  shape: Shape,
  frame: Frame,
  control: Stage['control'],
  plants: readonly Plant[],
  asked: AskedMargins,
): number {
  const components = componentsOf(shape, frame);
  if (!components || !isOrderable(components)) return -Infinity;
  const compensator: Compensator = { network: frame.network, amplifier: frame.amplifier, components };
  const whole = completeCompensator({ ...control, compensator });
  if (!whole.ok) return -Infinity;
  const response = compensatorResponse(whole.value);
  const known = plants[0]?.points.map(({ frequency }) => response(frequency)) ?? [];
  let lowest = Infinity;
  let missed = 0;
  for (const plant of plants) {
    const { crossover, phaseMargin, gainMargin } = roughMargins(plant, response, (k) => known[k] ?? { re: 0, im: 0 });
    if (crossover.kind !== 'found' || phaseMargin.kind !== 'found') return -NO_CROSSOVER;
    lowest = Math.min(lowest, crossover.value);
    const phase = (asked.phaseMargin + SPARE_PHASE - phaseMargin.value) / asked.phaseMargin;
    const last = plant.points.length - 1;
    const end = plant.points[last]?.value ?? { re: 0, im: 0 };
    const there = known[last] ?? { re: 0, im: 0 };
    const fallen = -20 * Math.log10(Math.hypot(end.re, end.im) * Math.hypot(there.re, there.im));
    const gain =
      gainMargin.kind === 'found'
        ? (asked.gainMargin + SPARE_GAIN - gainMargin.value) / asked.gainMargin
        : (FALLEN - fallen) / FALLEN;
    missed = Math.max(missed, phase, gain);
  }
  const slow = Math.max(0, ...shape.zeros.map((zero) => Math.log10(asked.slowestZero / zero)));
  return Math.log10(lowest) - PENALTY * missed - SLOW * slow;
}

/**
 * The shape with the highest crossover at its slowest corner that keeps the margins at every corner, by compass search from a
 * start: plant times compensator, before rounding.
 *
 * Source: T. G. Kolda, R. M. Lewis, V. Torczon, Optimization by Direct Search: New Perspectives on Some Classical and Modern
 * Methods, SIAM Review 45 (2003), section 3.
 */
export function optimiseShape(
  start: Shape,
  frame: Frame,
  control: Stage['control'],
  plants: readonly Plant[],
  asked: AskedMargins,
): Shape {
  const count = start.zeros.length;
  const shapeAt = (x: readonly number[]): Shape => ({
    zeros: x.slice(0, count).map(Math.exp),
    poles: x.slice(count, 2 * count).map(Math.exp),
    at: start.at,
    gain: Math.exp(x[2 * count] ?? 0),
  });
  let best = [...start.zeros.map(Math.log), ...start.poles.map(Math.log), Math.log(start.gain)];
  let value = worth(start, frame, control, plants, asked);
  for (const step of STEPS) {
    for (let sweep = 0; sweep < MOST_SWEEPS; sweep += 1) {
      const before = value;
      for (let k = 0; k < best.length; k += 1) {
        for (const way of [step, -step]) {
          const tried = best.map((one, i) => (i === k ? one + way : one));
          const found = worth(shapeAt(tried), frame, control, plants, asked);
          if (found <= value) continue;
          best = tried;
          value = found;
          break;
        }
      }
      if (value <= before) break;
    }
  }
  return shapeAt(best);
}
