import type { Stage } from '../stage/schema.js';

/** A stage whose amplifier is limited otherwise, to be seen beside it: what the limits are worth after a load release. @public */
export interface OtherClamps {
  /** How it differs. */
  readonly words: string;
  readonly stage: Stage;
  /** Whether it is the other that has limits. */
  readonly limited: boolean;
}

/**
 * The stage without its amplifier's limits; or, where none is stated, with a lowest output of 0 V, the valley of the ramp. Undefined
 * where no amplifier integrates.
 *
 * @public
 */
export function otherClamps(stage: Stage): OtherClamps | undefined {
  const { compensator } = stage.control;
  const amplifier = compensator?.amplifier;
  if (!compensator || !amplifier) return undefined;
  const { outputMin, outputMax, ...rest } = amplifier;
  const limited = outputMin === undefined && outputMax === undefined;
  const other = limited ? { ...rest, outputMin: 0 } : rest;
  return {
    words: limited ? 'with the amplifier held at 0 V or above' : 'without the limits of the amplifier',
    limited,
    stage: { ...stage, control: { ...stage.control, compensator: { ...compensator, amplifier: other } } },
  };
}
