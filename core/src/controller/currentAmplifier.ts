import { capacitor, currentSense, idealAmplifier, resistor, type Element } from '../circuit/elements.js';
import type { Stage } from '../stage/schema.js';
import { LOOP } from './loopNames.js';

/** The amplifier of an average current loop, with every component it needs. */
export interface CurrentAmplifier {
  /** V/A */
  readonly senseGain: number;
  /** From the sensed voltage to the inverting input. */
  readonly rInput: number;
  /** In series, from there to the output. */
  readonly rZero: number;
  readonly cZero: number;
  /** Across both; absent where there is none. */
  readonly cPole: number | undefined;
}

/** The current amplifier of a stage, or the words for what it lacks. */
export function completeCurrentAmplifier(
  control: Stage['control'],
): { readonly ok: true; readonly value: CurrentAmplifier } | { readonly ok: false; readonly lacks: readonly string[] } {
  const { currentSenseGain: senseGain, currentAmplifier } = control;
  const { rInput, rZero, cZero, cPole } = currentAmplifier ?? {};
  if (senseGain !== undefined && rInput !== undefined && rZero !== undefined && cZero !== undefined)
    return { ok: true, value: { senseGain, rInput, rZero, cZero, cPole } };
  return {
    ok: false,
    lacks: [
      ...(senseGain === undefined ? ['the gain of the current sense'] : []),
      ...(rInput === undefined ? ['the input resistor of the current amplifier'] : []),
      ...(rZero === undefined ? ['the zero resistor of the current amplifier'] : []),
      ...(cZero === undefined ? ['the zero capacitor of the current amplifier'] : []),
    ],
  };
}

/** The node at which the current amplifier of a phase drives its comparator. */
export const currentControlNode = (phase: number): string => `currentControl${String(phase + 1)}`;

/** What a phase of an average current loop adds: its elements, and the names that rotate with it. */
export interface CurrentAmplifierOfPhase {
  readonly elements: readonly Element[];
  readonly names: readonly string[];
}

/**
 * Current sense and current amplifier of one phase: the amplifier drives its comparator until the sensed inductor current has
 * the control voltage as its average.
 *
 *     sensed ── rInput ──┬── rZero ── cZero ──┬── currentControl
 *                        ├── cPole ───────────┤
 *                        └── − amplifier + ───┘ control
 *
 * For a negative output everything is mirrored, the sensed voltage too.
 */
export function currentAmplifierOf(
  { senseGain, rInput, rZero, cZero, cPole }: CurrentAmplifier,
  inductor: string,
  phase: number,
  sign: 1 | -1,
): CurrentAmplifierOfPhase {
  const id = String(phase + 1);
  const sensed = `currentSensed${id}`;
  const feedback = `currentFeedback${id}`;
  const control = currentControlNode(phase);
  const elements = [
    currentSense(`currentSense${id}`, sensed, inductor, sign * senseGain),
    resistor(`currentInput${id}`, sensed, feedback, rInput),
    idealAmplifier(`currentAmplifier${id}`, control, [LOOP.control, feedback]),
    capacitor(`currentZero${id}`, feedback, control, cZero, rZero),
    ...(cPole === undefined ? [] : [capacitor(`currentPole${id}`, feedback, control, cPole)]),
  ];
  return { elements, names: [sensed, feedback, control, ...elements.map(({ name }) => name)] };
}

/** Voltage its capacitors stand at where the control voltage is `control` and the comparator's input `compared`, V. */
export function currentAmplifierRest(phases: number, control: number, compared: number): ReadonlyMap<string, number> {
  return new Map(
    Array.from({ length: phases }, (_, k) => String(k + 1)).flatMap((id) => [
      [`currentZero${id}`, control - compared] as const,
      [`currentPole${id}`, control - compared] as const,
    ]),
  );
}
