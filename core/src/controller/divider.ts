import { GROUND, resistor, voltageSource, type Element } from '../circuit/elements.js';
import type { Stage } from '../stage/schema.js';
import { LOOP } from './loopNames.js';

/** Resistors from the output to the feedback node and from there to ground, ohm. */
export interface Divider {
  readonly rUpper: number;
  readonly rLower: number;
}

/** Reference voltage taken where none is given, V: typical of controllers; half the output where that is lower. */
const REFERENCE = 0.8;
/** Lower divider resistor where the stage gives none, ohm: its impedance hardly matters beside the load. */
const LOWER = 10e3;
/** Least upper resistor, ohm, where reference and output are equal. */
const LEAST = 1e-3;

/** Reference voltage of a stage's controller, V: as given, or the usual one. */
export const referenceOf = ({ control, targets }: Pick<Stage, 'control' | 'targets'>): number =>
  control.reference ?? Math.min(REFERENCE, Math.abs(targets.outputVoltage) / 2);

/** The divider of a stage: as given, with what is missing filled so that it sets the output. */
export function dividerOf(stage: Pick<Stage, 'control' | 'targets'>): Divider {
  const { rUpper, rLower = LOWER } = stage.control.compensator?.components ?? {};
  const ratio = Math.abs(stage.targets.outputVoltage) / referenceOf(stage) - 1;
  return { rUpper: Math.max(rUpper ?? rLower * ratio, LEAST), rLower };
}

/**
 * Output that the controller regulates to, V, signed: what reference and divider make of it where the stage gives them, the target
 * where it does not or runs open loop.
 */
export function regulatedOutput({ control, targets }: Pick<Stage, 'control' | 'targets'>): number {
  const { rUpper, rLower } = control.compensator?.components ?? {};
  const { reference } = control;
  if (control.scheme === 'open-loop' || reference === undefined || rUpper === undefined || rLower === undefined)
    return targets.outputVoltage;
  return Math.sign(targets.outputVoltage) * reference * (1 + rUpper / rLower);
}

/**
 * The divider, with a source of no voltage in series at its top, where loop gain is measured, and the reference.
 *
 *     output ── injection ── dividerTop ── rUpper ── feedback ── rLower ── 0
 *
 * @param reference V, signed as the output is.
 */
export const dividerElements = (
  { rUpper, rLower }: Divider,
  outputNode: string,
  reference: number,
): readonly Element[] => [
  voltageSource(LOOP.injection, outputNode, LOOP.dividerTop, 0),
  voltageSource(LOOP.reference, LOOP.reference, GROUND, reference),
  resistor('rUpper', LOOP.dividerTop, LOOP.feedback, rUpper),
  resistor('rLower', LOOP.feedback, GROUND, rLower),
];
