import { capacitor, resistor, type Element } from '../circuit/elements.js';
import type { Stage } from '../stage/schema.js';
import { LOOP } from './loopNames.js';

/** The part by which a ripple network hands on the output. */
export const RIPPLE_CAPACITOR = 'rippleCapacitor';

export type RippleInjection = NonNullable<Stage['control']['rippleInjection']>;

/**
 * A network that makes ripple for a constant on-time comparator out of the switch node's swing, as the inductor does:
 *
 *     switch node ── resistance ──┬── capacitance ── sensed
 *                                 └── coupling ───── feedback
 *
 * Resistance and capacitance integrate the voltage across the inductor; the coupling hands the ripple to the feedback node, and
 * with it, undivided, every change of the output.
 *
 * @param sensed the output, before or behind the source that injects into the loop.
 */
export const rippleInjectionElements = (
  { resistance, capacitance, coupling }: RippleInjection,
  switchNode: string,
  sensed: string,
): readonly Element[] => [
  resistor('rippleResistor', switchNode, 'rippleNode', resistance),
  capacitor(RIPPLE_CAPACITOR, 'rippleNode', sensed, capacitance),
  capacitor('rippleCoupling', 'rippleNode', LOOP.feedback, coupling),
];
