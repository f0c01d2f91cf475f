import { z } from 'zod';
import type { CompleteStage } from '../stage/completeStage.js';
import type { OperatingCondition, PowerStage } from '../powerstage/powerStage.js';
import { figuresOf } from './figures.js';
import { evaluateMeasure } from '../orbit/measure.js';
import type { PeriodicSolution } from '../orbit/periodic.js';
import { stageHeat, type StageHeat } from '../losses/stageHeat.js';
import { isDiscontinuous, type Saturation } from './saturation.js';
import type { SolvedCircuit, UnsolvedPoint } from './solveCircuit.js';
import { solveStage } from './solveStage.js';

const switchStressSchema = z.strictObject({ voltage: z.number(), peakCurrent: z.number(), rmsCurrent: z.number() });

/** The figures of one operating point, in SI units, as they cross the API and the command line. @public */
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
  /** Hz: that of the mode, which falls below the clock between pulses. */
  switchingFrequency: z.number(),
  /** By place, °C, where the path of the heat is known; null is thermal runaway. */
  junctionTemperatures: z.record(z.string(), z.number().nullable()),
});
/** @public */
export type OperatingPoint = z.infer<typeof operatingPointSchema>;

/** An operating point with the waveforms it was measured on. @public */
export interface SolvedPoint extends SolvedCircuit {
  readonly kind: 'solved';
  readonly point: OperatingPoint;
  /** The losses beyond the conduction of the circuit, and the temperatures they make. */
  readonly heat: StageHeat;
  /** Whether the rectifying switches opened at zero current. */
  readonly emulated: boolean;
  /** Present where the inductor has a saturation curve. */
  readonly saturation?: Saturation;
}

/** A solved point of the same stage, and the duty ratio it leads one to expect. */
export interface Near {
  readonly point: SolvedPoint;
  readonly duty?: number | undefined;
}

/**
 * The exact periodic steady state of a stage at one input voltage and load, regulated to its output voltage or at a fixed
 * duty ratio, and every figure measured on it.
 *
 * An inductor with a saturation curve is solved with the constant inductance that has the same ripple, found by iteration;
 * its peak and valley come from the flux swing and the curve (see `solveSaturating`).
 *
 * @param options.fixedDuty runs open loop at this duty ratio (0 to 1) when given.
 * @param options.near a solved point of the same stage at a like condition, with the duty ratio expected here where that is
 *   known better than from the point: saves iterations.
 * @public
 */
export function operatingPoint(
  complete: CompleteStage,
  condition: OperatingCondition,
  { fixedDuty, near }: { readonly fixedDuty?: number | undefined; readonly near?: Near | undefined } = {},
): SolvedPoint | UnsolvedPoint {
  const likely = solveStage(complete, condition, { fixedDuty, near: near && { ...near.point, duty: near.duty } });
  // A neighbour may mislead the search, in another region of a four-switch stage say: then it begins by itself.
  const found = likely.kind === 'unsolved' && near ? solveStage(complete, condition, { fixedDuty }) : likely;
  if (found.kind === 'unsolved') return found;
  const { powerStage, solution, saturation } = found;
  const emulated = complete.diodeEmulation;
  const { point, heat } = measured(complete, powerStage, solution, condition);
  if (!saturation) return { kind: 'solved', point, heat, emulated, powerStage, solution };
  return { kind: 'solved', point: saturated(point, saturation), heat, emulated, saturation, powerStage, solution };
}

/** A point with the peak and valley of its saturating inductor, and the switches that carry that peak. */
function saturated(point: OperatingPoint, { peak, valley, linearPeak }: Saturation): OperatingPoint {
  const excess = peak - linearPeak;
  const switchStress = Object.fromEntries(
    Object.entries(point.switchStress).map(([place, stress]) => [
      place,
      stress.peakCurrent > 0 ? { ...stress, peakCurrent: stress.peakCurrent + excess } : stress,
    ]),
  );
  const inductorCurrent = { ...point.inductorCurrent, peak, valley, ripple: peak - valley };
  return { ...point, inductorCurrent, switchStress };
}

/** Every figure of the operating point, from the waveforms of the solution. */
function measured(
  complete: CompleteStage,
  powerStage: PowerStage,
  solution: PeriodicSolution,
  condition: OperatingCondition,
): { readonly point: OperatingPoint; readonly heat: StageHeat } {
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
  const heat = stageHeat(complete, powerStage, solution, losses, condition.ambient);
  // What the circuit draws, and what all that is not in the circuit draws besides.
  let further = 0;
  for (const { key, watts } of heat.lines) {
    further += watts - (losses[key] ?? 0);
    losses[key] = watts;
  }
  losses['total'] = Object.values(losses).reduce((sum, watts) => sum + watts, 0);
  const banks = (side: string, names: readonly string[]) =>
    names.map((_, j) => ({ rms: get(`${side}CapacitorBanks[${String(j)}].rms`) }));
  const inputPower = get('inputPower') + further;
  const outputPower = get('outputPower');
  const point: OperatingPoint = {
    inputVoltage: condition.inputVoltage,
    outputVoltage: get('outputVoltage'),
    // A current load draws what it was set to; measuring it would only add rounding.
    outputCurrent: condition.load.kind === 'current' ? condition.load.current : Math.abs(get('outputCurrent')),
    duty: solution.duty,
    ...(powerStage.region !== undefined && { region: powerStage.region }),
    conductionMode: isDiscontinuous(complete, { powerStage, solution }) ? 'DCM' : 'CCM',
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
    switchingFrequency: 1 / solution.period,
    junctionTemperatures: Object.fromEntries(
      heat.devices.map((device) => [device.place, device.kind === 'settled' ? device.temperature : null]),
    ),
  };
  return { point, heat };
}
