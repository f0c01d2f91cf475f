import { nominalInput, type OperatingCondition, type Stage } from '@yundro/core';
import { CommandError } from './commandError.js';
import { numberOption } from './input.js';

/** Options that say at which input voltage and load a stage is looked at. */
export const CONDITION_OPTIONS = {
  vin: { type: 'string' },
  iout: { type: 'string' },
  rload: { type: 'string' },
  pload: { type: 'string' },
} as const;

/** The condition the options ask for: nominal input and full load where they say nothing. */
export function conditionFrom(values: Readonly<Record<string, unknown>>, stage: Stage): OperatingCondition {
  const inputVoltage = numberOption(values, 'vin', 'V', { above: 0, max: 1e4 }) ?? nominalInput(stage);
  const resistance = numberOption(values, 'rload', 'ohm', { above: 0, max: 1e9 });
  const current = numberOption(values, 'iout', 'A', { min: 0, max: 1e4 });
  const power = numberOption(values, 'pload', 'W', { above: 0, max: 1e6 });
  if ([resistance, current, power].filter((one) => one !== undefined).length > 1)
    throw new CommandError('Give the load as --iout, as --rload or as --pload, not as several of them.');
  if (power !== undefined) return { inputVoltage, load: { kind: 'power', power } };
  if (resistance !== undefined) return { inputVoltage, load: { kind: 'resistance', resistance } };
  return { inputVoltage, load: { kind: 'current', current: current ?? stage.targets.outputCurrent.max } };
}
