import { capacitor, GROUND, idealAmplifier, resistor, transconductor, type Element } from '../circuit/elements.js';
import type { Stage } from '../stage/schema.js';
import { dividerElements } from './divider.js';
import { LOOP } from './loopNames.js';

type Control = Stage['control'];
/** @public */
export type Compensator = NonNullable<Control['compensator']>;

/** A compensator with every component its network needs. @public */
export interface CompleteCompensator {
  readonly reference: number;
  readonly network: Compensator['network'];
  readonly amplifier: Compensator['amplifier'];
  readonly rUpper: number;
  readonly rLower: number;
  /** Zero for an integrator. */
  readonly rZero: number;
  readonly cZero: number;
  /** Absent where there is no such part. */
  readonly cPole: number | undefined;
  readonly feedforward: { readonly resistance: number; readonly capacitance: number } | undefined;
}

/** Whether a scheme closes its loop through an amplifier with a network: constant on-time and sampled control do not. @public */
export const usesNetwork = (scheme: Control['scheme']): boolean =>
  scheme.startsWith('voltage-mode') || scheme.endsWith('current-mode');

/** The compensator of a stage, or the words for what it lacks. @public */
export function completeCompensator(
  control: Control,
):
  | { readonly ok: true; readonly value: CompleteCompensator }
  | { readonly ok: false; readonly lacks: readonly string[] } {
  const { compensator, reference } = control;
  if (!compensator) return { ok: false, lacks: ['a compensator'] };
  const { network, amplifier, components } = compensator;
  const { rUpper, rLower, rZero, cZero, cPole, rFeedforward, cFeedforward } = components;
  const lacks: string[] = [];
  const needed = (value: number | undefined, words: string): number => {
    if (value === undefined) lacks.push(words);
    return value ?? 0;
  };
  const integrator = network === 'integrator';
  const value: CompleteCompensator = {
    reference: needed(reference, 'the reference voltage'),
    network,
    amplifier,
    rUpper: needed(rUpper, 'the upper divider resistor'),
    rLower: needed(rLower, 'the lower divider resistor'),
    rZero: integrator ? 0 : needed(rZero, 'the zero resistor'),
    cZero: needed(integrator ? (cZero ?? cPole) : cZero, 'the zero capacitor'),
    cPole: integrator ? undefined : cPole,
    feedforward:
      network === 'type-3'
        ? {
            // Without any, the capacitor would copy every step of a source on the other side at once.
            resistance: Math.max(rFeedforward ?? 0, LEAST_SHARE * (rUpper ?? 0)),
            capacitance: needed(cFeedforward, 'the feed-forward capacitor'),
          }
        : undefined,
  };
  return lacks.length > 0 ? { ok: false, lacks } : { ok: true, value };
}

/** Least resistance in series with the feed-forward capacitor, as a share of the upper divider resistor. */
const LEAST_SHARE = 1e-6;

/** Transconductance of the input stage of an op-amp with a pole, S: any value, as only the ratios to its R and C count. */
const INPUT_STAGE = 1e-3;

/** The amplifier between reference, feedback and control node. */
function amplifierElements(amplifier: Compensator['amplifier']): readonly Element[] {
  const inputs = [LOOP.reference, LOOP.feedback] as const;
  if (amplifier.kind === 'ota')
    return [
      transconductor('amplifier', [GROUND, LOOP.control], inputs, amplifier.transconductance),
      resistor('amplifierOutput', LOOP.control, GROUND, amplifier.outputResistance),
    ];
  const { openLoopGain, gainBandwidth } = amplifier;
  if (openLoopGain === undefined && gainBandwidth === undefined)
    return [idealAmplifier('amplifier', LOOP.control, inputs)];
  // Input stage into resistor and capacitor: gain and pole; an ideal follower behind them.
  return [
    transconductor('amplifier', [GROUND, 'amplified'], inputs, INPUT_STAGE),
    ...(openLoopGain === undefined ? [] : [resistor('amplifierGain', 'amplified', GROUND, openLoopGain / INPUT_STAGE)]),
    ...(gainBandwidth === undefined
      ? []
      : [capacitor('amplifierPole', 'amplified', GROUND, INPUT_STAGE / (2 * Math.PI * gainBandwidth))]),
    idealAmplifier('follower', LOOP.control, ['amplified', LOOP.control]),
  ];
}

/**
 * Divider, amplifier and network from the output node to the control node, with a source of no voltage in series at the top of
 * the divider, where loop gain is measured.
 *
 *     output ──injection── dividerTop ──┬── rUpper ──────────────────┬── feedback ──┬── rLower ── 0
 *                                       └── rFeedforward ── cFeedforward            │
 *                          op-amp:  feedback ──┬── rZero ── cZero ──┬── control     └── amplifier
 *                                              └── cPole ───────────┘
 *                          transconductor:  the same two branches from control to 0
 *
 * For a negative output everything is mirrored: the reference is negative, and the comparator takes the control voltage with
 * the opposite sign.
 */
export function compensatorElements(
  { amplifier, reference, rUpper, rLower, rZero, cZero, cPole, feedforward }: CompleteCompensator,
  outputNode: string,
  sign: 1 | -1,
): readonly Element[] {
  const from = amplifier.kind === 'ota' ? LOOP.control : LOOP.feedback;
  const to = amplifier.kind === 'ota' ? GROUND : LOOP.control;
  return [
    ...dividerElements({ rUpper, rLower }, outputNode, sign * reference),
    ...(feedforward
      ? [capacitor('cFeedforward', LOOP.dividerTop, LOOP.feedback, feedforward.capacitance, feedforward.resistance)]
      : []),
    ...amplifierElements(amplifier),
    capacitor('cZero', from, to, cZero, rZero),
    ...(cPole === undefined ? [] : [capacitor('cPole', from, to, cPole)]),
  ];
}

/** Voltage each capacitor of the compensator stands at where the control voltage is `control` and the output `output`, V. */
export function compensatorRest(
  { amplifier, reference }: CompleteCompensator,
  output: number,
  control: number,
  sign: 1 | -1,
): ReadonlyMap<string, number> {
  const across = amplifier.kind === 'ota' ? control : sign * reference - control;
  return new Map([
    ['cZero', across],
    ['cPole', across],
    ['amplifierPole', control],
    ['cFeedforward', output - sign * reference],
  ]);
}
