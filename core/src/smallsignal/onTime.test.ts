import { describe, expect, test } from '@jest/globals';
import { complete } from '../../testing/loopStage.js';
import { operatingPoint } from '../steady/operatingPoint.js';
import { loopAt, type LoopReport } from './loopResponse.js';

const divider = { network: 'type-2', components: { rUpper: 21e3, rLower: 4e3 } };
const control = {
  scheme: 'constant-on-time',
  reference: 0.8,
  compensator: divider,
  rippleInjection: { resistance: 27e3, capacitance: 6.8e-9, coupling: 680e-12 },
};
const over = {
  switchingFrequency: 300e3,
  targets: { inputVoltage: { min: 36, max: 60 }, outputVoltage: 5, outputCurrent: { min: 0.5, max: 8 } },
};
const parts = (esl: number): object => ({
  inductor: { inductance: 5.6e-6, resistance: 0.003 },
  highSide: {
    onResistance: 0.01,
    gateDriveVoltage: 5,
    thresholdVoltage: 1.6,
    gateDrainCharge: 3e-9,
    gateSourceCharge: 2e-9,
    plateauVoltage: 2.6,
    gateResistance: 1,
  },
  inputCapacitors: [],
  outputCapacitors: [{ capacitance: 15e-6, esr: 0.003, esl, count: 4 }],
});

function loop(esl: number, current: number, loopBreak?: 'output' | 'divider'): LoopReport {
  const condition = { inputVoltage: 48, load: { kind: 'current' as const, current } };
  const found = loopAt(complete(over, control, parts(esl)), condition, [1e4], { loopBreak });
  if (found.kind !== 'solved') throw new Error(found.reason);
  return found;
}
const sizes = ({ floquetMultipliers }: LoopReport): readonly number[] =>
  floquetMultipliers.slice(0, 3).map(({ re, im }) => Math.hypot(re, im));

describe('series inductance in the output capacitors', () => {
  // Beside the divider it makes a mode of femtoseconds, of which a slope worked from the state keeps nothing but rounding.
  test.each([8, 7.995, 7.99, 7.9])('multipliers at %s A are those without it, and not noise', (current) => {
    const without = sizes(loop(0, current));
    sizes(loop(0.5e-9, current)).forEach((size, k) => {
      expect(Math.abs(size - (without[k] ?? NaN))).toBeLessThan(2e-3);
    });
  });
  test('the output ripple is that of the waveform, not of the instant at which a current changes hands', () => {
    const at = (esl: number): number => {
      const condition = { inputVoltage: 48, load: { kind: 'current' as const, current: 8 } };
      const found = operatingPoint(complete(over, control, parts(esl)), condition);
      return found.kind === 'solved' ? found.point.outputRipple : NaN;
    };
    expect(Math.abs(at(0.5e-9) / at(0) - 1)).toBeLessThan(0.08);
  });
});

describe('series inductance in the input capacitors', () => {
  test('the current that a switch takes over at once is the one its turn-on is reckoned with', () => {
    const turnOn = (esl: number): number => {
      const stage = complete(over, control, {
        ...parts(0),
        inputCapacitors: [{ capacitance: 10e-6, esr: 0.003, esl, count: 2 }],
      });
      const found = operatingPoint(stage, { inputVoltage: 48, load: { kind: 'current', current: 8 } });
      return found.kind === 'solved' ? (found.point.losses['highSideTurnOn'] ?? NaN) : NaN;
    };
    expect(turnOn(0)).toBeGreaterThan(0.01);
    expect(Math.abs(turnOn(0.5e-9) / turnOn(0) - 1)).toBeLessThan(0.05);
  });
});

describe('where the loop of a stage with ripple injection is broken', () => {
  test('all that hangs on the output shows the bandwidth, the divider alone a fraction of it and says so', () => {
    const whole = loop(0, 8);
    const alone = loop(0, 8, 'divider');
    expect([whole.loopBreak, whole.otherBreak]).toEqual(['output', 'divider']);
    expect([alone.loopBreak, alone.otherBreak]).toEqual(['divider', 'output']);
    const [at, slow] = [whole, alone].map(({ crossover }) => (crossover.kind === 'found' ? crossover.value : NaN));
    expect(at).toBeGreaterThan(50e3);
    expect(slow).toBeLessThan((at ?? NaN) / 4);
    // One orbit, looked at in two places: what disturbances become of is the same.
    sizes(whole).forEach((size, k) => {
      expect(sizes(alone)[k]).toBeCloseTo(size, 9);
    });
  });
});
