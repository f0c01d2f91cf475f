import type { Stage } from './schema.js';

/** The input voltage taken as nominal: the one given, else the middle of the range. @public */
export function nominalInput(stage: Stage): number {
  const { min, nominal, max } = stage.targets.inputVoltage;
  return nominal ?? (min + max) / 2;
}
