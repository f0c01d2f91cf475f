import { z } from 'zod';
import type { CompleteStage } from '../stage/completeStage.js';
import type { OperatingCondition, PowerStage, SwitchPosition } from '../topology/powerStage.js';
import { powerStageOf } from '../topology/powerStageOf.js';
import { alternatingRms, average, averageProduct, extremes, rms } from './measures.js';
import { solvePeriodic, type PeriodicSolution } from './periodic.js';
import { currentOf, nodeVoltage, sumOf, voltageOf, type Signal } from './signal.js';

const switchStressSchema = z.strictObject({ voltage: z.number(), peakCurrent: z.number(), rmsCurrent: z.number() });

/** The figures of one operating point, in SI units, as they cross the API and the command line. */
export const operatingPointSchema = z.strictObject({
  inputVoltage: z.number(),
  outputVoltage: z.number(),
  outputCurrent: z.number(),
  duty: z.number(),
  conductionMode: z.enum(['CCM', 'DCM']),
  inductorCurrent: z.strictObject({
    average: z.number(),
    peak: z.number(),
    valley: z.number(),
    ripple: z.number(),
    rms: z.number(),
  }),
  totalInductorRipple: z.number(),
  outputRipple: z.number(),
  inputRipple: z.number(),
  inputCurrent: z.number(),
  inputCapacitorRms: z.number(),
  inputCapacitorBanks: z.array(z.strictObject({ rms: z.number() })),
  outputCapacitorRms: z.number(),
  outputCapacitorBanks: z.array(z.strictObject({ rms: z.number() })),
  switchStress: z.record(z.string(), switchStressSchema),
  losses: z.record(z.string(), z.number()),
  inputPower: z.number(),
  outputPower: z.number(),
  efficiency: z.number(),
});
export type OperatingPoint = z.infer<typeof operatingPointSchema>;

/** An operating point with the waveforms it was measured on. */
export interface SolvedPoint {
  readonly kind: 'solved';
  readonly point: OperatingPoint;
  readonly powerStage: PowerStage;
  readonly solution: PeriodicSolution;
}

/** Why a stage has no operating point at a condition. */
export interface UnsolvedPoint {
  readonly kind: 'unsolved';
  readonly reason: string;
  /** The duty ratio at which the search ended. */
  readonly duty: number;
  readonly iterations: number;
}

/**
 * The exact periodic steady state of a stage at one input voltage and load, regulated to its output voltage or at a fixed
 * duty ratio, and every figure measured on it.
 *
 * @param fixedDuty runs open loop at this duty ratio (0 to 1) when given.
 */
export function operatingPoint(complete: CompleteStage, condition: OperatingCondition, fixedDuty?: number): SolvedPoint | UnsolvedPoint {
  const powerStage = powerStageOf(complete, condition);
  const { stage, switchingFrequency } = complete;
  const period = 1 / switchingFrequency;
  const deadShare = stage.deadTime * switchingFrequency;
  const min = Math.max(stage.control.minimumOnTime, stage.deadTime) * switchingFrequency;
  const max = Math.min(stage.control.dutyMax, 1 - deadShare);
  const result = solvePeriodic({
    circuit: powerStage.circuit,
    phases: powerStage.phases,
    period,
    control:
      fixedDuty === undefined
        ? {
            kind: 'regulated',
            node: powerStage.outputNode,
            average: stage.targets.outputVoltage,
            guess: Math.min(max - 1e-3, Math.max(min + 1e-3, powerStage.idealDuty + deadShare)),
            min,
            max,
          }
        : { kind: 'duty', duty: fixedDuty },
  });
  if (result.kind === 'not-converged') {
    const atLimit = fixedDuty === undefined && (result.duty > max - 1e-4 || result.duty < min + 1e-4);
    const reason = atLimit
      ? result.duty > max - 1e-4
        ? `the output voltage is not reached within the maximum duty ratio of ${max.toFixed(3)}`
        : `the output voltage would need an on-time below the minimum of ${(min * period * 1e9).toFixed(0)} ns`
      : result.reason;
    return { kind: 'unsolved', reason, duty: result.duty, iterations: result.iterations };
  }
  return { kind: 'solved', point: measured(powerStage, result.solution, condition), powerStage, solution: result.solution };
}

/** Every figure of the operating point, from the waveforms of the solution. */
function measured(powerStage: PowerStage, solution: PeriodicSolution, condition: OperatingCondition): OperatingPoint {
  const { elements, outputNode } = powerStage;
  const firstInductor = currentOf(elements.inductors[0] ?? '');
  const inductorExtremes = extremes(solution, firstInductor);
  const inputSignal: Signal = (equations) => currentOf(elements.source)(equations).map((value) => -value);
  const outputPower = averageProduct(solution, voltageOf(elements.load), currentOf(elements.load));
  const inputPower = condition.inputVoltage * average(solution, inputSignal);
  const losses = lossesByPart(powerStage, solution);
  const inputBankCurrents = elements.inputBanks.map(currentOf);
  const idle = solution.outcomes.some((outcome, i) => outcome.endsWith('idle') && wholeOff(powerStage, i));
  return {
    inputVoltage: condition.inputVoltage,
    outputVoltage: average(solution, nodeVoltage(outputNode)),
    outputCurrent: Math.abs(average(solution, currentOf(elements.load))),
    duty: solution.duty,
    conductionMode: idle ? 'DCM' : 'CCM',
    inductorCurrent: {
      average: average(solution, firstInductor),
      peak: inductorExtremes.max,
      valley: inductorExtremes.min,
      ripple: inductorExtremes.peakToPeak,
      rms: rms(solution, firstInductor),
    },
    totalInductorRipple: extremes(solution, sumOf(elements.inductors.map(currentOf))).peakToPeak,
    outputRipple: extremes(solution, nodeVoltage(outputNode)).peakToPeak,
    inputRipple: extremes(solution, nodeVoltage('in')).peakToPeak,
    inputCurrent: average(solution, inputSignal),
    inputCapacitorRms:
      inputBankCurrents.length > 0 ? rms(solution, sumOf(inputBankCurrents)) : alternatingRms(solution, inputSignal),
    inputCapacitorBanks: inputBankCurrents.map((signal) => ({ rms: rms(solution, signal) })),
    outputCapacitorRms: rms(solution, sumOf(elements.outputBanks.map(currentOf))),
    outputCapacitorBanks: elements.outputBanks.map((name) => ({ rms: rms(solution, currentOf(name)) })),
    switchStress: Object.fromEntries(
      Object.entries(elements.positions).map(([position, devices]) => [position, stressOf(devices[0], solution)]),
    ),
    losses,
    inputPower,
    outputPower,
    efficiency: inputPower > 0 ? outputPower / inputPower : 0,
  };
}

/** Whether an interval is the rectifier's whole turn, not a dead time: then idle diodes mean discontinuous conduction. */
function wholeOff(powerStage: PowerStage, interval: number): boolean {
  const intervals = powerStage.phases[0]?.intervals ?? [];
  return intervals.length === 2 && interval === 1;
}

function stressOf(position: SwitchPosition | undefined, solution: PeriodicSolution) {
  if (!position) return { voltage: 0, peakCurrent: 0, rmsCurrent: 0 };
  const across = extremes(solution, voltageOf(position.device));
  const through = extremes(solution, currentOf(position.device));
  return {
    voltage: Math.max(Math.abs(across.max), Math.abs(across.min)),
    peakCurrent: Math.max(Math.abs(through.max), Math.abs(through.min)),
    rmsCurrent: rms(solution, currentOf(position.device)),
  };
}

/** The average power that goes into an element and does not come out again. */
function absorbed(solution: PeriodicSolution, name: string): number {
  return averageProduct(solution, voltageOf(name), currentOf(name));
}

/** Conduction losses in watts, by part; `total` is their sum. All phases together. */
function lossesByPart(powerStage: PowerStage, solution: PeriodicSolution): Record<string, number> {
  const { elements, circuit } = powerStage;
  const known = new Set<string>([elements.load, elements.source]);
  const losses: Record<string, number> = {};
  const take = (key: string, names: readonly string[]): void => {
    if (names.length === 0) return;
    names.forEach((name) => known.add(name));
    losses[key] = names.reduce((sum, name) => sum + absorbed(solution, name), 0);
  };
  for (const [position, devices] of Object.entries(elements.positions)) {
    take(`${position}Conduction`, devices.map(({ device }) => device));
    take(`${position}BodyDiode`, devices.flatMap(({ bodyDiode }) => (bodyDiode === undefined ? [] : [bodyDiode])));
  }
  take('inductorCopper', elements.inductors);
  take('outputCapacitorEsr', elements.outputBanks);
  take('inputCapacitorEsr', elements.inputBanks);
  for (const { name } of circuit.elements) if (!known.has(name)) take(name, [name]);
  losses['total'] = Object.values(losses).reduce((sum, watts) => sum + watts, 0);
  return losses;
}
