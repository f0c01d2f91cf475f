import { describe, expect, test } from '@jest/globals';
import { sizeStage } from '../sizing/size.js';
import { stageSchema, type Stage } from '../stage/schema.js';
import { withLimits, withSoftStart } from './limits.js';
import type { Chosen } from './powerParts.js';

const stage = (more: object = {}): Stage =>
  stageSchema.parse({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 500e3,
    control: { scheme: 'voltage-mode' },
    targets: { inputVoltage: { min: 20, max: 30 }, outputVoltage: 12, outputCurrent: { min: 1, max: 4 } },
    parts: {
      inductor: { inductance: 10e-6, resistance: 0 },
      outputCapacitors: [{ capacitance: 100e-6, kind: 'polymer' }],
      highSide: { onResistance: 0 },
      lowSide: { onResistance: 0 },
    },
    ...more,
  });
const BOOST = {
  topology: 'boost',
  targets: { inputVoltage: { min: 12, max: 20 }, outputVoltage: 30, outputCurrent: { min: 1, max: 2 } },
};
function chosen(of: Stage): Chosen {
  const sized = sizeStage(of);
  if (!sized.ok) throw new Error(JSON.stringify(sized.problems));
  return { evaluated: sized.value, choices: [] };
}
const limited = (of: Stage): Stage => withLimits(chosen(of), of).evaluated.complete.stage;

describe('the current limit', () => {
  // Ripple (30 V − 12 V) 0.4/(500 kHz · 10 µH) = 1.44 A: a peak of 4.72 A, times 1.2/0.8 is 7.08 A; E24 has 6.8 and 7.5.
  test('of a design lies half above the highest peak, in the series', () => {
    expect(limited(stage()).control.currentLimit).toBe(6.8);
  });
  test('is not above the saturation of the choke, and none is taken that would lie below the peak', () => {
    const saturating = (saturationCurrent: number): Stage =>
      stage({
        parts: { ...stage().parts, inductor: { inductance: 10e-6, resistance: 0, saturationCurrent } },
      });
    expect(limited(saturating(6)).control.currentLimit).toBe(6);
    expect(limited(saturating(4.5)).control.currentLimit).toBeUndefined();
  });
  test('that is stated stays', () => {
    expect(limited(stage({ control: { scheme: 'voltage-mode', currentLimit: 9 } })).control.currentLimit).toBe(9);
  });
});

describe('the highest duty ratio', () => {
  test('is bounded where a switch that stays on shorts the input, with room above what is used', () => {
    expect(limited(stage()).control.dutyMax).toBe(1);
    expect(limited(stage(BOOST)).control.dutyMax).toBe(0.9);
    // D = 1 − 12 V/140 V = 0.914, and 0.05 more, in hundredths upwards.
    const steep = { ...BOOST, targets: { ...BOOST.targets, outputVoltage: 140, outputCurrent: { max: 0.2 } } };
    expect(limited(stage(steep)).control.dutyMax).toBeCloseTo(0.97, 6);
  });
  test('that is stated stays', () => {
    const stated = { ...BOOST, control: { scheme: 'voltage-mode', dutyMax: 0.8 } };
    expect(limited(stage(stated)).control.dutyMax).toBe(0.8);
  });
});

describe('the soft start', () => {
  const softStart = (of: Stage): number | undefined =>
    withSoftStart(chosen(of)).evaluated.complete.stage.control.softStartTime;
  test('charges the output with a fifth of the full load; the shortest is 1 ms', () => {
    // 100 µF · 12 V/(0.2 · 4 A) = 1.5 ms; 10 µF would take 0.15 ms.
    expect(softStart(stage())).toBe(1.5e-3);
    const less = { ...stage().parts, outputCapacitors: [{ capacitance: 10e-6, kind: 'polymer' }] };
    expect(softStart(stage({ parts: less }))).toBe(1e-3);
  });
  test('that is stated stays', () => {
    expect(softStart(stage({ control: { scheme: 'voltage-mode', softStartTime: 8e-3 } }))).toBe(8e-3);
  });
});
