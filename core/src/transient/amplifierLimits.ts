import { GROUND, voltageSource, type Element } from '../circuit/elements.js';
import type { Clamp } from '../controller/controllerOf.js';

/** Where the output of an amplifier stands: free between its limits, or held at one. */
export type AmplifierState = 'free' | 'low' | 'high';

/** How an amplifier is held at its limits, and lets go of them. */
export interface AmplifierLimits {
  /** The limited node, and between which voltages it stays; the signs are those of the circuit. */
  readonly node: string;
  readonly low: number;
  readonly high: number;
  /** Circuit elements while it is held at a voltage. */
  readonly held: (elements: readonly Element[], voltage: number) => readonly Element[];
  /**
   * What lets go: an ideal amplifier when its inputs cross; a node that a current drives into an ideal limiter, when that current
   * turns round.
   */
  readonly letsGoBy: 'inputs' | 'limiter-current';
  readonly inputs: readonly [plus: string, minus: string];
  /** The ideal amplifier that a source takes the place of while it is held; undefined where a limiter stands beside. */
  readonly replaced: string | undefined;
}

/** The source that holds the limited node. */
export const LIMITER = 'limiter';
/** Stands for a limit that is not stated, V. */
const NO_LIMIT = 1e9;

/**
 * The limits of the amplifier that drives a clamped node. An ideal one is replaced by a source at the limit, its feedback node free
 * meanwhile; a node that a transconductance drives gets an ideal limiter beside it, so that a network about it charges on.
 *
 * @param sign of the output: a negative one mirrors the limits.
 */
export function amplifierLimits(
  elements: readonly Element[],
  { node, min, max }: Clamp,
  sign: 1 | -1,
): AmplifierLimits | undefined {
  const least = min ?? -NO_LIMIT;
  const most = max ?? NO_LIMIT;
  const range = sign > 0 ? { low: least, high: most } : { low: -most, high: -least };
  const driver = elements.find(({ a, kind }) => a === node && kind === 'idealAmplifier');
  if (driver?.kind === 'idealAmplifier' && driver.minus !== node)
    return {
      node,
      ...range,
      letsGoBy: 'inputs',
      inputs: [driver.plus, driver.minus],
      replaced: driver.name,
      held: (all, voltage) =>
        all.map((e) => (e.name === driver.name ? voltageSource(LIMITER, node, GROUND, voltage) : e)),
    };
  // Behind a follower the limited node is the one that is followed.
  const limited = driver?.kind === 'idealAmplifier' ? driver.plus : node;
  const stage = elements.find((e) => e.kind === 'transconductor' && e.b === limited);
  if (stage?.kind !== 'transconductor') return undefined;
  return {
    node: limited,
    ...range,
    letsGoBy: 'limiter-current',
    inputs: [stage.plus, stage.minus],
    replaced: undefined,
    held: (all, voltage) => [...all, voltageSource(LIMITER, limited, GROUND, voltage)],
  };
}
