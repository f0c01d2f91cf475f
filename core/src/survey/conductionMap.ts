import type { CompleteStage } from '../stage/completeStage.js';
import { boundaryLoad } from '../steady/boundary.js';

/** The border of continuous conduction over the input range. @public */
export interface ConductionMap {
  readonly inputVoltages: readonly number[];
  /** Boundary load current at each input voltage, A; see `boundaryLoad`. */
  readonly boundary: readonly (number | undefined)[];
}

const POINTS = 10;

/** The boundary load over the input range of the targets; a range of no width gives one point. @public */
export function conductionMap(complete: CompleteStage): ConductionMap {
  const { min, max } = complete.stage.targets.inputVoltage;
  const count = max > min ? POINTS : 0;
  const inputVoltages = Array.from({ length: count + 1 }, (_, i) => min + (count > 0 ? ((max - min) * i) / count : 0));
  return { inputVoltages, boundary: inputVoltages.map((inputVoltage) => boundaryLoad(complete, inputVoltage)) };
}
