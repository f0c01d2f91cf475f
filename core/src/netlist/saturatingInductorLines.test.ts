import { expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { inductanceCurveOf } from '../parts/inductanceCurve.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { saturatingInductors } from './saturatingInductorLines.js';

test('the flux that an inductor starts with lies between those of its valley and its peak, as its constant inductance says', () => {
  const part = { inductance: 2.2e-6, resistance: 0.005, saturationCurrent: 9, saturationDrop: 0.4 };
  const stage = complete({}, VOLTAGE, { inductor: part });
  const solved = operatingPoint(stage, { inputVoltage: 12, load: { kind: 'current', current: 8 } });
  const curve = inductanceCurveOf(stage.inductor);
  if (solved.kind !== 'solved' || !solved.saturation || !curve) throw new Error('it does not saturate');
  const { saturation } = solved;
  const { linearPeak, fluxSwing, effectiveInductance, peak, valley } = saturation;
  const start = (share: number): number => {
    const current = linearPeak - ((1 - share) * fluxSwing) / effectiveInductance;
    return saturatingInductors(solved, stage.inductor, () => current).get('inductor1')?.flux ?? NaN;
  };
  expect(start(0)).toBeCloseTo(curve.flux(valley), 12);
  expect(start(1)).toBeCloseTo(curve.flux(peak), 8);
  expect(start(0.5)).toBeCloseTo((start(0) + start(1)) / 2, 12);
  expect(start(1)).toBeGreaterThan(start(0));
  // Without saturation there is none to draw.
  expect(saturatingInductors({ powerStage: solved.powerStage }, stage.inductor, () => 0).size).toBe(0);
});
