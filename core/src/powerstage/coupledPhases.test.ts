import { describe, expect, test } from '@jest/globals';
import { windingRipple } from '../firstcut/coupledRipple.js';
import { completeStage } from '../stage/completeStage.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { withoutLosses } from '../survey/withoutLosses.js';

/** Windings of 470 nH at 12 V and 500 kHz, free of losses, with an output that hardly ripples. */
function ripples(phases: number, duty: number, coupling: object): { winding: number; summed: number } {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    phases,
    coupling,
    switchingFrequency: 500e3,
    targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 12 * duty, outputCurrent: { max: 20 * phases } },
    parts: {
      inductor: { inductance: 470e-9, resistance: 1e-6 },
      outputCapacitors: [{ capacitance: 50e-3, esr: 0, esl: 0 }],
      highSide: { onResistance: 1e-6 },
      lowSide: { onResistance: 1e-6 },
    },
  });
  if (!read.ok) throw new Error(JSON.stringify(read));
  const complete = completeStage(read.value);
  if (!complete.ok) throw new Error('The stage is not complete.');
  const found = operatingPoint(withoutLosses(complete.value), {
    inputVoltage: 12,
    load: { kind: 'current', current: 20 * phases },
  });
  if (found.kind !== 'solved') throw new Error(found.reason);
  return { winding: found.point.inductorCurrent.ripple, summed: found.point.totalInductorRipple };
}

describe('phases that share a core', () => {
  test.each([
    [2, 0.2, 0.6],
    [3, 0.15, 0.5],
    [3, 0.4, 0.8],
    [4, 0.3, 0.7],
    [5, 0.1, 0.4],
    [6, 1 / 12, 0.5],
  ])('all %i on one core at D = %f, k = %f ripple as the modes of the core say', (windings, duty, coefficient) => {
    for (const kind of ['inverse', 'direct'] as const) {
      const { winding } = ripples(windings, duty, { kind, coefficient, core: 'all' });
      const expected = windingRipple({ inductance: 470e-9, kind, coefficient, windings }, 12, duty, 2e-6);
      expect(winding / expected).toBeCloseTo(1, 3);
    }
  });
  // The summed ripple is that of uncoupled chokes of the common mode's inductance, whatever the rest of the matrix.
  test.each([3, 4, 6])('the sum of %i phases ripples by the leakage alone', (phases) => {
    const duty = 0.11;
    const { summed: uncoupled } = ripples(phases, duty, { kind: 'none' });
    const { summed } = ripples(phases, duty, { kind: 'inverse', coefficient: 0.6, core: 'all' });
    expect(summed / (uncoupled / 0.4)).toBeCloseTo(1, 3);
  });
  test('two phases are the same pair either way, and nothing said means pairs', () => {
    const all = ripples(2, 0.2, { kind: 'inverse', coefficient: 0.5, core: 'all' });
    expect(ripples(2, 0.2, { kind: 'inverse', coefficient: 0.5, core: 'pairs' }).winding).toBeCloseTo(all.winding, 9);
    const four = ripples(4, 0.2, { kind: 'inverse', coefficient: 0.5 });
    expect(four.winding).toBeCloseTo(ripples(4, 0.2, { kind: 'inverse', coefficient: 0.5, core: 'pairs' }).winding, 9);
    expect(four.winding).not.toBeCloseTo(
      ripples(4, 0.2, { kind: 'inverse', coefficient: 0.5, core: 'all' }).winding,
      1,
    );
  });
  test('an odd number is coupled on one core only, and a single phase not at all', () => {
    const read = (phases: number, core?: string) =>
      stageFromDocument({
        format: 'yundro-stage',
        version: 1,
        topology: 'buck',
        phases,
        coupling: { kind: 'inverse', coefficient: 0.5, ...(core && { core }) },
        targets: { inputVoltage: { min: 12, max: 12 }, outputVoltage: 3, outputCurrent: { max: 20 } },
      }).ok;
    expect([read(3, 'all'), read(3), read(3, 'pairs'), read(1, 'all'), read(4)]).toEqual([
      true,
      false,
      false,
      false,
      true,
    ]);
  });
});
