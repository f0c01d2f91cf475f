import { capacitor, GROUND, type Element } from '../circuit/elements.js';
import { ratio, scaled, type Complex } from '../linalg/complex.js';
import type { CompleteStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import type { Update } from '../orbit/periodicProblem.js';
import { LOOP } from './loopNames.js';
import { dividerElements, dividerOf } from './divider.js';

/** A sampled PID controller with everything it needs. */
export interface DigitalController {
  readonly reference: number;
  readonly rUpper: number;
  readonly rLower: number;
  /** Duty ratio per volt at the feedback node; the integral and derivative gains per sample. */
  readonly proportional: number;
  readonly integral: number;
  readonly derivative: number;
  /** From the sample to the clock at which it acts, s; undefined for a whole sampling period. */
  readonly delay: number | undefined;
}

/** The digital controller of a stage, or the words for what it lacks. */
export function completeDigitalController(
  stage: Stage,
):
  { readonly ok: true; readonly value: DigitalController } | { readonly ok: false; readonly lacks: readonly string[] } {
  const { digital, reference } = stage.control;
  const { proportional, integral, derivative = 0, delay } = digital ?? {};
  if (reference !== undefined && proportional !== undefined && integral !== undefined && integral > 0) {
    return { ok: true, value: { reference, ...dividerOf(stage), proportional, integral, derivative, delay } };
  }
  return {
    ok: false,
    lacks: [
      ...(reference === undefined ? ['the reference voltage'] : []),
      ...(proportional === undefined ? ['the proportional gain'] : []),
      ...(integral === undefined || integral === 0 ? ['the integral gain'] : []),
    ],
  };
}

/** Registers, each the voltage of a capacitor that nothing charges: what they hold changes at the instants of the updates only. */
const REGISTERS = { integral: 'integralRegister', error: 'errorRegister', pending: 'pendingRegister' } as const;
/** The register that the modulator compares with its ramp of one volt: the duty ratio in force. */
export const DUTY_REGISTER = 'dutyRegister';

const register = (name: string): Element => capacitor(name, name, GROUND, 1);

/** Divider, reference and registers; a source of no voltage at the top of the divider, where loop gain is measured. */
export function digitalElements(
  { reference, rUpper, rLower }: DigitalController,
  outputNode: string,
  sign: 1 | -1,
): readonly Element[] {
  return [
    ...dividerElements({ rUpper, rLower }, outputNode, sign * reference),
    ...Object.values(REGISTERS).map(register),
    register(DUTY_REGISTER),
  ];
}

/**
 * What the controller does in every sampling period: at the clock the pending duty ratio comes into force; `delay` before it the
 * output is sampled and the next is worked, d = Kp e + Ki Σe + Kd (e − e₋).
 *
 * @param samplingPeriod s; with several phases the period over their number, each pulse having a sample of its own.
 */
export function digitalUpdates(
  { proportional, integral, derivative, delay }: DigitalController,
  samplingPeriod: number,
): readonly Update[] {
  const error = (weight: number) => [
    { node: LOOP.reference, weight },
    { node: LOOP.feedback, weight: -weight },
  ];
  const acts = { capacitor: DUTY_REGISTER, terms: [{ node: REGISTERS.pending, weight: 1 }] };
  const samples = [
    { capacitor: REGISTERS.integral, terms: [{ node: REGISTERS.integral, weight: 1 }, ...error(integral)] },
    { capacitor: REGISTERS.error, terms: error(1) },
    {
      capacitor: REGISTERS.pending,
      terms: [
        ...error(proportional + integral + derivative),
        { node: REGISTERS.integral, weight: 1 },
        { node: REGISTERS.error, weight: -derivative },
      ],
    },
  ];
  const at = delay === undefined ? 0 : Math.max(0, 1 - delay / samplingPeriod);
  // All that happens at one instant starts from what was before it.
  return at === 0
    ? [{ at: 0, assignments: [acts, ...samples] }]
    : [
        { at: 0, assignments: [acts] },
        { at, assignments: samples },
      ];
}

/** Voltage of each register at rest. */
export const digitalRest = (duty: number, sign: 1 | -1): ReadonlyMap<string, number> =>
  new Map([
    [REGISTERS.integral, sign * duty],
    [REGISTERS.pending, sign * duty],
    [DUTY_REGISTER, sign * duty],
  ]);

/** e^{−jωt} */
const delayed = (frequency: number, time: number): Complex => {
  const angle = -2 * Math.PI * frequency * time;
  return { re: Math.cos(angle), im: Math.sin(angle) };
};

/**
 * From output to duty ratio without the delay: divider times Kp + Ki/(1 − z⁻¹) + Kd (1 − z⁻¹), with the sign that makes the loop
 * gain plant times controller. Source: L. Corradini, D. Maksimović, P. Mattavelli, R. Zane, Digital Control of High-Frequency
 * Switched-Mode Power Converters (2015), ch. 4.
 */
export function digitalResponse(
  { proportional, integral, derivative, rUpper, rLower }: DigitalController,
  samplingPeriod: number,
): (frequency: number) => Complex {
  const divider = rLower / (rUpper + rLower);
  return (frequency) => {
    const back = delayed(frequency, samplingPeriod);
    const difference = { re: 1 - back.re, im: -back.im };
    const sum = ratio({ re: integral, im: 0 }, difference);
    return scaled(
      {
        re: proportional + sum.re + derivative * difference.re,
        im: sum.im + derivative * difference.im,
      },
      divider,
    );
  };
}

/**
 * The delay of a sampled controller: a sample decides an edge `delay` and an on-time later. One for every other scheme.
 *
 * @param duty ratio at the operating point.
 */
export function digitalDelay(
  { stage, switchingFrequency }: CompleteStage,
  duty: number,
): (frequency: number) => Complex {
  if (stage.control.scheme !== 'digital') return () => ({ re: 1, im: 0 });
  const wait = stage.control.digital?.delay ?? samplingPeriodOf({ stage, switchingFrequency });
  return (frequency) => delayed(frequency, wait + duty / switchingFrequency);
}

/** s: each pulse has a sample of its own. */
export const samplingPeriodOf = ({
  stage,
  switchingFrequency,
}: Pick<CompleteStage, 'stage' | 'switchingFrequency'>): number => 1 / (switchingFrequency * stage.phases);
