import { capacitor, resistor, type Element } from '../circuit/elements.js';
import type { Stage } from '../stage/schema.js';
import { LOOP } from './loopNames.js';

export type RippleInjection = NonNullable<Stage['control']['rippleInjection']>;

/**
 * A network that makes ripple for a constant on-time comparator out of the switch node's swing, as the inductor does:
 *
 *     switch node ── resistance ──┬── capacitance ── out
 *                                 └── coupling ───── feedback
 *
 * Resistance and capacitance integrate the voltage across the inductor; the coupling hands the ripple to the feedback node.
 */
export const rippleInjectionElements = (
  { resistance, capacitance, coupling }: RippleInjection,
  switchNode: string,
): readonly Element[] => [
  resistor('rippleResistor', switchNode, 'rippleNode', resistance),
  capacitor('rippleCapacitor', 'rippleNode', 'out', capacitance),
  capacitor('rippleCoupling', 'rippleNode', LOOP.feedback, coupling),
];
