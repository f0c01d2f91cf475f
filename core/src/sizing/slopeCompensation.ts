import type { EvaluatedStage } from '../corners/evaluate.js';

/** The rules by which slope compensation is chosen; practitioners and sources differ, so each is offered by name. @public */
export const SLOPE_RULES = ['unity-q', 'half-down-slope', 'down-slope'] as const;
/** @public */
export type SlopeRule = (typeof SLOPE_RULES)[number];

/** What a rule does, and where it is from. @public */
export const SLOPE_WORDS: Readonly<
  Record<SlopeRule, { readonly name: string; readonly rule: string; readonly source: string }>
> = {
  'unity-q': {
    name: 'Q of one',
    rule: 'Gives the half-frequency pair of the current loop a quality factor of one at the corner that needs most. Less: nearer to alternating pulses; more: nearer to voltage mode.',
    source: 'R. B. Ridley, A New, Continuous-Time Model for Current-Mode Control, IEEE Trans. Power Electron. 6 (1991)',
  },
  'half-down-slope': {
    name: 'half the down-slope',
    rule: 'Half the falling slope of the sensed current at its steepest: stable at every duty ratio.',
    source: 'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., section 12.1',
  },
  'down-slope': {
    name: 'the down-slope',
    rule: 'The whole falling slope of the sensed current at its steepest: a disturbance of the current is gone after one period.',
    source: 'R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., section 12.1',
  },
};

/** Slope over the rising one that gives Q = 1/(π(m D′ − ½)) = 1 with m = 1 + Se/Sn: m D′ = ½ + 1/π. */
const UNITY_Q = 1 / Math.PI + 0.5;

/** The rising and falling slope of a corner's inductor current, A/s, in continuous conduction. */
export function currentSlopes(
  { result }: EvaluatedStage['corners'][number],
  fSw: number,
): { readonly duty: number; readonly rising: number; readonly falling: number } | undefined {
  if (result.kind !== 'solved' || result.point.conductionMode === 'DCM') return undefined;
  const { duty, inductorCurrent } = result.point;
  return {
    duty,
    rising: (inductorCurrent.ripple * fSw) / duty,
    falling: (inductorCurrent.ripple * fSw) / (1 - duty),
  };
}

/**
 * The slope compensation that a rule asks for at the corner that needs most, V/s; zero where none needs any.
 *
 * @param gain of the current sense, V/A.
 * @public
 */
export function slopeByRule(
  rule: SlopeRule,
  { corners, complete: { switchingFrequency } }: Pick<EvaluatedStage, 'corners' | 'complete'>,
  gain: number,
): number {
  return Math.max(
    0,
    ...corners.map((one) => {
      const slopes = currentSlopes(one, switchingFrequency);
      if (!slopes) return 0;
      const { duty, rising, falling } = slopes;
      switch (rule) {
        case 'unity-q':
          return gain * rising * (UNITY_Q / (1 - duty) - 1);
        case 'half-down-slope':
          return (gain * falling) / 2;
        case 'down-slope':
          return gain * falling;
      }
    }),
  );
}
