import { digitalDelay } from '../controller/digitalController.js';
import type { CornerResult, EvaluatedStage } from '../corners/evaluate.js';
import { product, type Complex } from '../linalg/complex.js';
import { interpolated } from '../smallsignal/interpolated.js';
import { loopFrequencies } from '../smallsignal/loopResponse.js';
import { marginsOf, type Margins, type ResponsePoint } from '../smallsignal/margins.js';
import { plantResponse } from '../smallsignal/plantResponse.js';

/** What a compensator has to work on at one corner. */
export interface Plant {
  readonly at: CornerResult;
  readonly exact: (frequency: number) => Complex;
  /** Responses at coarse frequencies, and between them. */
  readonly points: readonly ResponsePoint[];
  readonly near: (frequency: number) => Complex;
}

/** Points at which a plant is known. */
const COARSE = 64;

/**
 * The plants of every corner with an operating point, a sampled controller's delay counted to them; the words for why there are
 * none.
 */
export function plantsOf({ complete, corners }: EvaluatedStage): readonly Plant[] | string {
  const grid = loopFrequencies(complete.switchingFrequency, COARSE);
  const plants: Plant[] = [];
  for (const at of corners) {
    const { corner, result } = at;
    if (result.kind !== 'solved') continue;
    const { inputVoltage, outputCurrent } = corner;
    const analogue = plantResponse(
      complete,
      { inputVoltage, load: { kind: 'current', current: outputCurrent } },
      result,
    );
    if (typeof analogue === 'string') return analogue;
    const delay = digitalDelay(complete, result.solution.duty);
    const exact = (frequency: number): Complex => product(analogue(frequency), delay(frequency));
    const points = grid.map((frequency) => ({ frequency, value: exact(frequency) }));
    plants.push({ at, exact, points, near: interpolated(points) });
  }
  return plants.length === 0 ? 'no corner has an operating point' : plants;
}

/** Margins of plant times compensator: near those of the exact loop, and quick. */
export function roughMargins(
  { points, near }: Plant,
  response: (frequency: number) => Complex,
  known: (k: number) => Complex = (k) => response(points[k]?.frequency ?? 0),
): Margins {
  return marginsOf(
    points.map(({ frequency, value }, k) => ({ frequency, value: product(value, known(k)) })),
    (frequency) => product(near(frequency), response(frequency)),
  );
}
