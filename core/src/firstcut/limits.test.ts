import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { sizeStage } from '../sizing/size.js';
import { applied } from './closedForm.js';
import { workingOf } from '../working/working.js';
import { completeStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { onTimeRipple, pulsedOutputCapacitance } from './boostForms.js';
import {
  boostDiscontinuousDuty,
  buckBoostDiscontinuousDuty,
  buckDiscontinuousDuty,
  normalisedLoad,
} from './discontinuousForms.js';
import { buckIdealDuty, buckRipple, inductorRms, outputCapacitorRms, peakCurrent } from './buckForms.js';

/** Random designs whose losses are none and whose voltage ripple is negligible: there the closed forms are exact. */
const designs = fc.record({
  vIn: fc.double({ min: 3, max: 60, noNaN: true }),
  ratio: fc.double({ min: 0.1, max: 0.9, noNaN: true }),
  fSw: fc.integer({ min: 50_000, max: 2_000_000 }),
  load: fc.double({ min: 0.2, max: 20, noNaN: true }),
  rippleRatio: fc.double({ min: 0.1, max: 0.6, noNaN: true }),
});
type Design = typeof designs extends fc.Arbitrary<infer T> ? T : never;

/** Periods for which the output capacitor could feed the load alone. */
const HOLD_UP = 2e4;

function worked(topology: string, d: Design, vOut: number, phaseCurrent: number, onVoltage: number, duty: number) {
  const inductance = (onVoltage * duty) / (d.fSw * d.rippleRatio * phaseCurrent);
  const mosfet = { onResistance: 0 };
  const capacitance = Math.min(1, (HOLD_UP * d.load) / (Math.abs(vOut) * d.fSw));
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology,
    switchingFrequency: d.fSw,
    targets: { inputVoltage: { min: d.vIn, max: d.vIn }, outputVoltage: vOut, outputCurrent: { max: d.load } },
    parts: {
      inductor: { inductance, resistance: 0 },
      outputCapacitors: [{ capacitance }],
      highSide: mosfet,
      lowSide: mosfet,
    },
  });
  const complete = read.ok ? completeStage(read.value) : read;
  if (!complete.ok) throw new Error('not complete');
  const found = operatingPoint(complete.value, { inputVoltage: d.vIn, load: { kind: 'current', current: d.load } });
  if (found.kind !== 'solved') throw new Error(found.reason);
  return { point: found.point, inductance, capacitance };
}

const close = (actual: number, expected: number, share = 1e-3): void =>
  expect(Math.abs(actual / expected - 1)).toBeLessThan(share);

describe('the engine tends to the closed forms as losses and ripple go to zero', () => {
  test('buck', () => {
    fc.assert(
      fc.property(designs, (d) => {
        const vOut = d.vIn * d.ratio;
        const { point, inductance } = worked('buck', d, vOut, d.load, d.vIn - vOut, d.ratio);
        const duty = applied(buckIdealDuty, { vIn: d.vIn, vOut }).value;
        const ripple = applied(buckRipple, { vOut, duty, fSw: d.fSw, inductance }).value;
        close(point.duty, duty);
        close(point.inductorCurrent.ripple, ripple);
        close(point.inductorCurrent.peak, applied(peakCurrent, { phaseCurrent: d.load, ripple }).value);
        close(point.inductorCurrent.rms, applied(inductorRms, { phaseCurrent: d.load, ripple }).value);
        close(point.outputCapacitorRms, applied(outputCapacitorRms, { ripple }).value, 3e-3);
      }),
      { seed: 5, numRuns: 60 },
    );
  });

  test.each([
    ['boost', (d: Design) => d.vIn / (1 - d.ratio)],
    ['inverting-buck-boost', (d: Design) => (-d.vIn * d.ratio) / (1 - d.ratio)],
  ] as const)('%s', (topology, outputOf) => {
    fc.assert(
      fc.property(designs, (d) => {
        const vOut = outputOf(d);
        const phaseCurrent = d.load / (1 - d.ratio);
        const { point, inductance, capacitance } = worked(topology, d, vOut, phaseCurrent, d.vIn, d.ratio);
        const ripple = applied(onTimeRipple, { vIn: d.vIn, duty: d.ratio, fSw: d.fSw, inductance }).value;
        close(point.duty, d.ratio);
        close(point.inductorCurrent.average, phaseCurrent);
        close(point.inductorCurrent.ripple, ripple);
        close(point.inductorCurrent.rms, applied(inductorRms, { phaseCurrent, ripple }).value);
        // The form gives the capacitance for a ripple; put the ripple found in and the capacitance must come out. It holds
        // while the inductor current stays above the load current, so that the capacitor only fills in the off-time.
        if (point.inductorCurrent.valley > d.load) {
          const needed = applied(pulsedOutputCapacitance, {
            loadCurrent: d.load,
            duty: d.ratio,
            fSw: d.fSw,
            outputRipple: point.outputRipple,
          }).value;
          close(needed, capacitance, 1e-2);
        }
      }),
      { seed: 7, numRuns: 60 },
    );
  });
});

describe('the four-switch stage tends to its closed forms', () => {
  const stage = (legs: string, vOut: number) => {
    const read = stageFromDocument({
      format: 'yundro-stage',
      version: 1,
      topology: 'four-switch-buck-boost',
      legs,
      switchingFrequency: 300e3,
      targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: vOut, outputCurrent: { max: 4 } },
      parts: {
        inductor: { inductance: 10e-6, resistance: 0 },
        outputCapacitors: [{ capacitance: 0.05 }],
        highSide: { onResistance: 0 },
        lowSide: { onResistance: 0 },
        outputHighSide: { onResistance: 0 },
        outputLowSide: { onResistance: 0 },
      },
    });
    const complete = read.ok ? completeStage(read.value) : read;
    if (!complete.ok) throw new Error('not complete');
    return complete.value;
  };
  test.each([
    ['regions', 5, 'buck'],
    ['regions', 24, 'boost'],
    ['regions', 12, 'transition'],
    ['simultaneous', 12, 'simultaneous'],
  ] as const)('%s to %d V: %s', (legs, vOut, region) => {
    const complete = stage(legs, vOut);
    const found = operatingPoint(complete, { inputVoltage: 12, load: { kind: 'current', current: 4 } });
    if (found.kind !== 'solved') throw new Error(found.reason);
    expect(found.point.region).toBe(region);
    for (const key of ['duty', 'inductorCurrent.ripple']) {
      const { value, closedForms } = workingOf(key, complete, found);
      if (key === 'inductorCurrent.ripple' && region === 'transition') {
        expect(closedForms).toEqual([]);
        continue;
      }
      const [form] = closedForms;
      if (!form) throw new Error(`no closed form of ${key}`);
      close(value, form.value);
    }
  });
});

describe('closed forms of discontinuous conduction (Erickson, Maksimović, Fundamentals of Power Electronics, ch. 5 and 11)', () => {
  test('buck: 24 V, 20 ohm, 10 uH, 200 kHz at D = 0.4 gives M = 0.5797959', () => {
    const k = applied(normalisedLoad, { inductance: 10e-6, fSw: 200e3, resistance: 20 }).value;
    expect(k).toBeCloseTo(0.2, 12);
    expect(applied(buckDiscontinuousDuty, { ratio: 0.5797959, k }).value).toBeCloseTo(0.4, 6);
  });
  test('boost: 24 V to 36 V, 12 ohm, 5 uH, 100 kHz needs D = 0.25', () => {
    const k = applied(normalisedLoad, { inductance: 5e-6, fSw: 100e3, resistance: 12 }).value;
    expect(applied(boostDiscontinuousDuty, { ratio: 1.5, k }).value).toBeCloseTo(0.25, 9);
  });
  test('buck-boost: K = 0.16 gives |M| = 0.75 at D = 0.3', () => {
    expect(applied(buckBoostDiscontinuousDuty, { ratio: 0.75, k: 0.16 }).value).toBeCloseTo(0.3, 12);
  });
});

describe('the working of a stage that is no buck', () => {
  const sized = (part: object) => {
    const read = stageFromDocument({ format: 'yundro-stage', version: 1, ...part });
    const result = read.ok ? sizeStage(read.value) : read;
    if (!result.ok) throw new Error('not sized');
    return result.value;
  };
  test('shows the textbook duty of a discontinuous inverting stage, close to the engine', () => {
    const { complete, corners } = sized({
      topology: 'inverting-buck-boost',
      rectifier: 'diode',
      switchingFrequency: 300e3,
      targets: { inputVoltage: { min: 22, max: 26 }, outputVoltage: -24, outputCurrent: { min: 0.02, max: 1 } },
    });
    const lightest = corners[0]?.result;
    if (lightest?.kind !== 'solved') throw new Error('not solved');
    const forms = workingOf('duty', complete, lightest).closedForms;
    expect(forms.map(({ symbol }) => symbol)).toEqual(['D_0', 'K', 'D', 'q']);
    // Losses and the diode drop are left out of it.
    close(forms[2]?.value ?? NaN, lightest.point.duty, 0.05);
  });
  test('shows ripple and peak of a boost beside the engine', () => {
    const { complete, corners } = sized({
      topology: 'boost',
      switchingFrequency: 300e3,
      targets: { inputVoltage: { min: 10, max: 14 }, outputVoltage: 24, outputCurrent: { min: 0.1, max: 2 } },
    });
    const fullest = corners.at(-1)?.result;
    if (fullest?.kind !== 'solved') throw new Error('not solved');
    for (const key of ['duty', 'inductorCurrent.ripple', 'inductorCurrent.peak', 'inductorCurrent.rms']) {
      const working = workingOf(key, complete, fullest);
      const beside = working.closedForms.filter(({ step }) => step !== true).at(-1);
      close(beside?.value ?? NaN, working.value, 0.06);
    }
  });
});
