import { z } from 'zod';
import { formatQuantity } from '../quantity/engineering.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { OperatingCondition, PowerStage } from '../topology/powerStage.js';
import { powerStageOf } from '../topology/powerStageOf.js';
import { figuresOf } from './figures.js';
import { evaluateMeasure } from './measure.js';
import { solvePeriodic, type PeriodicSolution } from './periodic.js';
import { regulate } from './regulate.js';

const switchStressSchema = z.strictObject({ voltage: z.number(), peakCurrent: z.number(), rmsCurrent: z.number() });

/** The figures of one operating point, in SI units, as they cross the API and the command line. */
export const operatingPointSchema = z.strictObject({
  inputVoltage: z.number(),
  outputVoltage: z.number(),
  outputCurrent: z.number(),
  duty: z.number(),
  conductionMode: z.enum(['CCM', 'DCM']),
  /** Which legs of a four-switch stage switch. */
  region: z.enum(['buck', 'transition', 'boost', 'simultaneous']).optional(),
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
  /** Where the target is out of reach: the output farthest from zero, V; `duty` is where it occurs. */
  readonly highestOutput?: number;
}

/**
 * The exact periodic steady state of a stage at one input voltage and load, regulated to its output voltage or at a fixed
 * duty ratio, and every figure measured on it.
 *
 * @param options.fixedDuty runs open loop at this duty ratio (0 to 1) when given.
 * @param options.near a duty ratio near the one sought, such as that of a neighbouring load: saves iterations.
 */
export function operatingPoint(
  complete: CompleteStage,
  condition: OperatingCondition,
  { fixedDuty, near }: { readonly fixedDuty?: number | undefined; readonly near?: number | undefined } = {},
): SolvedPoint | UnsolvedPoint {
  const powerStage = powerStageOf(complete, condition);
  const { stage, switchingFrequency } = complete;
  const period = 1 / switchingFrequency;
  const deadShare = stage.deadTime * switchingFrequency;
  const min = Math.max(stage.control.minimumOnTime, stage.deadTime) * switchingFrequency;
  const max = Math.min(stage.control.dutyMax, 1 - deadShare, powerStage.largestDuty ?? 1);
  const circuit = { circuit: powerStage.circuit, phases: powerStage.phases, rotation: powerStage.rotation, period };
  const solved = (solution: PeriodicSolution): SolvedPoint => ({
    kind: 'solved',
    point: measured(complete, powerStage, solution, condition),
    powerStage,
    solution,
  });
  if (fixedDuty !== undefined) {
    const result = solvePeriodic({ ...circuit, control: { kind: 'duty', duty: fixedDuty } });
    if (result.kind === 'solved') return solved(result.solution);
    return { kind: 'unsolved', reason: result.reason, duty: result.duty, iterations: result.iterations };
  }
  const result = regulate(circuit, {
    node: powerStage.outputNode,
    target: stage.targets.outputVoltage,
    guess: Math.min(max - 1e-3, Math.max(min + 1e-3, near ?? powerStage.idealDuty + deadShare)),
    min,
    max,
  });
  switch (result.kind) {
    case 'solved':
      return solved(result.solution);
    case 'out-of-reach': {
      const { highestOutput, atDuty, iterations } = result;
      const limit =
        atDuty >= max - 1e-3 ? `, the limit of the duty ratio` : ', beyond which losses take more than the duty gives';
      const reason = `the output voltage is out of reach: the highest is ${formatQuantity(highestOutput, 'V', 4)}, at a duty ratio of ${atDuty.toFixed(3)}${limit}`;
      return { kind: 'unsolved', reason, duty: atDuty, iterations, highestOutput };
    }
    case 'below-range': {
      const onTime = formatQuantity(min * period, 's', 3);
      const reason = `the output voltage would need an on-time below the shortest of ${onTime}; at that it is ${formatQuantity(result.lowestOutput, 'V', 4)}`;
      return { kind: 'unsolved', reason, duty: min, iterations: result.iterations };
    }
    case 'not-converged':
      return { kind: 'unsolved', reason: result.reason, duty: result.duty, iterations: result.iterations };
  }
}

/** Every figure of the operating point, from the waveforms of the solution. */
function measured(
  complete: CompleteStage,
  powerStage: PowerStage,
  solution: PeriodicSolution,
  condition: OperatingCondition,
): OperatingPoint {
  const values = new Map(figuresOf(powerStage).map(({ key, measure }) => [key, evaluateMeasure(solution, measure)]));
  const get = (key: string): number => {
    const value = values.get(key);
    if (value === undefined) throw new Error(`No figure is called ${key}.`);
    return value;
  };
  const under = (prefix: string): Record<string, number> =>
    Object.fromEntries(
      [...values].flatMap(([key, value]) => (key.startsWith(prefix) ? [[key.slice(prefix.length), value]] : [])),
    );
  const losses = under('losses.');
  losses['total'] = Object.values(losses).reduce((sum, watts) => sum + watts, 0);
  const banks = (side: string, names: readonly string[]) =>
    names.map((_, j) => ({ rms: get(`${side}CapacitorBanks[${String(j)}].rms`) }));
  const inputPower = get('inputPower');
  const outputPower = get('outputPower');
  return {
    inputVoltage: condition.inputVoltage,
    outputVoltage: get('outputVoltage'),
    // A current load draws what it was set to; measuring it would only add rounding.
    outputCurrent: condition.load.kind === 'current' ? condition.load.current : Math.abs(get('outputCurrent')),
    duty: solution.duty,
    ...(powerStage.region !== undefined && { region: powerStage.region }),
    conductionMode: isDiscontinuous(complete, solution) ? 'DCM' : 'CCM',
    inductorCurrent: {
      average: get('inductorCurrent.average'),
      peak: get('inductorCurrent.peak'),
      valley: get('inductorCurrent.valley'),
      ripple: get('inductorCurrent.ripple'),
      rms: get('inductorCurrent.rms'),
    },
    totalInductorRipple: get('totalInductorRipple'),
    outputRipple: get('outputRipple'),
    inputRipple: get('inputRipple'),
    inputCurrent: get('inputCurrent'),
    inputCapacitorRms: get('inputCapacitorRms'),
    inputCapacitorBanks: banks('input', powerStage.elements.inputBanks),
    outputCapacitorRms: get('outputCapacitorRms'),
    outputCapacitorBanks: banks('output', powerStage.elements.outputBanks),
    switchStress: Object.fromEntries(
      Object.keys(powerStage.elements.positions).map((position) => [
        position,
        {
          voltage: get(`switchStress.${position}.voltage`),
          peakCurrent: get(`switchStress.${position}.peakCurrent`),
          rmsCurrent: get(`switchStress.${position}.rmsCurrent`),
        },
      ]),
    ),
    losses,
    inputPower,
    outputPower,
    efficiency: inputPower > 0 ? outputPower / inputPower : 0,
  };
}

/** Whether a diode rectifier stops conducting before its turn is over. Idling within a dead time does not count. */
function isDiscontinuous({ stage }: CompleteStage, { outcomes }: PeriodicSolution): boolean {
  return stage.rectifier === 'diode' && outcomes.some((outcome) => outcome.endsWith('idle'));
}
