import { describe, expect, test } from '@jest/globals';
import { benchStage } from '../../testing/benchStages.js';
import { USUAL_INSTRUMENTS, type Instruments } from '../instruments/instruments.js';
import { expectedNodes } from './expectedNodes.js';
import { seenEdge } from './probeLead.js';
import { reachOf } from './reach.js';
import { testPlan } from './testPlan.js';

/** A 20 to 29.2 V stage of 12 V and 8 A, on a supply that ends at 30 V and 3 A. */
const STAGE = benchStage(
  {
    targets: {
      inputVoltage: { min: 20, nominal: 25.6, max: 29.2 },
      outputVoltage: 12,
      outputCurrent: { min: 0.1, max: 8 },
      loadStep: { from: 2, to: 6, slewRate: 5e6, deviation: 0.3 },
    },
    control: { scheme: 'voltage-mode' },
  },
  {},
);
const SMALL: Instruments = {
  ...USUAL_INSTRUMENTS,
  supply: { ...USUAL_INSTRUMENTS.supply, voltageMax: 30, currentMax: 3 },
};

describe('a supply that ends at 30 V and 3 A before a stage of 8 A', () => {
  const plan = testPlan(STAGE, SMALL);
  const step = (key: string) => plan.find((one) => one.key === key);

  test('of the efficiency grid it says which points are reached, and the nearest to the others', () => {
    const points = step('efficiency')?.points ?? [];
    expect(points).toHaveLength(18);
    for (const { inputVoltage, outputCurrent, reached, because, nearest, nearestBy } of points) {
      // 12 V Iout = 0.95 Vin 2.85 A: what the supply gives, losses taken off.
      const rough = (0.95 * inputVoltage * 2.85) / 12;
      if (outputCurrent < 0.97 * rough)
        expect([inputVoltage, outputCurrent, reached]).toEqual([inputVoltage, outputCurrent, true]);
      if (outputCurrent > 1.06 * rough) {
        expect([inputVoltage, outputCurrent, reached]).toEqual([inputVoltage, outputCurrent, false]);
        expect(because).toMatch(/the supply gives 2\.85.A/);
        expect(nearestBy).toBe('load');
        expect(Math.abs((nearest?.outputCurrent ?? 0) / rough - 1)).toBeLessThan(0.06);
      }
    }
    expect(step('efficiency')?.concludes[0]).toMatch(/^\d+ of 18 points are reached \(20\.0.V: up to 4\.\d+.A/);
  });
  test('what can be concluded for heat is worked, not guessed', () => {
    expect(step('thermal')?.concludes[0]).toMatch(/full load makes [12]\.\d\d times/);
  });
  test('a load that is slower than the step is told of', () => {
    expect(step('load-step')?.concludes.join(' ')).toContain('milder than asked for');
  });
  test('resistance comes before power, a small limit before load, and the short last', () => {
    expect(plan.map(({ key }) => key)).toEqual([
      'before-power',
      'first-power',
      'no-load',
      'light-load',
      'thermal',
      'efficiency',
      'load-regulation',
      'line-regulation',
      'ripple',
      'load-step',
      'loop',
      'start-up',
      'short-circuit',
    ]);
    expect(step('first-power')?.cautions.join(' ')).toContain('eye protection');
  });
  test('a supply that ends just at the input is short by what its lead drops', () => {
    const just = { ...SMALL, supply: { ...SMALL.supply, voltageMax: 29.2 } };
    const found = reachOf(STAGE, just, { inputVoltage: 29.2, outputCurrent: 4 });
    expect([found.reached, found.nearestBy]).toEqual([false, 'input']);
    expect(found.because).toMatch(/would have to stand at 29\.2/);
  });
  test('a supply that does not reach the input is answered with the highest it reaches', () => {
    const low = { ...SMALL, supply: { ...SMALL.supply, voltageMax: 24 } };
    const found = reachOf(STAGE, low, { inputVoltage: 29.2, outputCurrent: 1 });
    expect(found.reached).toBe(false);
    expect(found.nearestBy).toBe('input');
    expect(found.nearest?.inputVoltage).toBeCloseTo(24 - 0.02 * 2.85, 3);
    const none = reachOf(
      STAGE,
      { ...SMALL, supply: { ...SMALL.supply, voltageMax: 15 } },
      { inputVoltage: 29.2, outputCurrent: 1 },
    );
    expect(none.nearest).toBeUndefined();
  });
});

describe('what to expect at each node', () => {
  test('levels, frequency and a band that boards within tolerance keep to', () => {
    const nodes = expectedNodes(
      benchStage(),
      { inputVoltage: 12, supplyLimit: 8, loadResistance: 7.5 / 4 },
      USUAL_INSTRUMENTS,
    );
    if (typeof nodes === 'string') throw new Error(nodes);
    expect(nodes.map(({ name }) => name)).toEqual([
      'output voltage',
      'inductor current',
      'input current',
      'input voltage',
      'switch node',
      'feedback',
      'gate, highSide',
      'gate, lowSide',
    ]);
    const [output] = nodes;
    expect(output?.reads.mean).toBeCloseTo(7.5, 2);
    expect(output?.from.mean).toBeLessThan(7.49);
    expect(output?.to.mean).toBeGreaterThan(7.51);
    for (const { value, least, most, probing } of nodes) {
      expect(probing.length).toBeGreaterThan(0);
      value.forEach((one, i) => {
        expect(least[i]).toBeLessThanOrEqual(one);
        expect(most[i]).toBeGreaterThanOrEqual(one);
      });
    }
    const node = nodes.find(({ name }) => name === 'switch node');
    expect(node?.reads.pulses).toBeCloseTo(1, 1);
    expect(node?.reads.high).toBeCloseTo(12, 0);
  });

  test('a ground lead rings at 1/(2π√(LC)) and overshoots as a second-order circuit does (Ogata, Modern Control Engineering, 5.3)', () => {
    const { time, withLead, withSpring, ring } = seenEdge(1, 1e-10);
    // 150 nH and 12 pF
    expect(Math.abs(ring / 118.6e6 - 1)).toBeLessThan(0.01);
    const damping = (60 / 2) * Math.sqrt(12e-12 / 150e-9);
    const overshoot = Math.exp((-Math.PI * damping) / Math.sqrt(1 - damping ** 2));
    expect(Math.abs(Math.max(...withLead) - 1 - overshoot)).toBeLessThan(0.02);
    expect(Math.max(...withSpring)).toBeLessThan(1.3);
    expect(withLead.at(-1)).toBeCloseTo(1, 1);
    expect(time).toHaveLength(400);
  });
});
