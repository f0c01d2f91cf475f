import { describe, expect, test } from '@jest/globals';
import { complete, CURRENT, TYPE_3, VOLTAGE } from '../../testing/loopStage.js';
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
  test('the amplifier may be asked a tenth of the gain it has at the crossover, 1 + |Z2/Z1| by the ideal network', () => {
    const gainBandwidth = 500e3;
    const amplifier = { kind: 'op-amp', openLoopGain: 1e4, gainBandwidth };
    const { limits } = limitsOf({}, { ...VOLTAGE, compensator: { ...VOLTAGE.compensator, amplifier } });
    const found = limits.find(({ limit }) => limit === 'amplifier');
    if (!found) throw new Error('no limit');
    // H(s) of the type 3 network, from its components. R. W. Erickson, D. Maksimović, Fundamentals of Power Electronics, ch. 9.
    const { rUpper, rZero, cZero, cPole, rFeedforward, cFeedforward } = TYPE_3.components;
    const w = 2 * Math.PI * found.crossover;
    const zeros = Math.hypot(1, w * rZero * cZero) * Math.hypot(1, w * (rUpper + rFeedforward) * cFeedforward);
    const poles =
      Math.hypot(1, (w * rZero * cZero * cPole) / (cZero + cPole)) * Math.hypot(1, w * rFeedforward * cFeedforward);
    const gain = zeros / poles / (w * rUpper * (cZero + cPole));
    expect(found.allowed / (gainBandwidth / (10 * (1 + gain)))).toBeCloseTo(1, 6);
    expect(found.rule).toBe('the amplifier has 10 times the gain that the network asks of it');
  });
  test('a transconductance amplifier has no such limit', () => {
    const { limits } = limitsOf({}, CURRENT);
    expect(limits.map(({ limit }) => limit)).toEqual(['switching-frequency']);
  });
  test('several boost phases have the zero of one of an inductance over their number; a dormant corner or none counts not', () => {
    const alone = limitsOf(BOOST, SLOW).limits.find(({ limit }) => limit === 'right-half-plane-zero');
    const three = limitsOf({ ...BOOST, phases: 3 }, SLOW).limits.find(({ limit }) => limit === 'right-half-plane-zero');
    const zeroOf = (limit: typeof alone, phases: number): number => {
      if (!limit) throw new Error('no limit');
      const { inputVoltage, outputCurrent } = limit.corner;
      return ((12 / outputCurrent) * (inputVoltage / 12) ** 2) / (2 * Math.PI * (2.2e-6 / phases)) / 5;
    };
    expect((three?.allowed ?? 0) / zeroOf(three, 3)).toBeGreaterThan(0.9);
    expect((three?.allowed ?? 0) / zeroOf(three, 3)).toBeLessThan(1.02);
    expect((alone?.allowed ?? 0) / zeroOf(alone, 1)).toBeLessThan(1.02);
    expect(three?.rule).toMatch(/^0\.20 of the right-half-plane zero$/);
  });
  test('a corner without a loop, or without a crossover, is passed over', () => {
    const evaluated = evaluateStage(complete({}, VOLTAGE).stage);
    if (!evaluated.ok) throw new Error('not evaluated');
    const [first, ...others] = loopCorners(evaluated.value);
    if (first?.loop.kind !== 'solved') throw new Error('no loop');
    const without = { ...first, loop: { kind: 'unsolved', why: 'incomplete', reason: 'none' } as const };
    const flat = { ...first, loop: { ...first.loop, crossover: { kind: 'none', reason: 'below one' } as const } };
    expect(crossoverLimits(evaluated.value, [without, flat])).toEqual([]);
    expect(crossoverLimits(evaluated.value, [without, ...others]).length).toBe(others.length > 0 ? 1 : 0);
  });
});
