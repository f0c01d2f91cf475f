import { RIGHT_HALF_PLANE_ZERO_SHARE, rightHalfPlaneZero } from '../firstcut/rightHalfPlaneZero.js';
import type { Stage } from '../stage/schema.js';
import { idealRange } from '../powerstage/idealPoint.js';
import { CROSSOVER_BELOW } from './rules.js';

/**
 * The lowest right-half-plane zero of the loss-free stage at full load over the input range, Hz; undefined where the inductor
 * feeds the output all the time and there is none.
 *
 * @param inductance of one phase, H.
 */
export function lowestRightHalfPlaneZero(stage: Stage, inductance: number): number | undefined {
  const { outputVoltage, outputCurrent } = stage.targets;
  const zeros = idealRange(stage).flatMap(({ duty, pulsedOutput, pulsedInput }) =>
    pulsedOutput
      ? [
          rightHalfPlaneZero.compute({
            resistance: Math.abs(outputVoltage) / outputCurrent.max,
            duty,
            inductance: inductance / stage.phases,
            share: pulsedInput ? duty : 1,
          }),
        ]
      : [],
  );
  return zeros.length > 0 ? Math.min(...zeros) : undefined;
}

/** The crossover assumed until the loop is designed, Hz: well below the switching frequency and any right-half-plane zero. */
export function assumedCrossover(stage: Stage, inductance: number, fSw: number): number {
  const zero = lowestRightHalfPlaneZero(stage, inductance);
  return Math.min(fSw / CROSSOVER_BELOW, zero === undefined ? Infinity : RIGHT_HALF_PLANE_ZERO_SHARE * zero);
}
