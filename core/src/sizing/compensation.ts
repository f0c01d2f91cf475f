import { completeCompensator, type Compensator, type CompleteCompensator } from '../compensator/compensatorCircuit.js';
import { compensatorResponse } from '../compensator/compensatorResponse.js';
import { componentsOf, kFactor, type Components, type Frame } from '../compensator/shape.js';
import type { CornerResult, EvaluatedStage } from '../corners/evaluate.js';
import { loopCorners, type CornerLoop } from '../corners/loopCorners.js';
import { degreesOf, magnitude, product, type Complex } from '../linalg/complex.js';
import { formatQuantity } from '../quantity/engineering.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import { loopFrequencies } from '../smallsignal/loopResponse.js';
import { marginsOf, type ResponsePoint } from '../smallsignal/margins.js';
import { plantResponse } from '../smallsignal/plantResponse.js';
import type { Stage } from '../stage/schema.js';
import type { Choice } from './choice.js';
import { assumedCrossover } from './crossover.js';
import { dividers } from './divider.js';
import { modulatorOf } from './modulator.js';

type Control = Stage['control'];

/** A loop proposed for a stage: its control with compensator, why, and how it fares at every corner. */
export interface ProposedLoop {
  readonly control: Control;
  readonly choices: readonly Choice[];
  readonly corners: readonly CornerLoop[];
  /** Whether margins and stability hold at every corner; if not, the best that was found is proposed all the same. */
  readonly holds: boolean;
}

/** Margins designed for where the targets name none. Common practice: 45 to 60 degrees, 6 to 12 dB. */
export const PHASE_MARGIN = 50;
export const GAIN_MARGIN = 8;
/**
 * Most gain of the sampled loop at half the switching frequency. A current loop that settles in one period has a half by itself;
 * at one, pulses alternate.
 */
const MOST_SUBHARMONIC = 0.8;
/** Degrees over the asked margin: what rounding to preferred values and ripple at the comparator take. */
const SPARE = 4;
/** Lower divider resistor about which the divider is chosen, ohm. */
const LOWER = 10e3;
/** Each trial crosses over this much lower than the one before. */
const LOWER_BY = 0.82;
const TRIALS = 24;
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
/** Points at which a trial is looked at before the exact loop is worked. */
const COARSE = 48;
/** First crossover tried, over the one that common practice would take: the exact loop is the judge. */
const AMBITION = 1.6;

/** Divider and amplifier a network is put round: what is given stays. */
function frameOf(control: Control, outputVoltage: number): Frame | undefined {
  const given = control.compensator;
  const network = given?.network ?? (control.scheme.endsWith('current-mode') ? 'type-2' : 'type-3');
  const amplifier = given?.amplifier ?? { kind: 'op-amp' };
  const { rUpper, rLower } = given?.components ?? {};
  if (rUpper !== undefined && rLower !== undefined) return { network, amplifier, rUpper, rLower };
  const [best] = dividers({
    vOut: Math.abs(outputVoltage),
    reference: control.reference ?? 0,
    series: 'E96',
    lower: rLower ?? LOWER,
    resistorTolerance: 0,
    referenceTolerance: 0,
    bias: 0,
  });
  return best && { network, amplifier, rUpper: best.upper, rLower: best.lower };
}

const ROUNDED = { rZero: 'E24', rFeedforward: 'E24', cZero: 'E12', cPole: 'E12', cFeedforward: 'E12' } as const;

/** The components as they can be ordered: resistors of E24, capacitors of E12. */
export function preferredComponents(components: Components): Components {
  const out: Components = { ...components };
  for (const [key, series] of Object.entries(ROUNDED)) {
    const value = components[key as keyof typeof ROUNDED];
    if (value !== undefined && value > 0) out[key as keyof typeof ROUNDED] = nearestPreferred(value, series);
  }
  return out;
}

/** A plant at one corner, with its responses at the coarse frequencies. */
interface Plant {
  readonly at: CornerResult;
  readonly exact: (frequency: number) => Complex;
  readonly points: readonly ResponsePoint[];
}

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
  const corners = kFactor(frame.network, crossover, phaseMargin + SPARE + extra - phase - 90);
  if (!corners) return undefined;
  const zeros = corners.zeros.map((zero, k) => (k === 0 ? zero / lower : zero));
  const highest = Math.max(HIGHEST_POLE * fSw, POLE_ABOVE * crossover);
  const poles = corners.poles.map((pole) => Math.min(pole, highest));
  const exact = componentsOf({ zeros, poles, at: crossover, gain: 1 / strongest }, frame);
  return exact && preferredComponents(exact);
}

/**
 * The corner whose phase margin is least, by plant times compensator: near the exact one, and quick. Undefined where a corner has
 * less than is needed.
 */
function roughlyWorst(plants: readonly Plant[], compensator: CompleteCompensator, least: number): Plant | undefined {
  const response = compensatorResponse(compensator);
  let worst: { readonly plant: Plant; readonly margin: number } | undefined;
  for (const plant of plants) {
    const { phaseMargin } = marginsOf(
      plant.points.map(({ frequency, value }) => ({ frequency, value: product(value, response(frequency)) })),
      (frequency) => product(plant.exact(frequency), response(frequency)),
    );
    if (phaseMargin.kind !== 'found' || phaseMargin.value < least) return undefined;
    if (!worst || phaseMargin.value < worst.margin) worst = { plant, margin: phaseMargin.value };
  }
  return worst?.plant;
}

/** By how much the worst corner misses its margins and stability: zero where all hold. */
function shortfall(corners: readonly CornerLoop[], phaseMargin: number, gainMargin: number): number {
  return Math.max(
    ...corners.map(({ loop }) => {
      if (loop.kind !== 'solved') return 4;
      if (!loop.stable) return 3;
      const phase = loop.phaseMargin.kind === 'found' ? (phaseMargin - loop.phaseMargin.value) / phaseMargin : 0;
      const gain = loop.gainMayRise === undefined ? 0 : (gainMargin - loop.gainMayRise) / gainMargin;
      return Math.max(0, phase, gain, -loop.subharmonicGain - MOST_SUBHARMONIC);
    }),
  );
}

/**
 * Propose a compensator for a stage that is complete but for its loop: as high a crossover as the margins allow at every corner.
 *
 * Crossovers are tried from the highest down. Each trial places zeros and poles by the K factor for the corner whose plant lags
 * most, sets the gain by the corner whose plant is strongest, rounds to preferred values, and is checked as plant times
 * compensator; what passes is judged by the exact loops of all corners, multipliers included.
 *
 * @returns the proposal, or the words for why there is none.
 */
export function proposeLoop(evaluated: EvaluatedStage): ProposedLoop | string {
  const { complete, evaluation, corners } = evaluated;
  const { stage } = evaluation;
  const { targets } = stage;
  const modulator = modulatorOf(evaluated);
  const controlled = { ...complete, stage: { ...stage, control: modulator.control } };
  const frame = frameOf(modulator.control, targets.outputVoltage);
  if (!frame) return 'the output voltage is not above the reference voltage, so no divider sets it';
  const grid = loopFrequencies(complete.switchingFrequency, COARSE);
  const plants: Plant[] = [];
  for (const at of corners) {
    const { corner, result } = at;
    if (result.kind !== 'solved') continue;
    const { inputVoltage, outputCurrent } = corner;
    const exact = plantResponse(
      controlled,
      { inputVoltage, load: { kind: 'current', current: outputCurrent } },
      result,
    );
    if (typeof exact === 'string') return exact;
    plants.push({ at, exact, points: grid.map((frequency) => ({ frequency, value: exact(frequency) })) });
  }
  if (plants.length === 0) return 'no corner has an operating point';
  const phaseMargin = targets.phaseMargin ?? PHASE_MARGIN;
  const gainMargin = targets.gainMargin ?? GAIN_MARGIN;
  const first = AMBITION * assumedCrossover(stage, complete.inductor.inductance, complete.switchingFrequency);
  let best: { readonly proposal: ProposedLoop; readonly missed: number } | undefined;
  for (let k = 0; k < TRIALS; k += 1) {
    const crossover = first * LOWER_BY ** k;
    for (const spread of SPREADS) {
      const components = trial(plants, crossover, phaseMargin, spread, frame, complete.switchingFrequency);
      if (!components) continue;
      const compensator: Compensator = { network: frame.network, amplifier: frame.amplifier, components };
      const control = { ...modulator.control, compensator };
      const whole = completeCompensator(control);
      const worst = whole.ok && roughlyWorst(plants, whole.value, phaseMargin);
      if (!worst) continue;
      const exact = { ...evaluated, complete: { ...complete, stage: { ...stage, control } } };
      // One exact loop tells most of those that will not hold.
      const there = shortfall(loopCorners({ ...exact, corners: [worst.at] }), phaseMargin, gainMargin);
      if (there > 0 && best) continue;
      const loops = loopCorners(exact);
      const missed = shortfall(loops, phaseMargin, gainMargin);
      if (best && missed >= best.missed) continue;
      const choices = [...modulator.choices, ...componentChoices(components, frame, crossover)];
      best = { proposal: { control, choices, corners: loops, holds: missed === 0 }, missed };
      if (missed === 0) return best.proposal;
    }
  }
  return (
    best?.proposal ??
    `no ${frame.network} network was found whose margins hold at every corner${complete.stage.control.scheme === 'voltage-mode' ? '; peak current mode leaves less phase to lift' : ''}`
  );
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

function componentChoices(components: Components, { network }: Frame, crossover: number): readonly Choice[] {
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
          ? 'Divides the output down to the reference, of E96.'
          : `Makes a ${network} network for a crossover of ${formatQuantity(crossover, 'Hz', 3)} at the strongest corner, zeros and poles by the K factor; rounded to the preferred series.`,
        source: divider
          ? 'Definition'
          : 'H. D. Venable, The K Factor: A New Mathematical Tool for Stability Analysis and Synthesis, Powercon 10 (1983)',
      },
    ];
  });
}
