import { converterOf } from '../powerstage/converter.js';
import { completeCompensator, type Compensator } from '../controller/compensatorCircuit.js';
import { compensatorResponse } from '../controller/compensatorResponse.js';
import { componentsOf, shapeOf, type Frame, type Shape } from '../controller/shape.js';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { loopCorners, type CornerLoop } from '../corners/loopCorners.js';
import { magnitude } from '../linalg/complex.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { askedMargins, lowestCrossover, shortfall, UNSTABLE, type AskedMargins } from './askedMargins.js';
import type { Candidate } from './candidate.js';
import type { Choice } from './choice.js';
import { assumedCrossover } from '../rules/crossover.js';
import { digitalCandidates } from './digitalGains.js';
import { kFactorCandidates } from './kFactorCandidates.js';
import { sizeModulator } from './modulator.js';
import { toleranceClasses } from './toleranceClasses.js';
import { componentChoices, dividerIsFree, frameOf, preferredComponents, withValues } from './networkParts.js';
import { isOrderable, optimiseShape } from './optimiseShape.js';
import { plantsOf, roughMargins, type Plant } from './plants.js';
import { sizeRippleInjection } from './rippleInjection.js';

/** How a compensator is found: by the K factor from the highest crossover down, or by a search of all its corners and gain. @public */
export type Procedure = 'k-factor' | 'highest-crossover';

/** A loop proposed for a stage: its control with compensator, why, and how it fares at every corner. @public */
export interface ProposedLoop {
  readonly control: Stage['control'];
  readonly choices: readonly Choice[];
  readonly corners: readonly CornerLoop[];
  /** Whether margins and stability hold at every corner; if not, the best that was found is proposed all the same. */
  readonly holds: boolean;
}

/** A candidate whose exact loops are worked. */
interface Tried {
  readonly proposal: ProposedLoop;
  readonly missed: number;
}

/** Degrees over the asked margin: what rounding to preferred values and ripple at the comparator take. */
const SPARE = 4;
/** Each trial crosses over this much lower than the one before. */
const LOWER_BY = 0.82;
const TRIALS = 24;
/** First crossover tried, over the one that common practice would take: the exact loop is the judge. */
const AMBITION = 1.6;
/** Least gain, over the one that was searched, to which a network that misses its exact margins is turned down. */
const TURNED_DOWN_BY = 0.92;
const TURNS = 14;
/** Capacitors are not taken smaller, F, nor the lower divider resistor, ohm: strays are some picofarads. Common practice. */
const LEAST_CAPACITOR = 22e-12;
const LEAST_LOWER = 1e3;
const ROOMS_FOR_ROUNDING = [1.15, 1.5, 2];
/** Levels of impedance at which a network is sought anew, over that of the usual divider. */
const LOWER_LEVELS = [0.5, 0.25, 0.12];

/** Candidates for a crossover, Hz, and a phase margin, degrees, without zeros below a frequency, Hz. */
type Candidates = (crossover: number, phaseMargin: number, slowestZero: number) => Iterable<Candidate>;

/** The work of one proposal. */
class Proposal {
  private readonly asked: AskedMargins;
  constructor(
    private readonly evaluated: EvaluatedStage,
    readonly complete: CompleteStage,
    readonly plants: readonly Plant[],
    private readonly modulator: readonly Choice[],
  ) {
    this.asked = askedMargins(complete.stage.targets);
  }

  /** The corner whose rough phase margin is least; undefined where a corner has less than is asked. */
  private roughlyWorst({ response }: Candidate): Plant | undefined {
    let worst: { readonly plant: Plant; readonly margin: number } | undefined;
    for (const plant of this.plants) {
      const { phaseMargin } = roughMargins(plant, response);
      if (phaseMargin.kind !== 'found' || phaseMargin.value < this.asked.phaseMargin) return undefined;
      if (!worst || phaseMargin.value < worst.margin) worst = { plant, margin: phaseMargin.value };
    }
    return worst?.plant;
  }

  /** The exact loops of a candidate. */
  private judged({ control, choices }: Pick<Candidate, 'control' | 'choices'>): Tried {
    const loops = loopCorners(this.with(control));
    const missed = shortfall(loops, this.asked);
    return {
      proposal: { control, choices: [...this.modulator, ...choices], corners: loops, holds: missed === 0 },
      missed,
    };
  }
  private with(control: Stage['control']): EvaluatedStage {
    const { evaluated, complete } = this;
    return { ...evaluated, complete: { ...complete, stage: { ...complete.stage, control } } };
  }

  /**
   * From the highest crossover down, the first candidate that holds; else the one that misses least. Slow zeros are taken only where no
   * network holds without.
   */
  descending(candidates: Candidates, slowestZero = this.asked.slowestZero): Tried | undefined {
    const quick = this.descendingWith(candidates, slowestZero);
    return slowestZero === 0 || quick?.missed === 0 ? quick : better(this.descendingWith(candidates, 0), quick);
  }

  private descendingWith(candidates: Candidates, slowestZero: number): Tried | undefined {
    const { stage, inductor, switchingFrequency } = this.complete;
    const first = AMBITION * assumedCrossover(stage, inductor.inductance, switchingFrequency);
    let best: Tried | undefined;
    for (let k = 0; k < TRIALS; k += 1) {
      const crossover = first * LOWER_BY ** k;
      for (const candidate of candidates(crossover, this.asked.phaseMargin + SPARE, slowestZero)) {
        const worst = this.roughlyWorst(candidate);
        if (!worst) continue;
        // One exact loop tells most of those that will not hold.
        const there = loopCorners({ ...this.with(candidate.control), corners: [worst.at] });
        if (best && shortfall(there, this.asked) > 0) continue;
        const tried = this.judged(candidate);
        if (best && tried.missed >= best.missed) continue;
        best = tried;
        if (tried.missed === 0) return best;
      }
    }
    return best;
  }

  /**
   * The same network at a level of impedance at which it can be built: its smallest capacitor well above the strays of a board. About an
   * op-amp the divider sets the level, so it is chosen lower. What was tried stays where that is not to be had, or misses more.
   */
  buildable(tried: Tried, vOut: number): Tried {
    const { control } = this.complete.stage;
    const compensator = tried.proposal.control.compensator;
    const least = smallestCapacitor(tried.proposal);
    if (!compensator || least >= LEAST_CAPACITOR) return tried;
    const { rLower, cPole } = compensator.components;
    if (!dividerIsFree(control) || compensator.amplifier.kind === 'ota') {
      // The level is not free: only the pole can come lower.
      if (cPole === undefined || cPole >= LEAST_CAPACITOR) return tried;
      const components = { ...compensator.components, cPole: LEAST_CAPACITOR };
      const lower = this.judged({
        control: { ...control, compensator: { ...compensator, components } },
        choices: withValues(tried.proposal.choices.slice(this.modulator.length), components),
      });
      return lower.missed <= tried.missed ? lower : tried;
    }
    if (rLower === undefined) return tried;
    const shape = shapeAt(tried.proposal.control, this.complete.switchingFrequency / 10);
    // Why each part is what it is stays; what it is does not.
    const reasons = tried.proposal.choices.slice(this.modulator.length);
    for (const room of ROOMS_FOR_ROUNDING) {
      const about = Math.max(LEAST_LOWER, (rLower * least) / (room * LEAST_CAPACITOR));
      const frame = frameOf(control, vOut, about);
      const exact = frame && shape && componentsOf(shape, frame);
      if (!exact || !isOrderable(exact)) continue;
      const components = preferredComponents(exact);
      const again = this.judged({
        control: { ...control, compensator: { ...compensator, components } },
        choices: withValues(reasons, components),
      });
      if (again.missed <= tried.missed) return again;
    }
    return tried;
  }

  /** Search zeros, poles and gain from a start; then turn the gain down until the exact loops hold. */
  searched(frame: Frame, start: Shape): Tried | undefined {
    const { control } = this.complete.stage;
    const shape = optimiseShape(start, frame, control, this.plants, this.asked);
    let best: Tried | undefined;
    for (let turn = 0; turn < TURNS; turn += 1) {
      const exact = componentsOf({ ...shape, gain: shape.gain * TURNED_DOWN_BY ** turn }, frame);
      if (!exact || !isOrderable(exact)) return best;
      const components = preferredComponents(exact);
      const compensator: Compensator = { network: frame.network, amplifier: frame.amplifier, components };
      const whole = completeCompensator({ ...control, compensator });
      if (!whole.ok) return best;
      const response = compensatorResponse(whole.value);
      const crossovers = this.plants.map((plant) => roughMargins(plant, response).crossover);
      const highest = Math.max(...crossovers.map((one) => (one.kind === 'found' ? one.value : 0)));
      const tried = this.judged({
        control: { ...control, compensator },
        choices: componentChoices(components, frame, highest, 'highest-crossover'),
      });
      if (!best || tried.missed < best.missed) best = tried;
      if (tried.missed === 0) return best;
    }
    return best;
  }
}

/** Where a search begins that has no network to begin with: zeros below the crossover, poles at half the switching frequency. */
function firstShape(frame: Frame, plants: readonly Plant[], fSw: number, crossover: number): Shape {
  const pairs = frame.network === 'integrator' ? 0 : frame.network === 'type-2' ? 1 : 2;
  return {
    zeros: Array.from({ length: pairs }, (_, k) => crossover / (k === 0 ? 10 : 1.5)),
    poles: Array.from({ length: pairs }, () => fSw / 2),
    at: crossover,
    gain: 1 / Math.max(...plants.map(({ exact }) => magnitude(exact(crossover)))),
  };
}

/** The smallest capacitor of a proposed network, F; infinite where it has none. */
function smallestCapacitor({ control }: ProposedLoop): number {
  const { cZero, cPole, cFeedforward } = control.compensator?.components ?? {};
  return Math.min(
    ...[cZero, cPole, cFeedforward].flatMap((value) => (value !== undefined && value > 0 ? [value] : [])),
  );
}

/** The shape of a control's compensator, its gain taken at a frequency. */
function shapeAt(control: Stage['control'], at: number): Shape | undefined {
  const whole = completeCompensator(control);
  if (!whole.ok) return undefined;
  return { ...shapeOf(whole.value), at, gain: magnitude(compensatorResponse(whole.value)(at)) };
}

/** Constant on-time has no compensator: what may help it is ripple. */
function proposeRippleInjection(evaluated: EvaluatedStage): ProposedLoop | string {
  const { complete } = evaluated;
  const { stage } = complete;
  if (converterOf(stage, {}) !== 'buck')
    return 'a ripple injection network is worked for stages whose inductor feeds the output all the time';
  const sized = sizeRippleInjection(evaluated);
  if (typeof sized === 'string') return sized;
  const control = { ...stage.control, rippleInjection: sized.injection };
  const corners = loopCorners({ ...evaluated, complete: { ...complete, stage: { ...stage, control } } });
  const holds = shortfall(corners, askedMargins(stage.targets)) === 0;
  return { control, choices: sized.choices, corners, holds };
}

const better = (a: Tried | undefined, b: Tried | undefined): Tried | undefined => {
  if (!a || !b) return a ?? b;
  if (a.missed !== b.missed) return a.missed < b.missed ? a : b;
  return lowestCrossover(a.proposal.corners) >= lowestCrossover(b.proposal.corners) ? a : b;
};

/**
 * Propose a compensator for a stage that is complete but for its loop: as high a crossover as the margins allow at every corner.
 *
 * By the K factor, crossovers are tried from the highest down: each trial places zeros and poles for the corner whose plant lags
 * most, sets the gain by the corner whose plant is strongest, rounds to preferred values, and is checked as plant times
 * compensator; what passes is judged by the exact loops of all corners, multipliers included. The search for the highest
 * crossover begins with what that found; it also steps in where that found nothing that holds.
 *
 * Constant on-time is given a ripple injection network instead.
 *
 * @returns the proposal, or the words for why there is none.
 * @public
 */
export function proposeLoop(evaluated: EvaluatedStage, procedure: Procedure = 'k-factor'): ProposedLoop | string {
  const proposed = proposeNetwork(evaluated, procedure);
  if (typeof proposed === 'string') return proposed;
  // What the divider is made of decides how near the output comes, and nothing of the loop.
  const worked = evaluateStage({ ...evaluated.evaluation.stage, control: proposed.control });
  if (!worked.ok) return proposed;
  const { control, choices } = toleranceClasses(worked.value);
  return { ...proposed, control, choices: [...proposed.choices, ...choices] };
}

/** The same without the classes of its parts. */
export function proposeNetwork(evaluated: EvaluatedStage, procedure: Procedure = 'k-factor'): ProposedLoop | string {
  const { complete, evaluation } = evaluated;
  const { stage } = evaluation;
  if (stage.control.scheme === 'constant-on-time') return proposeRippleInjection(evaluated);
  const modulator = sizeModulator(evaluated);
  const controlled = { ...complete, stage: { ...stage, control: modulator.control } };
  const plants = plantsOf({ ...evaluated, complete: controlled });
  if (typeof plants === 'string') return plants;
  const proposal = new Proposal(evaluated, controlled, plants, modulator.choices);
  if (stage.control.scheme === 'digital') {
    // Gains have no zero that is placed: one pass looks at all there is.
    const found = proposal.descending(
      (crossover, phaseMargin) => digitalCandidates(controlled, plants, crossover, phaseMargin),
      0,
    );
    return found && found.missed < UNSTABLE ? found.proposal : 'no gains were found whose loop holds at every corner';
  }
  const frame = frameOf(modulator.control, stage.targets.outputVoltage);
  if (!frame) return 'the output voltage is not above the reference voltage, so no divider sets it';
  const byKFactor = proposal.descending((crossover, phaseMargin, slowestZero) =>
    kFactorCandidates(controlled, frame, plants, crossover, phaseMargin, { slowestZero }),
  );
  const vOut = stage.targets.outputVoltage;
  if (byKFactor?.missed === 0 && procedure === 'k-factor') {
    const built = proposal.buildable(byKFactor, vOut);
    if (smallestCapacitor(built.proposal) >= LEAST_CAPACITOR) return built.proposal;
    // About a transconductance amplifier the level is not free: its pole comes lower, and the crossover with it.
    if (!dividerIsFree(modulator.control) || frame.amplifier.kind === 'ota') {
      const again = proposal.descending((crossover, phaseMargin, slowestZero) =>
        kFactorCandidates(controlled, frame, plants, crossover, phaseMargin, {
          leastPole: LEAST_CAPACITOR,
          slowestZero,
        }),
      );
      return again?.missed === 0 && smallestCapacitor(again.proposal) >= LEAST_CAPACITOR
        ? again.proposal
        : built.proposal;
    }
    // The values of the series hit the margins otherwise at another level of impedance: there the crossover is sought anew.
    for (const level of LOWER_LEVELS) {
      const lower = frameOf(modulator.control, vOut, level * frame.rLower);
      const again =
        lower &&
        proposal.descending((crossover, phaseMargin, slowestZero) =>
          kFactorCandidates(controlled, lower, plants, crossover, phaseMargin, { slowestZero }),
        );
      if (again?.missed === 0 && smallestCapacitor(again.proposal) >= LEAST_CAPACITOR) return again.proposal;
    }
    return built.proposal;
  }
  const { switchingFrequency, inductor } = controlled;
  const usual = assumedCrossover(stage, inductor.inductance, switchingFrequency);
  const start =
    (byKFactor && shapeAt(byKFactor.proposal.control, usual)) ?? firstShape(frame, plants, switchingFrequency, usual);
  const found = better(byKFactor, proposal.searched(frame, start));
  if (found && found.missed < UNSTABLE) return proposal.buildable(found, vOut).proposal;
  return `no ${frame.network} network was found whose margins hold at every corner${stage.control.scheme === 'voltage-mode' ? '; peak current mode leaves less phase to lift' : ''}`;
}
