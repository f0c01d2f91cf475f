import { describe, expect, jest, test } from '@jest/globals';
import { completeStage, operatingPoint, spiceNetlist, type CompleteStage, type Stage } from '@yundro/core';
import { runNetlist } from '../../../core/testing/ngspice.js';
import { skerry9 } from './skerry9.js';

jest.setTimeout(60_000);

function withoutSeriesInductance(stage: Stage): CompleteStage {
  const outputCapacitors = stage.parts.outputCapacitors?.map((bank) => ({ ...bank, esl: 0 }));
  const complete = completeStage({ ...stage, parts: { ...stage.parts, outputCapacitors } });
  if (!complete.ok) throw new Error('not complete');
  return complete.value;
}

describe('exported netlists of the demo stages run in ngspice unchanged and agree, at full and lowest load', () => {
  test.each(skerry9.stages.map((stage) => [stage.name, stage] as const))('%s', async (name, stage) => {
    const complete = completeStage(stage);
    if (!complete.ok) throw new Error('not complete');
    const { inputVoltage, outputCurrent } = stage.targets;
    for (const current of [outputCurrent.max, outputCurrent.min]) {
      const at = { inputVoltage: inputVoltage.max, load: { kind: 'current' as const, current } };
      const found = operatingPoint(complete.value, at);
      if (found.kind !== 'solved') throw new Error(found.reason);
      const measured = await runNetlist(spiceNetlist(name, found));
      // Where a switch steps the current of the output capacitors their series inductance makes a spike of the edge's making, which no
      // ripple of the waveform between the edges contains: that is compared without it on both sides.
      const smooth = found.powerStage.feedsThroughout ? found : operatingPoint(withoutSeriesInductance(stage), at);
      if (smooth.kind !== 'solved') throw new Error(smooth.reason);
      const rippleMeasured = smooth === found ? measured : await runNetlist(spiceNetlist(name, smooth));
      const { point } = found;
      const apart = (key: string, value: number): number => Math.abs(measured(key) / value - 1);
      const differences = {
        outputAverage: apart('output_average', point.outputVoltage),
        inductorPeak: apart('inductor_peak', point.inductorCurrent.peak),
        inductorRipple: apart('inductor_ripple', point.inductorCurrent.ripple),
        inductorRms: apart('inductor_rms', point.inductorCurrent.rms),
        outputRipple: Math.abs(rippleMeasured('output_ripple') / smooth.point.outputRipple - 1),
      };
      // Averages of next to nothing (the inductor current at a load of milliamperes) are left to the ripple and the RMS.
      const close = {
        outputAverage: 0.005,
        inductorPeak: 0.01,
        inductorRipple: 0.01,
        inductorRms: 0.01,
        outputRipple: 0.02,
      };
      for (const [key, limit] of Object.entries(close))
        expect([name, current, key, differences[key as keyof typeof differences] < limit]).toEqual([
          name,
          current,
          key,
          true,
        ]);
    }
  });
});
