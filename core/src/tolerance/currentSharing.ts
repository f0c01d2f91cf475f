import { currentOf, sumOf } from '../orbit/signal.js';
import { average, extremes } from '../orbit/measures.js';
import { regulate } from '../orbit/regulate.js';
import { harmonics } from '../orbit/spectrum.js';
import { regulatedOutput } from '../controller/divider.js';
import type { Element } from '../circuit/elements.js';
import type { OperatingCondition, PowerStage } from '../powerstage/powerStage.js';
import { powerStageOf } from '../powerstage/powerStageOf.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { SolvedCircuit } from '../steady/solveCircuit.js';
import { DEFAULT_TOLERANCES } from './loopSpreads.js';
import { randomOf } from './random.js';

/** How a phase differs from the others. @public */
export interface PhaseError {
  /** Factors on what the stage states. */
  readonly windingResistance: number;
  readonly onResistance: number;
  readonly inductance: number;
  /** s, by which its command lasts longer than asked for. */
  readonly longer: number;
  /** Share of the period by which its clock comes late. */
  readonly late: number;
}
/** @public */
export const NO_ERROR: PhaseError = { windingResistance: 1, onResistance: 1, inductance: 1, longer: 0, late: 0 };

/** The currents of unequal phases under one duty ratio. @public */
export interface UnequalPhases {
  /** A, by phase. */
  readonly phases: readonly { readonly average: number; readonly ripple: number; readonly peak: number }[];
  /** A peak to peak, of the sum; and what is left of the switching frequency in it, amplitude: equal phases leave none. */
  readonly summedRipple: number;
  readonly residue: number;
  readonly solved: SolvedCircuit;
}

/** The power stage with every phase as its error makes it: no phase is a copy of another then. */
function unequal(stage: PowerStage, errors: readonly PhaseError[], period: number): PowerStage {
  const { byPhase } = stage.elements;
  const errorOf = new Map(byPhase.flatMap((names, k) => names.map((name) => [name, errors[k] ?? NO_ERROR] as const)));
  const made = (e: Element): Element => {
    const error = errorOf.get(e.name);
    if (!error) return e;
    if (e.kind === 'inductor')
      return { ...e, inductance: e.inductance * error.inductance, resistance: e.resistance * error.windingResistance };
    return e.kind === 'switch' ? { ...e, onResistance: e.onResistance * error.onResistance } : e;
  };
  return {
    ...stage,
    circuit: { ...stage.circuit, elements: stage.circuit.elements.map(made) },
    rotation: { order: 1, next: new Map() },
    phases: stage.phases.map((phase, k) => {
      const { longer, late } = errors[k] ?? NO_ERROR;
      return {
        ...phase,
        offset: (phase.offset + late + 1) % 1,
        intervals: phase.intervals.map((interval) =>
          interval.begins === 'clock'
            ? interval
            : { ...interval, start: { ...interval.start, share: interval.start.share + longer / period } },
        ),
      };
    }),
  };
}

/**
 * The steady state of a stage whose phases differ, all with the one duty ratio that keeps the output: what a single control voltage
 * makes of them. The inductances are constant.
 *
 * @returns the words for why there is none.
 * @public
 */
export function unequalPhases(
  complete: CompleteStage,
  condition: OperatingCondition,
  errors: readonly PhaseError[],
): UnequalPhases | string {
  const { stage, switchingFrequency } = complete;
  const period = 1 / switchingFrequency;
  const powerStage = unequal(powerStageOf(complete, condition), errors, period);
  const { circuit, phases, rotation, outputNode, idealDuty } = powerStage;
  const dead = stage.deadTime * switchingFrequency;
  const longest = Math.max(...errors.map(({ longer }) => Math.abs(longer))) * switchingFrequency;
  const found = regulate(
    { circuit, phases, rotation, period },
    {
      node: outputNode,
      target: regulatedOutput(stage),
      guess: idealDuty + dead,
      rising: idealDuty + dead,
      min: dead + longest,
      max: Math.min(stage.control.dutyMax, 1 - dead - longest - 1e-6, powerStage.largestDuty ?? 1),
    },
  );
  if (found.kind !== 'solved') return 'no duty ratio was found at which unequal phases keep the output';
  const { solution } = found;
  const { inductors } = powerStage.elements;
  const sum = sumOf(inductors.map(currentOf));
  const [first] = harmonics(solution, sum, 1);
  return {
    phases: inductors.map((name) => {
      const { max, peakToPeak } = extremes(solution, currentOf(name));
      return { average: average(solution, currentOf(name)), ripple: peakToPeak, peak: max };
    }),
    summedRipple: extremes(solution, sum).peakToPeak,
    residue: first?.amplitude ?? 0,
    solved: { powerStage, solution },
  };
}

/** One board: how far its phases are from sharing alike. @public */
export interface SharingSample {
  /** The largest of the phase currents over the mean, with one duty ratio for all, and with a loop that makes them alike. */
  readonly open: number;
  readonly shared: number;
  /** A, the highest peak of a phase in both. */
  readonly openPeak: number;
  readonly sharedPeak: number;
  /** A, what is left at the switching frequency of the sum. */
  readonly residue: number;
}

/** How alike the phases of boards carry the current. @public */
export interface SharingStudy {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  readonly samples: readonly SharingSample[];
  /** Boards that were tried, and those of them for which no duty ratio was found: they are in no figure. */
  readonly tried: number;
  readonly unsolved: number;
  /** A: the peak of equal phases, and the saturation current where it is stated. */
  readonly equalPeak: number;
  readonly saturation: number | undefined;
  /** By what each value was scattered, in words. */
  readonly spread: string;
}

/** Scatter where nothing is stated. Common practice: winding resistance 10 %, edges that differ by 3 ns, clocks by 1 % of a period. */
const WINDING = 0.1;
const EDGES = 3e-9;
const CLOCKS = 0.01;
/** Boards after which it is told of. */
const TOLD_EVERY = 20;

/**
 * Boards with phases scattered within their tolerances, at full load and nominal input: with one duty ratio for all of them, and with a
 * loop for each that makes its sensed current the mean of all, off by its sense gain alone.
 *
 * @param seed the same seed gives the same boards.
 * @param tell told of what there is now and then.
 * @returns the words for why there is nothing to share.
 * @public
 */
export function sharingStudy(
  complete: CompleteStage,
  count: number,
  seed = 1,
  tell: (sofar: SharingStudy) => void = () => undefined,
): SharingStudy | string {
  const { stage, inductor } = complete;
  if (stage.phases < 2) return 'A single phase has nobody to share with.';
  const inputVoltage = nominalInput(stage);
  const outputCurrent = stage.targets.outputCurrent.max;
  const condition = { inputVoltage, load: { kind: 'current' as const, current: outputCurrent } };
  const inductance = inductor.tolerance ?? DEFAULT_TOLERANCES.inductor;
  const sense = stage.control.tolerances?.controller ?? DEFAULT_TOLERANCES.controller;
  const equal = unequalPhases(
    complete,
    condition,
    Array.from({ length: stage.phases }, () => NO_ERROR),
  );
  if (typeof equal === 'string') return equal;
  const percent = (tolerance: number): string => `${(100 * tolerance).toFixed(0)} %`;
  const samples: SharingSample[] = [];
  const sofar = (tried: number): SharingStudy => ({
    inputVoltage,
    outputCurrent,
    samples: [...samples],
    tried,
    unsolved: tried - samples.length,
    equalPeak: Math.max(...equal.phases.map(({ peak }) => peak)),
    saturation: inductor.saturationCurrent,
    spread: `inductance ${percent(inductance)}, winding resistance ${percent(WINDING)}, on-resistance ${percent(DEFAULT_TOLERANCES.onResistance)}, command ${(1e9 * EDGES).toFixed(0)} ns, clock ${percent(CLOCKS)} of the period, sense gain ${percent(sense)}`,
  });
  for (let index = 0; index < count; index += 1) {
    const next = randomOf(seed, index);
    const within = (tolerance: number): number => tolerance * (2 * next() - 1);
    const errors = Array.from({ length: stage.phases }, (): PhaseError => ({
      windingResistance: 1 + within(WINDING),
      onResistance: 1 + within(DEFAULT_TOLERANCES.onResistance),
      inductance: 1 + within(inductance),
      longer: within(EDGES / 2),
      late: within(CLOCKS / 2),
    }));
    const gains = errors.map(() => 1 + within(sense));
    const found = unequalPhases(complete, condition, errors);
    if (typeof found !== 'string') samples.push(sampleOf(found, gains));
    if ((index + 1) % TOLD_EVERY === 0 && samples.length > 0) tell(sofar(index + 1));
  }
  return samples.length === 0 ? 'No board of unequal phases keeps the output.' : sofar(count);
}

function sampleOf({ phases, residue }: UnequalPhases, gains: readonly number[]): SharingSample {
  const mean = phases.reduce((sum, one) => sum + one.average, 0) / phases.length;
  // Sensed alike: what a phase carries goes with one over its gain, all of them together with the load.
  const inverse = gains.map((gain) => 1 / gain);
  const scale = (mean * phases.length) / inverse.reduce((sum, one) => sum + one, 0);
  const shared = phases.map(({ ripple }, k) => ({
    average: (inverse[k] ?? 1) * scale,
    peak: (inverse[k] ?? 1) * scale + ripple / 2,
  }));
  const most = (of: readonly number[]): number => Math.max(...of);
  return {
    open: most(phases.map((one) => one.average)) / mean,
    shared: most(shared.map((one) => one.average)) / mean,
    openPeak: most(phases.map((one) => one.peak)),
    sharedPeak: most(shared.map((one) => one.peak)),
    residue,
  };
}
