import {
  compensatorResponse,
  completeCompensator,
  interpolated,
  marginsOf,
  product,
  type Compensator,
  type Margins,
  type Stage,
} from '@yundro/core';
import { create } from 'zustand';
import type { CornerResponse } from '../engine/loopSurvey';
import type { OtherLoop } from './loopCharts';

/** Margins of a compensator being shaped, at one corner. */
export interface ShapedCorner extends Margins {
  readonly inputVoltage: number;
  readonly outputCurrent: number;
}

/** To which crossings are found while a handle moves, of the logarithm of their frequency. */
const PRECISION = 1e-4;

interface Shaping {
  /** The loop of the corner looked at, with the compensator as it is being shaped. */
  readonly shaped: OtherLoop | undefined;
  readonly corners: readonly ShapedCorner[] | undefined;
}

/** What is being shaped, for all who draw it. */
export const useShaping = create<Shaping>()(() => ({ shaped: undefined, corners: undefined }));

export const useShaped = (): OtherLoop | undefined => useShaping(({ shaped }) => shaped);
export const useShapedCorners = (): readonly ShapedCorner[] | undefined => useShaping(({ corners }) => corners);

/**
 * Show what a compensator would do while it is being shaped: plant times compensator at every corner, at the frequencies the
 * plants are known at. The exact loops follow once it is let go.
 */
export function shape(
  stage: Stage,
  compensator: Compensator,
  plants: readonly CornerResponse[],
  here: { readonly inputVoltage: number; readonly outputCurrent: number },
): void {
  const whole = completeCompensator({ ...stage.control, compensator });
  if (!whole.ok) return;
  const response = compensatorResponse(whole.value);
  const known = new Map(plants[0]?.points.map(({ frequency }) => [frequency, response(frequency)]));
  let shaped: OtherLoop | undefined;
  const corners = plants.map((plant): ShapedCorner => {
    const { inputVoltage, outputCurrent, points } = plant;
    const loop = points.map(({ frequency, value }) => ({
      frequency,
      value: product(value, known.get(frequency) ?? response(frequency)),
    }));
    if (inputVoltage === here.inputVoltage && outputCurrent === here.outputCurrent)
      shaped = {
        words: 'as shaped',
        frequencies: loop.map(({ frequency }) => frequency),
        values: loop.map(({ value }) => value),
        style: 'shaped',
      };
    const between = interpolated(points);
    const margins = marginsOf(loop, (frequency) => product(between(frequency), response(frequency)), PRECISION);
    return { ...margins, inputVoltage, outputCurrent };
  });
  useShaping.setState({ shaped, corners });
}

export const endShaping = (): void => useShaping.setState({ shaped: undefined, corners: undefined });
