import { describe, expect, test } from '@jest/globals';
import { completeCompensator, type CompleteCompensator } from '../controller/compensatorCircuit.js';
import { compensatorResponse } from '../controller/compensatorResponse.js';
import { shapeOf, type Components, type Shape } from '../controller/shape.js';
import { magnitude } from '../linalg/complex.js';
import { nearestPreferred } from '../quantity/preferredValues.js';
import { steppedComponents, type ShapeHandle } from './stepShape.js';

const CONTROL = {
  scheme: 'voltage-mode',
  dutyMax: 1,
  minimumOnTime: 0,
  slopeCompensation: 0,
  onTime: 0,
  reference: 0.8,
} as const;
const START = { rUpper: 14e3, rLower: 1e3, rFeedforward: 180, cFeedforward: 2.2e-9, rZero: 10e3, cZero: 4.7e-9, cPole: 100e-12 }; // prettier-ignore

function complete(components: Components): CompleteCompensator {
  const whole = completeCompensator({
    ...CONTROL,
    compensator: { network: 'type-3', amplifier: { kind: 'op-amp' }, components },
  });
  if (!whole.ok) throw new Error(whole.lacks.join(', '));
  return whole.value;
}
const AT = 50e3;
const shapeAt = (components: Components): Shape => {
  const whole = complete(components);
  return { ...shapeOf(whole), at: AT, gain: magnitude(compensatorResponse(whole)(AT)) };
};
const valueOf = (shape: Shape, handle: ShapeHandle): number =>
  handle.of === 'gain' ? shape.gain : (shape[handle.of][handle.place] ?? NaN);

describe('one press of a key on a handle', () => {
  test.each<[ShapeHandle]>([
    [{ of: 'zeros', place: 0 }],
    [{ of: 'zeros', place: 1 }],
    [{ of: 'poles', place: 0 }],
    [{ of: 'poles', place: 1 }],
    [{ of: 'gain' }],
  ])('moves %j the way of the arrow, to components of preferred values, and back again', (handle) => {
    for (const direction of [1, -1] as const) {
      let components: Components = START;
      for (let press = 0; press < 5; press += 1) {
        const before = valueOf(shapeAt(components), handle);
        const next = steppedComponents(shapeAt(components), handle, direction, CONTROL, complete(components));
        if (!next) throw new Error('stuck');
        const ratio = valueOf(shapeAt(next), handle) / before;
        expect(direction * (ratio - 1)).toBeGreaterThan(1e-3);
        // A step of the series and what rounding two components may add to it.
        expect(Math.abs(Math.log(ratio))).toBeLessThan(Math.log(1.6));
        for (const key of ['cZero', 'cPole', 'cFeedforward'] as const)
          expect(next[key]).toBe(nearestPreferred(next[key] ?? 0, 'E12'));
        components = next;
      }
    }
  });
  test('goes no further where a pole would pass its zero', () => {
    const shape = shapeAt(START);
    const [zero = 0, zero2 = 0] = shape.zeros;
    const touching = { ...shape, poles: [1.01 * zero, 1.01 * zero2] };
    for (const place of [0, 1])
      expect(steppedComponents(touching, { of: 'poles', place }, -1, CONTROL, complete(START))).toBeUndefined();
  });
});
