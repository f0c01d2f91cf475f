import { completeDigitalController, digitalResponse, samplingPeriodOf } from '../controller/digitalController.js';
import { degreesOf, magnitude, type Complex } from '../linalg/complex.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import type { Candidate } from './candidate.js';
import type { Choice } from './choice.js';
import type { Plant } from './plants.js';

/** The corner of the integral part lies this far below the crossover, by turns. */
const INTEGRAL_BELOW = [4, 8, 20, 60] as const;
/** Figures a gain is rounded to. */
const FIGURES = 3;

/** rad */
const angle = ({ re, im }: Complex): number => Math.atan2(im, re);
const rounded = (value: number): number => Number(value.toPrecision(FIGURES));

/**
 * Gains of a sampled PID controller for a crossover: the integral part below it, proportional and derivative part so that gain and
 * phase are what the worst plants need there.
 *
 * @param phaseMargin degrees.
 */
export function digitalCandidates(
  complete: CompleteStage,
  plants: readonly Plant[],
  crossover: number,
  phaseMargin: number,
): readonly Candidate[] {
  const { stage } = complete;
  const period = samplingPeriodOf(complete);
  const omega = 2 * Math.PI * crossover;
  const here = plants.map(({ exact }) => exact(crossover));
  const phase = Math.min(...here.map((value) => (degreesOf(value) > 0 ? degreesOf(value) - 360 : degreesOf(value))));
  const strongest = Math.max(...here.map(magnitude));
  const controller = completeDigitalController(withGains(stage, { proportional: 1, integral: 1, derivative: 0 }));
  if (!controller.ok) return [];
  const { rUpper, rLower } = controller.value;
  const size = (rUpper + rLower) / rLower / strongest;
  const wanted = ((phaseMargin - 180 - phase) * Math.PI) / 180;
  // What gain and phase ask of Kp + Ki/(1 − z⁻¹) + Kd (1 − z⁻¹), with 1 − z⁻¹ = d and 1/d = i.
  const d = { re: 1 - Math.cos(omega * period), im: Math.sin(omega * period) };
  const m = d.re ** 2 + d.im ** 2;
  const i = { re: d.re / m, im: -d.im / m };
  const [re, im] = [size * Math.cos(wanted), size * Math.sin(wanted)];
  return INTEGRAL_BELOW.flatMap((below): Candidate[] => {
    // Ki = Kp ω T / below; then two equations for Kp and Kd.
    const share = (omega * period) / below;
    const determinant = (1 + share * i.re) * d.im - share * i.im * d.re;
    let proportional = (re * d.im - im * d.re) / determinant;
    let derivative = ((1 + share * i.re) * im - share * i.im * re) / determinant;
    if (derivative < 0) {
      derivative = 0;
      proportional = size / Math.hypot(1 + share * i.re, share * i.im);
    }
    // Below the resonance an integrator alone lags less than is allowed.
    const alone = !(proportional > 0);
    if (alone && wanted > angle(i)) return [];
    const gains = alone
      ? { proportional: 0, integral: rounded(size / Math.hypot(i.re, i.im)), derivative: 0 }
      : {
          proportional: rounded(proportional),
          integral: rounded(share * proportional),
          derivative: rounded(derivative),
        };
    const designed = withGains(stage, gains);
    const whole = completeDigitalController(designed);
    if (!whole.ok || gains.integral === 0) return [];
    return [
      {
        control: designed.control,
        response: digitalResponse(whole.value, period),
        choices: choicesOf(gains, crossover, below),
      },
    ];
  });
}

function withGains(stage: Stage, gains: NonNullable<Stage['control']['digital']>): Stage {
  return { ...stage, control: { ...stage.control, digital: { ...stage.control.digital, ...gains } } };
}

function choicesOf(
  gains: { readonly proportional: number; readonly integral: number; readonly derivative: number },
  crossover: number,
  below: number,
): readonly Choice[] {
  const at = `${(crossover / 1e3).toPrecision(3)} kHz`;
  const source =
    'L. Corradini, D. Maksimović, P. Mattavelli, R. Zane, Digital Control of High-Frequency Switched-Mode Power Converters (2015), ch. 4';
  return [
    {
      path: 'control.digital.proportional',
      quantity: 'proportional gain',
      unit: '1/V',
      value: gains.proportional,
      rule: `With the derivative gain makes gain and phase at a crossover of ${at}, delay and sampling counted.`,
      source,
    },
    {
      path: 'control.digital.integral',
      quantity: 'integral gain',
      unit: '1/V',
      value: gains.integral,
      rule: `Takes over at a ${String(below)}th of the crossover.`,
      source: 'Common practice',
    },
    {
      path: 'control.digital.derivative',
      quantity: 'derivative gain',
      unit: '1/V',
      value: gains.derivative,
      rule: 'Lifts the phase; zero where none is needed.',
      source,
    },
  ];
}
