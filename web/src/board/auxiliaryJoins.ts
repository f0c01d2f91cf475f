import { fuseRatingAtLeast, type AuxiliaryName, type Stage } from '@yundro/core';
import { putPart } from '../stage/editing';

/** A part as it stands: its values by field, its results in their order, and the stage it is for. */
interface Standing {
  readonly values: Readonly<Record<string, number>>;
  readonly results: readonly number[];
  readonly stage: Stage;
}

interface Join {
  readonly words: string;
  /** @returns why it cannot be taken. */
  readonly take: (of: Standing) => string | undefined;
}

const NO_COMPENSATOR = 'The stage has no compensator yet: let one be proposed at Loop.';

/** What of a part the stage takes over, and the words for it. */
export const JOINS: Readonly<Partial<Record<AuxiliaryName, readonly Join[]>>> = {
  oscillator: [
    {
      words: 'Take the frequency into the stage',
      take: ({ results: [frequency] }) => putPart(['switchingFrequency'], frequency),
    },
  ],
  softStart: [
    {
      words: 'Take the time into the stage',
      take: ({ results: [time] }) => putPart(['control', 'softStartTime'], time),
    },
  ],
  lockOut: [
    {
      words: 'Take the thresholds into the stage',
      take: ({ results: [rising, falling] }) => putPart(['control', 'undervoltageLockout'], { rising, falling }),
    },
  ],
  trimmer: [
    {
      words: 'Take the divider into the stage, the wiper in its middle',
      take: ({ values: { upper = 0, trimmer = 0, lower = 0 }, stage: { control } }) =>
        control.compensator
          ? putPart(['control', 'compensator', 'components'], {
              ...control.compensator.components,
              rUpper: upper + trimmer / 2,
              rLower: lower + trimmer / 2,
            })
          : NO_COMPENSATOR,
    },
  ],
  sense: [
    {
      words: 'Take the limit into the stage',
      take: ({ results: [limit] }) => putPart(['control', 'currentLimit'], limit),
    },
    {
      words: 'Take the resistor into the circuit',
      take: ({ values: { resistance } }) => putPart(['control', 'senseResistance'], resistance),
    },
  ],
  rippleInjection: [
    {
      words: 'Take it into the stage',
      // The capacitor to the feedback pin is many times smaller than the other: a tenth.
      take: ({ values: { resistance, capacitance = 0 } }) =>
        putPart(['control', 'rippleInjection'], { resistance, capacitance, coupling: capacitance / 10 }),
    },
  ],
  clamp: [
    {
      words: 'Take the clamp into the stage',
      take: ({ results: [outputMax], stage: { control } }) =>
        control.compensator
          ? putPart(['control', 'compensator', 'amplifier'], { ...control.compensator.amplifier, outputMax })
          : NO_COMPENSATOR,
    },
  ],
  preload: [
    {
      words: 'Take it into the circuit',
      take: ({ values: { resistance } }) => putPart(['parts', 'preload'], { resistance }),
    },
  ],
  fuse: [
    {
      words: 'Take it into the circuit',
      // As it is sold: what is worked is the least.
      take: ({ values: { fuse }, results: [least = 1] }) =>
        putPart(['parts', 'fuse'], { resistance: fuse, ratedCurrent: fuseRatingAtLeast(least) }),
    },
  ],
  reversePolarity: [
    {
      words: 'Take the switch into the circuit',
      take: ({ values: { resistance } }) => putPart(['parts', 'reversePolarity'], { resistance }),
    },
    {
      words: 'Take the diode into the circuit',
      take: ({ values: { drop } }) => putPart(['parts', 'reversePolarity'], { forwardVoltage: drop, resistance: 0 }),
    },
  ],
  suppressor: [
    {
      words: 'Take it into the stage',
      take: ({ values: { clamping } }) => putPart(['parts', 'suppressor'], { clampingVoltage: clamping }),
    },
  ],
  precharge: [
    {
      words: 'Take it into the stage',
      take: ({ values: { resistance } }) => putPart(['parts', 'precharge'], { resistance }),
    },
  ],
};
