import { modeInductances, type CoupledWindings } from '../firstcut/coupledRipple.js';
import { extremes } from '../orbit/measures.js';
import { currentOf, type Signal } from '../orbit/signal.js';
import { formatQuantity } from '../quantity/engineering.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { windingsOf, type Coupling } from '../stage/coupling.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { Stage } from '../stage/schema.js';
import { operatingPoint, type SolvedPoint } from '../steady/operatingPoint.js';
import { ambientOf } from './efficiency.js';

/** What windings do at full load and one input voltage. @public */
export interface WindingFigures {
  /** H, of each winding by itself, and to a load step. */
  readonly inductance: number;
  readonly transient: number;
  /** A peak to peak, of one winding and of all together. */
  readonly winding: number;
  readonly summed: number;
  /** A, of one winding. */
  readonly rms: number;
  readonly peak: number;
  /** V peak to peak. */
  readonly outputRipple: number;
  /** W of the stage; core loss and what alternates in the winding apart. */
  readonly loss: number;
}

/** What a coupled winding is compared with: three chokes that are not coupled, each alike in another respect. @public */
export type Alike = 'self-inductance' | 'size' | 'transient inductance';

/** One input voltage of a comparison. @public */
export interface CouplingComparison {
  readonly inputVoltage: number;
  readonly duty: number;
  readonly coupled: WindingFigures;
  /** Undefined where no choke of that size carries the current. */
  readonly uncoupled: Readonly<Record<Alike, WindingFigures | undefined>>;
  /** Flux linkage of a winding by what the windings share, V s: with equal currents, and with one that carries more. */
  readonly sharedFlux: number;
  readonly unbalancedFlux: number;
}

/** The widest ripples over the input range, A; NaN where an input voltage has no operating point. @public */
export interface CoupledRipples {
  readonly winding: number;
  readonly summed: number;
}

/** A coefficient of the sweep. @public */
export interface CouplingPoint extends CoupledRipples {
  readonly kind: Coupling['kind'];
  readonly coefficient: number;
}

/** Ripples against the coefficient, wound either way, and without coupling. @public */
export interface CouplingSweep {
  readonly points: readonly CouplingPoint[];
  readonly uncoupled: CoupledRipples;
}

/** What coupling the inductors of a stage brings over its input range. @public */
export interface CouplingStudy {
  readonly coupling: Coupling;
  /** Windings on a core. */
  readonly windings: number;
  readonly comparisons: readonly CouplingComparison[];
  /** Whether it is worth it here, and why, in sentences. */
  readonly worth: boolean;
  readonly verdict: string;
}

const SWEPT = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9] as const;
/** More current in one winding than in the others, as a share of the average, that a core has to bear. Common practice: 10 to 20 %. */
export const UNBALANCE = 0.15;
/** Less winding ripple than this is no gain worth a part of its own. */
const WORTH = 0.1;

/** A stage with windings of another inductance, coupled or not: constant, without a core's loss or what alternates in the winding. */
function wound(complete: CompleteStage, coupling: Stage['coupling'], inductance: number): CompleteStage {
  const { resistance } = complete.inductor;
  return {
    ...complete,
    stage: { ...complete.stage, coupling },
    inductor: { inductance, resistance },
  };
}

const UNCOUPLED = { kind: 'none' } as const;

function solve(complete: CompleteStage, inputVoltage: number): SolvedPoint | undefined {
  const load = { kind: 'current' as const, current: complete.stage.targets.outputCurrent.max };
  const found = operatingPoint(complete, { inputVoltage, ambient: ambientOf(complete), load });
  return found.kind === 'solved' ? found : undefined;
}

const figures = ({ point }: SolvedPoint, inductance: number, transient: number): WindingFigures => ({
  inductance,
  transient,
  winding: point.inductorCurrent.ripple,
  summed: point.totalInductorRipple,
  rms: point.inductorCurrent.rms,
  peak: point.inductorCurrent.peak,
  outputRipple: point.outputRipple,
  loss: point.losses['total'] ?? NaN,
});

/**
 * The inductance of an uncoupled choke that stores at its peak what a coupled winding does at its own: the size of a choke goes with
 * the energy in it. Of ½ L (I + a/L)² = E the larger root; a/L is half the ripple.
 */
function sameEnergy(energy: number, average: number, a: number): number | undefined {
  const half = energy - a * average;
  const root = half * half - (a * average) ** 2;
  return half > 0 && root >= 0 ? (half + Math.sqrt(root)) / (average * average) : undefined;
}

/** n i₁ − Σ i, over which what n windings share links the first of them. */
function difference(names: readonly string[]): Signal {
  const own = currentOf(names[0] ?? '');
  const all = names.map(currentOf);
  return (equations) => {
    const rows = all.map((of) => of(equations));
    return own(equations).map(
      (value, i) => names.length * value - rows.reduce((sum, row) => sum + (row[i] as number), 0),
    );
  };
}

/** The windings on the core of the first phase. */
function onItsCore(names: readonly string[], windings: number): readonly string[] {
  const apart = names.length / windings;
  return names.filter((_, k) => k % apart === 0);
}

function compare(
  complete: CompleteStage,
  coupling: Coupling,
  windings: number,
  inputVoltage: number,
): CouplingComparison | undefined {
  const { inductance } = complete.inductor;
  const of: CoupledWindings = { ...coupling, inductance, windings };
  const { common, difference: apart } = modeInductances(of);
  const coupled = solve(wound(complete, coupling, inductance), inputVoltage);
  const alone = solve(wound(complete, UNCOUPLED, inductance), inputVoltage);
  if (!coupled || !alone) return undefined;
  const { average, peak } = coupled.point.inductorCurrent;
  // What leaks, and what is shared as far as the currents are not alike.
  const shared = Math.max(0, inductance - common);
  const energy = (common * peak ** 2 + shared * (UNBALANCE * average) ** 2) / 2;
  const choke = (own: number | undefined): WindingFigures | undefined => {
    const found = own === undefined ? undefined : solve(wound(complete, UNCOUPLED, own), inputVoltage);
    return found && own !== undefined ? figures(found, own, own) : undefined;
  };
  const mutual = Math.abs(apart - inductance);
  const { max, min } = extremes(
    coupled.solution,
    difference(onItsCore(coupled.powerStage.elements.inductors, windings)),
  );
  const sharedFlux = mutual * Math.max(max, -min);
  return {
    inputVoltage,
    duty: coupled.point.duty,
    coupled: figures(coupled, inductance, common),
    uncoupled: {
      'self-inductance': figures(alone, inductance, inductance),
      size: choke(sameEnergy(energy, average, (alone.point.inductorCurrent.ripple * inductance) / 2)),
      'transient inductance': choke(common),
    },
    sharedFlux,
    unbalancedFlux: sharedFlux + mutual * (windings - 1) * UNBALANCE * average,
  };
}

const times = (now: number, then: number): string => `${(now / then).toFixed(2)} times`;

/** Whether coupling is worth it: against what a designer would otherwise take. */
function judge(
  { targets }: Stage,
  { kind, coefficient }: Coupling,
  comparisons: readonly CouplingComparison[],
): { readonly worth: boolean; readonly verdict: string } {
  // A load step asks for a transient inductance: then that is what both must have. Else the ripple asks, and the winding itself counts.
  const alike: Alike = targets.loadStep ? 'transient inductance' : 'self-inductance';
  const against = comparisons.flatMap(({ coupled, uncoupled, inputVoltage }) => {
    const other = uncoupled[alike];
    return other ? [{ coupled, other, inputVoltage, ratio: coupled.winding / other.winding }] : [];
  });
  const [first] = against;
  if (!first) return { worth: false, verdict: 'No uncoupled choke could be worked to compare it with.' };
  const hardest = against.reduce((worst, one) => (one.ratio > worst.ratio ? one : worst), first);
  const { coupled, other, inputVoltage, ratio } = hardest;
  const worth = ratio < 1 - WORTH;
  const amps = (value: number): string => formatQuantity(value, 'A', 3);
  const because = targets.loadStep
    ? 'the load step sets the inductance, so it is held against uncoupled chokes of the same transient inductance'
    : 'no load step is asked for, so it is held against uncoupled chokes of the same self-inductance';
  const saves = other.loss - coupled.loss;
  return {
    worth,
    verdict:
      `${worth ? 'Worth it here' : 'Not worth it here'}: ${because} (${formatQuantity(other.inductance, 'H', 3)}). ` +
      `With ${kind} coupling of ${String(coefficient)} the winding ripples by ${amps(coupled.winding)} in place of ${amps(other.winding)} at ${formatQuantity(inputVoltage, 'V', 3)}, where it gains least: ${times(coupled.winding, other.winding)}; ` +
      `the sum of all ripples by ${amps(coupled.summed)} in place of ${amps(other.summed)}; ` +
      `${formatQuantity(Math.abs(saves), 'W', 2)} ${saves >= 0 ? 'less' : 'more'} is lost, core and what alternates in the windings apart.`,
  };
}

/** The input voltages looked at: the ends of the range, and the nominal one. */
function inputsOf(stage: Stage): readonly number[] {
  const { min, max } = stage.targets.inputVoltage;
  return [...new Set([min, nominalInput(stage), max])];
}

/** Why the phases of a stage cannot be coupled so, in words; undefined where they can. */
function uncouplable(phases: number, core: Coupling['core']): string | undefined {
  if (phases < 2) return 'A single phase has nothing to be coupled with.';
  return phases % windingsOf(phases, core) === 0
    ? undefined
    : `${String(phases)} phases cannot be joined in pairs: all of them may share one core.`;
}

/**
 * The inductors of a stage coupled, held against uncoupled ones of the same self-inductance, of the same size and of the same transient
 * inductance, at full load and the ends of the input range, by the engine.
 *
 * @param coupling as it is to be looked at; that of the stage may be none.
 * @returns the words for why there is nothing to study.
 * @public
 */
export function couplingStudy(complete: CompleteStage, coupling: Coupling): CouplingStudy | string {
  const { stage } = complete;
  const cannot = uncouplable(stage.phases, coupling.core);
  if (cannot !== undefined) return cannot;
  const windings = windingsOf(stage.phases, coupling.core);
  const comparisons: CouplingComparison[] = [];
  for (const volts of inputsOf(stage)) {
    const found = compare(complete, coupling, windings, volts);
    // Judged at the others alone it could look better than it is.
    if (!found)
      return `At ${formatQuantity(volts, 'V', 3)} input the stage has no operating point to compare windings at.`;
    comparisons.push(found);
  }
  return { coupling, windings, comparisons, ...judge(stage, coupling, comparisons) };
}

/**
 * Ripples of the windings of a stage against the coupling coefficient, wound either way, at full load and the worst of the input range, by
 * the engine.
 *
 * @returns the words for why there is nothing to sweep.
 * @public
 */
export function couplingSweep(complete: CompleteStage, core: Coupling['core']): CouplingSweep | string {
  const { stage, inductor } = complete;
  const cannot = uncouplable(stage.phases, core);
  if (cannot !== undefined) return cannot;
  const inputs = inputsOf(stage);
  const widest = (coupling: Stage['coupling']): CoupledRipples => {
    const found = inputs.map((volts) => solve(wound(complete, coupling, inductor.inductance), volts)?.point);
    return {
      winding: Math.max(...found.map((point) => point?.inductorCurrent.ripple ?? NaN)),
      summed: Math.max(...found.map((point) => point?.totalInductorRipple ?? NaN)),
    };
  };
  const points = (['inverse', 'direct'] as const).flatMap((kind) =>
    SWEPT.map((coefficient): CouplingPoint => ({ kind, coefficient, ...widest({ kind, coefficient, core }) })),
  );
  return { points, uncoupled: widest(UNCOUPLED) };
}
