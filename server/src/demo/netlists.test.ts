import { describe, expect, jest, test } from '@jest/globals';
import { completeStage, operatingPoint, spiceNetlist } from '@yundro/core';
import { runNetlist, withoutSpikes } from '../../../core/testing/ngspice.js';
import { skerry9 } from './skerry9.js';

jest.setTimeout(60_000);

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
      const smooth = found.powerStage.feedsThroughout
        ? measured
        : await runNetlist(withoutSpikes(spiceNetlist(name, found)));
      const { point } = found;
      const apart = (key: string, value: number): number => Math.abs(measured(key) / value - 1);
      const differences = {
        outputAverage: apart('output_average', point.outputVoltage),
        inductorPeak: apart('inductor_peak', point.inductorCurrent.peak),
        inductorRipple: apart('inductor_ripple', point.inductorCurrent.ripple),
        inductorRms: apart('inductor_rms', point.inductorCurrent.rms),
        outputRipple: Math.abs(smooth('output_ripple') / point.outputRipple - 1),
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
