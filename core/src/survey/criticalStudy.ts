import {
  criticalPeriod,
  criticalWaveform,
  negativeCurrent,
  type CriticalPeriod,
  type CriticalPhase,
  type CriticalWaveform,
} from '../firstcut/criticalConduction.js';
import { windingRipple } from '../firstcut/coupledRipple.js';
import { diodeOutputCharge, mosfetOutputCharge } from '../losses/outputCharge.js';
import { idealPoint } from '../powerstage/idealPoint.js';
import type { CompleteStage } from '../stage/completeStage.js';
import { couplingLookedAt, windingsOf, type Coupling } from '../stage/coupling.js';
import { nominalInput } from '../stage/nominalInput.js';

/** How the main switch comes to close: at the lowest voltage of the ring, or at none, for which a current below nothing is let flow where it must. */
export type Turned = 'valley' | 'no-voltage';

/** Critical conduction at an input voltage. @public */
export interface CriticalInput {
  readonly inputVoltage: number;
  /** A below nothing that the main switch needs to close at no voltage; 0 where the ring gets there by itself. */
  readonly negative: number;
  /** V and J left in a valley at full load. */
  readonly left: number;
  readonly energyLeft: number;
  /** Of each way to turn on: the frequency over load, Hz, and W left in all phases at full load. */
  readonly ways: Readonly<Record<Turned, { readonly frequencies: readonly number[]; readonly lost: number }>>;
}

/** A stage of one phase or several in critical conduction. @public */
export interface CriticalStudy {
  /** A, of all phases. */
  readonly loads: readonly number[];
  readonly inputs: readonly CriticalInput[];
  /** F, of a switch node; and whether a part of it is taken from no record, so that it is more. */
  readonly capacitance: number;
  /** At nominal input and full load: a period, its waveforms, and what is left of the ripple of all phases a period apart by their number. */
  readonly shown: Readonly<
    Record<
      Turned,
      {
        readonly period: CriticalPeriod;
        readonly waveform: CriticalWaveform;
        readonly summed: number;
        readonly winding: number;
      }
    >
  >;
  /** Frequency with coupled windings over that without, by the input voltages, where there is a pair: the ripple must still be twice the mean. */
  readonly coupled: { readonly coupling: Coupling; readonly factors: readonly number[] } | undefined;
  /** Periods of a phase whose inductance is at either end of its tolerance over that of one at its value; undefined where none is stated. */
  readonly spread: readonly [low: number, high: number] | undefined;
}

const LOADS = 24;
const LEAST_SHARE = 0.05;
const SAMPLES = 720;

/** F of the switch node by charge, at the voltage it swings over. */
function nodeCapacitance({ legs }: CompleteStage, swing: number): number {
  const [leg] = legs;
  if (!leg) return 0;
  const { main, rectifier } = leg;
  const charge =
    mosfetOutputCharge(main, swing).charge +
    (rectifier.kind === 'switch'
      ? mosfetOutputCharge(rectifier.mosfet, swing).charge
      : diodeOutputCharge(rectifier.diode, swing).charge);
  return charge / swing;
}

/** Value of a waveform at a time, with the one before. */
function at({ time, current }: CriticalWaveform, when: number): number {
  const k = time.findIndex((one) => one >= when);
  if (k <= 0) return current[Math.max(0, k)] ?? NaN;
  const [t0 = 0, t1 = 0, i0 = NaN, i1 = NaN] = [time[k - 1], time[k], current[k - 1], current[k]];
  return t1 === t0 ? i1 : i0 + ((i1 - i0) * (when - t0)) / (t1 - t0);
}

/** What is left of the ripple of evenly spread phases in their sum, A peak to peak. */
function summedRipple(waveform: CriticalWaveform, period: number, phases: number): number {
  const sums = Array.from({ length: SAMPLES }, (_, k) => {
    let sum = 0;
    for (let p = 0; p < phases; p += 1) sum += at(waveform, ((k / SAMPLES + p / phases) % 1) * period);
    return sum;
  });
  return Math.max(...sums) - Math.min(...sums);
}

/**
 * A stage in critical conduction: its frequency over load and input, where the ring of inductor and switch node lets the main switch
 * close at no voltage and what current below nothing that takes elsewhere, and what phases at even distances leave of the ripple.
 *
 * From closed forms without losses; the node's capacitance is that of its devices by charge, without that of choke and board.
 *
 * @returns the words for why there is nothing to study.
 * @public
 */
export function criticalStudy(complete: CompleteStage): CriticalStudy | string {
  const { stage, inductor } = complete;
  if (complete.legs.length !== 1) return 'Critical conduction is looked at for stages with one half bridge a phase.';
  const { inputVoltage: range, outputCurrent } = stage.targets;
  const nominal = nominalInput(stage);
  const phaseAt = (inputVoltage: number, load: number): CriticalPhase | string => {
    const { phaseCurrent, onVoltage, duty } = idealPoint(stage, inputVoltage);
    const offVoltage = (onVoltage * duty) / (1 - duty);
    const capacitance = nodeCapacitance(complete, onVoltage + offVoltage);
    if (!(capacitance > 0))
      return 'The devices state no output charge: without it there is no ring. Take switches from records, or fill in what is typical of them.';
    return {
      inductance: inductor.inductance,
      capacitance,
      onVoltage,
      offVoltage,
      average: (phaseCurrent * load) / outputCurrent.max,
    };
  };
  const full = phaseAt(nominal, outputCurrent.max);
  if (typeof full === 'string') return full;
  const lightest = Math.max(outputCurrent.min, LEAST_SHARE * outputCurrent.max);
  const loads = Array.from({ length: LOADS }, (_, k) => lightest * (outputCurrent.max / lightest) ** (k / (LOADS - 1)));
  const periodOf = (phase: CriticalPhase, turned: Turned): CriticalPeriod =>
    criticalPeriod(phase, turned === 'valley' ? 0 : negativeCurrent(phase));
  const inputs = [...new Set([range.min, nominal, range.max])].map((inputVoltage): CriticalInput => {
    const phases = loads.map((load) => phaseAt(inputVoltage, load)).filter((one) => typeof one !== 'string');
    const last = phases.at(-1) ?? full;
    const valley = periodOf(last, 'valley');
    const way = (turned: Turned) => {
      const { energyLeft, period } = periodOf(last, turned);
      return {
        frequencies: phases.map((phase) => 1 / periodOf(phase, turned).period),
        lost: (stage.phases * energyLeft) / period,
      };
    };
    return {
      inputVoltage,
      negative: negativeCurrent(last),
      left: valley.left,
      energyLeft: valley.energyLeft,
      ways: { valley: way('valley'), 'no-voltage': way('no-voltage') },
    };
  });
  const shown = (turned: Turned) => {
    const period = periodOf(full, turned);
    const waveform = criticalWaveform(full, period);
    return {
      period,
      waveform,
      summed: summedRipple(waveform, period.period, stage.phases),
      winding: Math.max(...waveform.current) - Math.min(...waveform.current),
    };
  };
  const { tolerance } = inductor;
  const spreadAt = (factor: number): number =>
    periodOf({ ...full, inductance: factor * full.inductance }, 'valley').period / periodOf(full, 'valley').period;
  return {
    loads,
    inputs,
    capacitance: full.capacitance,
    shown: { valley: shown('valley'), 'no-voltage': shown('no-voltage') },
    coupled: coupledFactors(complete, inputs),
    spread: tolerance === undefined ? undefined : [spreadAt(1 - tolerance), spreadAt(1 + tolerance)],
  };
}

/** The ripple of a winding, and so the frequency at which it is twice the mean, goes with what coupling leaves of the inductance. */
function coupledFactors(
  { stage, inductor }: CompleteStage,
  inputs: readonly CriticalInput[],
): CriticalStudy['coupled'] {
  if (stage.phases < 2) return undefined;
  const coupling = couplingLookedAt(stage);
  const windings = windingsOf(stage.phases, coupling.core);
  const factors = inputs.map(({ inputVoltage }) => {
    const { duty } = idealPoint(stage, inputVoltage);
    const ripple = (kind: 'none' | Coupling['kind']): number =>
      windingRipple({ inductance: inductor.inductance, kind, coefficient: coupling.coefficient, windings }, 1, duty, 1);
    return ripple(coupling.kind) / ripple('none');
  });
  return { coupling, factors };
}
