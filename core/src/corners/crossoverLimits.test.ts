import { describe, expect, test } from '@jest/globals';
import { complete, VOLTAGE } from '../../testing/loopStage.js';
import { crossoverLimits } from './crossoverLimits.js';
import { evaluateStage } from './evaluate.js';
import { loopCorners } from './loopCorners.js';

function limitsOf(over: object, control: object, parts: object = {}) {
  const evaluated = evaluateStage(complete(over, control, parts).stage);
  if (!evaluated.ok) throw new Error('not evaluated');
  const loops = loopCorners(evaluated.value);
  return { loops, limits: crossoverLimits(evaluated.value, loops) };
}
const BOOST = {
  topology: 'boost',
  targets: { inputVoltage: { min: 4, max: 6 }, outputVoltage: 12, outputCurrent: { min: 0.5, max: 1 } },
};
const SLOW = {
  ...VOLTAGE,
  compensator: { network: 'integrator', components: { rUpper: 190e3, rLower: 10e3, cZero: 4.7e-9 } },
};

describe('limits of the crossover', () => {
  test('a buck without amplifier bandwidth has one: a fifth of the switching frequency, or what is stated', () => {
    const { limits, loops } = limitsOf({}, VOLTAGE);
    expect(limits.map(({ limit }) => limit)).toEqual(['switching-frequency']);
    expect(limits[0]?.allowed).toBeCloseTo(100e3, 3);
    const highest = Math.max(
      ...loops.map(({ loop }) =>
        loop.kind === 'solved' && loop.crossover.kind === 'found' ? loop.crossover.value : 0,
      ),
    );
    expect(limits[0]?.crossover).toBe(highest);
    const stated = limitsOf({}, { ...VOLTAGE, crossoverLimits: { ofSwitchingFrequency: 0.1 } }).limits;
    expect(stated[0]?.allowed).toBeCloseTo(50e3, 3);
    expect(stated[0]?.rule).toMatch(/0\.10 of the switching frequency/);
  });
  // R (1 − D)²/(2π L): R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, 2nd ed., Table 8.2.
  test('a boost keeps below a fifth of its right-half-plane zero at the corner where it comes nearest', () => {
    const { limits, loops } = limitsOf(BOOST, SLOW);
    const zero = limits.find(({ limit }) => limit === 'right-half-plane-zero');
    if (!zero) throw new Error('no limit');
    const { inputVoltage, outputCurrent } = zero.corner;
    const resistance = 12 / outputCurrent;
    const ideal = (resistance * (inputVoltage / 12) ** 2) / (2 * Math.PI * 2.2e-6) / 5;
    expect(zero.allowed / ideal).toBeGreaterThan(0.9);
    expect(zero.allowed / ideal).toBeLessThan(1.02);
    // Of all corners none comes nearer.
    const nearness = loops.flatMap(({ corner, loop }) => {
      if (loop.kind !== 'solved' || loop.crossover.kind !== 'found') return [];
      const zeroThere = ((12 / corner.outputCurrent) * (corner.inputVoltage / 12) ** 2) / (2 * Math.PI * 2.2e-6);
      return [loop.crossover.value / (zeroThere / 5)];
    });
    expect(nearness.length).toBeGreaterThan(3);
    expect(Math.min(...nearness)).toBeLessThan(0.8 * Math.max(...nearness));
    expect(zero.crossover / zero.allowed / Math.max(...nearness)).toBeGreaterThan(0.95);
  });
  test('an amplifier of little bandwidth limits the crossover; an ideal one does not', () => {
    const amplifier = { kind: 'op-amp', openLoopGain: 1e4, gainBandwidth: 500e3 };
    const { limits } = limitsOf({}, { ...VOLTAGE, compensator: { ...VOLTAGE.compensator, amplifier } });
    const found = limits.find(({ limit }) => limit === 'amplifier');
    expect(found?.allowed).toBeLessThan(50e3);
    expect((found?.crossover ?? 0) > (found?.allowed ?? Infinity)).toBe(true);
  });
});
