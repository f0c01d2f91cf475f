import { capacitor, GROUND, resistor, voltageSource, type Element } from '../circuit/elements.js';
import type { Stage } from '../stage/schema.js';
import type { Update } from '../steady/periodicProblem.js';
import { LOOP } from './compensatorCircuit.js';
import { feedbackDivider } from './feedbackDivider.js';

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
export function completeDigitalController({
  control,
  targets,
}: Stage):
  { readonly ok: true; readonly value: DigitalController } | { readonly ok: false; readonly lacks: readonly string[] } {
  const { digital, reference } = control;
  const { proportional, integral, derivative = 0, delay } = digital ?? {};
  if (reference !== undefined && proportional !== undefined && integral !== undefined && integral > 0) {
    const divider = feedbackDivider(control, targets.outputVoltage);
    return { ok: true, value: { reference, ...divider, proportional, integral, derivative, delay } };
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
    voltageSource(LOOP.injection, outputNode, LOOP.dividerTop, 0),
    voltageSource('reference', 'reference', GROUND, sign * reference),
    resistor('rUpper', LOOP.dividerTop, LOOP.feedback, rUpper),
    resistor('rLower', LOOP.feedback, GROUND, rLower),
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
    { node: 'reference', weight },
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
