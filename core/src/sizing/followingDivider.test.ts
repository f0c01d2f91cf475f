import { expect, test } from '@jest/globals';
import { followingDivider } from './setDivider.js';

const control = (over: object = {}) =>
  ({
    control: {
      scheme: 'voltage-mode',
      reference: 0.8,
      compensator: { network: 'type-3', components: { rUpper: 140e3, rLower: 10e3 } },
      ...over,
    },
  }) as never;

test('a divider follows the output that is asked for, its upper resistor staying', () => {
  // 0.8 V (1 + 140/10) = 12 V; for 5 V 140 kΩ / 5.25 = 26.67 kΩ, of E192 26.7 kΩ.
  expect(followingDivider(control(), 12)).toBe(10e3);
  expect(followingDivider(control(), 5)).toBeCloseTo(26.7e3, 6);
  expect(followingDivider(control(), -5)).toBeCloseTo(26.7e3, 6);
});
test('where nothing divides the output, or it is not above the reference, nothing follows', () => {
  expect(followingDivider(control({ compensator: undefined }), 5)).toBeUndefined();
  expect(followingDivider(control({ reference: undefined }), 5)).toBeUndefined();
  expect(followingDivider(control({ scheme: 'open-loop' }), 5)).toBeUndefined();
  expect(followingDivider(control(), 0.7)).toBeUndefined();
});
