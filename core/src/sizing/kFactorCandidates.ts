import { completeCompensator, type Compensator } from '../controller/compensatorCircuit.js';
import { compensatorResponse } from '../controller/compensatorResponse.js';
import { componentsOf, kFactor, type Components, type Frame } from '../controller/shape.js';
import { degreesOf, magnitude } from '../linalg/complex.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Candidate } from './candidate.js';
import { componentChoices, preferredComponents } from './networkParts.js';
import type { Plant } from './plants.js';

/**
 * Ways to spread zeros and poles beyond what the crossover asks: degrees more of boost, the zero next to the integrator lower by a
 * factor. Either lifts the phase where weaker corners cross over, such as light load in discontinuous conduction; a lower zero
 * costs gain below it.
 */
const SPREADS = [1, 3, 10, 40, 200].flatMap((lower) => [0, 20].map((extra) => ({ extra, lower })));
/** Poles are of use up to this share of the switching frequency; beyond, ripple reaches the comparator. */
const HIGHEST_POLE = 0.5;
/** And must stay this far above the crossover. */
const POLE_ABOVE = 1.5;

/** Components whose zeros and poles lift the phase at the crossover as the worst corner needs, its gain set by the strongest. */
function trial(
  plants: readonly Plant[],
  crossover: number,
  phaseMargin: number,
  { extra, lower }: (typeof SPREADS)[number],
  frame: Frame,
  fSw: number,
): Components | undefined {
  const here = plants.map(({ exact }) => exact(crossover));
  const phase = Math.min(...here.map((value) => (degreesOf(value) > 0 ? degreesOf(value) - 360 : degreesOf(value))));
  const strongest = Math.max(...here.map(magnitude));
  const corners = kFactor(frame.network, crossover, phaseMargin + extra - phase - 90);
  if (!corners) return undefined;
  const zeros = corners.zeros.map((zero, k) => (k === 0 ? zero / lower : zero));
  const highest = Math.max(HIGHEST_POLE * fSw, POLE_ABOVE * crossover);
  const poles = corners.poles.map((pole) => Math.min(pole, highest));
  const exact = componentsOf({ zeros, poles, at: crossover, gain: 1 / strongest }, frame);
  return exact && preferredComponents(exact);
}

/** The zero next to the integrator, Hz: of its resistor and capacitor. */
const lowestZero = ({ rZero, cZero }: Components): number =>
  rZero === undefined || cZero === undefined ? Infinity : 1 / (2 * Math.PI * rZero * cZero);

/**
 * Networks for a crossover by the K factor, from preferred values, the narrowest spread first.
 *
 * @param limits the least pole capacitor, F: its pole comes lower where it would have less; the slowest zero, Hz: none lies below.
 */
export function* kFactorCandidates(
  { stage, switchingFrequency }: CompleteStage,
  frame: Frame,
  plants: readonly Plant[],
  crossover: number,
  phaseMargin: number,
  { leastPole = 0, slowestZero = 0 }: { readonly leastPole?: number; readonly slowestZero?: number } = {},
): Generator<Candidate> {
  const { network, amplifier } = frame;
  for (const spread of SPREADS) {
    const exact = trial(plants, crossover, phaseMargin, spread, frame, switchingFrequency);
    if (!exact || lowestZero(exact) < slowestZero) continue;
    const components = exact.cPole !== undefined && exact.cPole < leastPole ? { ...exact, cPole: leastPole } : exact;
    const compensator: Compensator = { network, amplifier, components };
    const control = { ...stage.control, compensator };
    const whole = completeCompensator(control);
    if (!whole.ok) continue;
    yield {
      control,
      response: compensatorResponse(whole.value),
      choices: componentChoices(components, frame, crossover, 'k-factor'),
    };
  }
}
