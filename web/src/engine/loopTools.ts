import {
  completeStage,
  evaluateStage,
  formatQuantity,
  injectedSweep,
  injectLoop,
  proposeLoop,
  readWaveform,
  waveformsCsv,
  type FailedRun,
  type Procedure,
  type ProposedLoop,
  type ReadWaveform,
  type ResponsePoint,
  type Stage,
} from '@yundro/core';

/** Frequencies of an injected sweep. */
const INJECTED = 24;

/** How an injected sweep ended. */
export type InjectedSweepEnd = { readonly kind: 'swept' } | FailedRun;

/** What is done to a loop by one press. */
export const loopTools = {
  /**
   * The loop gain by injection, frequency after frequency, each told of as it is found.
   *
   * @param tell is told a point and how many there are to be.
   */
  injectedLoop(
    stage: Stage,
    inputVoltage: number,
    outputCurrent: number,
    tell: (point: ResponsePoint, all: number) => void,
  ): InjectedSweepEnd {
    const complete = completeStage(stage);
    if (!complete.ok) return { kind: 'failed', reason: 'the stage still lacks a part' };
    const frequencies = injectedSweep(complete.value.clock, INJECTED);
    for (const frequency of frequencies) {
      const condition = { inputVoltage, load: { kind: 'current', current: outputCurrent } } as const;
      const found = injectLoop(complete.value, condition, frequency);
      if (found.kind === 'failed') return found;
      if (!found.settled)
        return {
          kind: 'failed',
          reason: `at ${formatQuantity(found.frequency, 'Hz', 3)} the answer to the sine does not settle: the loop is barely stable, or not`,
        };
      tell({ frequency: found.frequency, value: found.loop }, frequencies.length);
    }
    return { kind: 'swept' };
  },
  /** What an oscilloscope recorded, or the sentence for what is wrong with it. */
  readRecord(text: string): ReadWaveform | string {
    return readWaveform(text);
  },
  /** Waveforms of a run as text. */
  waveformsCsv,
  /** A compensator for the stage, or the words for why there is none. */
  proposeLoop(stage: Stage, procedure: Procedure): Omit<ProposedLoop, 'corners'> | string {
    const evaluated = evaluateStage(stage);
    if (!evaluated.ok) return 'The stage still lacks a part.';
    const proposal = proposeLoop(evaluated.value, procedure);
    if (typeof proposal === 'string') return proposal;
    const { control, choices, holds } = proposal;
    return { control, choices, holds };
  },
};
