import { nominalInput } from '../stage/nominalInput.js';
import type { Stage } from '../stage/schema.js';
import { ROOM_TEMPERATURE } from '../thermal/room.js';

/** A condition at which every figure is worked. @public */
export interface Corner {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
  /** °C, ambient. */
  readonly temperature: number;
}

/** Shares of the full load at which the stage is looked at, beside its minimum load. */
const LOAD_SHARES = [0.25, 0.5, 0.75, 1];

/** The input voltages of the corners, ascending: lowest, nominal, highest. */
export function inputCorners(stage: Stage): readonly number[] {
  const { min, max } = stage.targets.inputVoltage;
  return [...new Set([min, nominalInput(stage), max])].sort((a, b) => a - b);
}

/** The loads of the corners, ascending: the minimum, then quarters of the full load above it. */
export function loadCorners(stage: Stage): readonly number[] {
  const { outputCurrent, efficiency } = stage.targets;
  const { min, max } = outputCurrent;
  const asked = efficiency ? [efficiency.outputCurrent] : [];
  const shares = LOAD_SHARES.map((share) => share * max);
  return [...new Set([min, ...[...shares, ...asked].filter((load) => load >= min)])].sort((a, b) => a - b);
}

/** Every corner of input voltage and load, at the highest ambient. */
export function cornersOf(stage: Stage): readonly Corner[] {
  const temperature = stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
  return inputCorners(stage).flatMap((inputVoltage) =>
    loadCorners(stage).map((outputCurrent) => ({ inputVoltage, outputCurrent, temperature })),
  );
}
