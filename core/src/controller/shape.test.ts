import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { degreesOf, magnitude } from '../linalg/complex.js';
import { completeCompensator, type CompleteCompensator } from './compensatorCircuit.js';
import { compensatorResponse } from './compensatorResponse.js';
import { componentsOf, kFactor, shapeOf, type Components, type Frame } from './shape.js';

const CONTROL = {
  scheme: 'voltage-mode',
  dutyMax: 1,
  minimumOnTime: 0,
  slopeCompensation: 0,
  onTime: 0,
  reference: 0.8,
} as const;

function complete({ network, amplifier }: Frame, components: Components): CompleteCompensator {
  const whole = completeCompensator({ ...CONTROL, compensator: { network, amplifier, components } });
  if (!whole.ok) throw new Error(whole.lacks.join(', '));
  return whole.value;
}
const OP_AMP = { kind: 'op-amp' } as const;
/** An output resistance so high that the integrator is one. */
const OTA = { kind: 'ota', transconductance: 1e-3, outputResistance: 1e12 } as const;

describe('components, and what they do in the circuit', () => {
  const shapes = fc.record({
    network: fc.constantFrom('type-2', 'type-3'),
    ota: fc.boolean(),
    crossover: fc.double({ min: 1e3, max: 2e5, noNaN: true }),
    boost: fc.double({ min: 6, max: 55, noNaN: true }),
    gain: fc.double({ min: 0.05, max: 30, noNaN: true }),
  });
  test('a network by the K factor has its gain and its phase at the crossover, and its zeros come back (seed 61)', () => {
    let compared = 0;
    fc.assert(
      fc.property(shapes, ({ network, ota, crossover, boost, gain }) => {
        const frame: Frame = { network, amplifier: ota ? OTA : OP_AMP, rUpper: 90e3, rLower: 10e3 };
        const corners = kFactor(network, crossover, boost);
        const components = corners && componentsOf({ ...corners, at: crossover, gain }, frame);
        // The divider of a transconductor limits how far apart its zero and pole can be.
        if (!corners || !components) return;
        compared += 1;
        const whole = complete(frame, components);
        const here = compensatorResponse(whole)(crossover);
        expect(Math.abs(magnitude(here) / gain - 1)).toBeLessThan(1e-6);
        expect(Math.abs(degreesOf(here) - (boost - 90))).toBeLessThan(1e-3);
        const back = shapeOf(whole);
        corners.zeros.forEach((zero, k) => expect((back.zeros[k] ?? NaN) / zero).toBeCloseTo(1, 9));
        corners.poles.forEach((pole, k) => expect((back.poles[k] ?? NaN) / pole).toBeCloseTo(1, 9));
      }),
      { seed: 61, numRuns: 200 },
    );
    expect(compared).toBeGreaterThan(120);
  });
  test('more boost than a network has is refused', () => {
    expect(kFactor('type-2', 1e4, 86)).toBeUndefined();
    expect(kFactor('type-3', 1e4, 171)).toBeUndefined();
    expect(kFactor('integrator', 1e4, 10)).toBeUndefined();
  });
});

describe('a real amplifier', () => {
  const components = { rUpper: 10e3, rLower: 2.5e3, rZero: 10e3, cZero: 10e-9, cPole: 100e-12 };
  const response = (amplifier: Frame['amplifier']) =>
    compensatorResponse(complete({ network: 'type-2', amplifier, rUpper: 10e3, rLower: 2.5e3 }, components));
  test('its gain ends at the open-loop gain over the divider, and one without limits agrees with the ideal one', () => {
    // Far below the integrator only the amplifier is left: the divider before it.
    const real = magnitude(response({ kind: 'op-amp', openLoopGain: 1000 })(1e-4));
    expect(real / (1000 * 0.2)).toBeCloseTo(1, 3);
    for (const frequency of [1e2, 1e4, 1e5]) {
      const fast = response({ kind: 'op-amp', openLoopGain: 1e8, gainBandwidth: 1e10 })(frequency);
      const ideal = response(OP_AMP)(frequency);
      expect(magnitude(fast) / magnitude(ideal)).toBeCloseTo(1, 3);
    }
  });
  test('a slow one lags where the ideal one leads', () => {
    const slow = response({ kind: 'op-amp', gainBandwidth: 200e3 })(1e5);
    expect(degreesOf(slow)).toBeLessThan(degreesOf(response(OP_AMP)(1e5)) - 10);
  });
});

describe('what a compensator lacks', () => {
  test('is listed part by part', () => {
    const whole = completeCompensator({
      ...CONTROL,
      compensator: { network: 'type-3', amplifier: OP_AMP, components: { rUpper: 1e3 } },
    });
    expect(whole).toMatchObject({
      ok: false,
      lacks: ['the lower divider resistor', 'the zero resistor', 'the zero capacitor', 'the feed-forward capacitor'],
    });
  });
});
