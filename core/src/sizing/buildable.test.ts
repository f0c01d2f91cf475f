import { describe, expect, test } from '@jest/globals';
import { stageFromDocument } from '../stage/readStage.js';
import { proposeNetwork } from './compensation.js';
import { sizeStage } from './size.js';

const SHEET = {
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  switchingFrequency: 510e3,
  targets: {
    inputVoltage: { min: 4.5, nominal: 5, max: 5.5 },
    outputVoltage: 1.2,
    outputCurrent: { min: 0, max: 6 },
    outputRipple: 0.012,
    phaseMargin: 45,
    gainMargin: 8,
  },
  parts: {
    inductor: { inductance: 1e-6, resistance: 5e-3 },
    outputCapacitors: [{ capacitance: 80e-6, esr: 2.2e-3, count: 3 }],
  },
};

function proposed(control: object) {
  const read = stageFromDocument({ ...SHEET, control });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const sized = sizeStage(read.value);
  if (!sized.ok) throw new Error(JSON.stringify(sized.problems));
  const found = proposeNetwork(sized.value);
  if (typeof found === 'string') throw new Error(found);
  return found;
}

describe('a network that would want a few picofarads', () => {
  const control = { scheme: 'peak-current-mode', reference: 0.6 };
  const { control: made, choices, holds } = proposed(control);
  const { components } = made.compensator ?? {};
  test('is built at a lower level of impedance: strays of a board are some picofarads (common practice)', () => {
    for (const farads of [components?.cZero, components?.cPole]) expect(farads).toBeGreaterThanOrEqual(22e-12);
    expect(components?.rLower).toBeGreaterThanOrEqual(1e3);
    expect(components?.rLower).toBeLessThan(10e3);
    expect(holds).toBe(true);
  });
  test('and each choice says the value it is built with', () => {
    for (const [key, value] of Object.entries(components ?? {})) {
      const choice = choices.find(({ path }) => path === `control.compensator.components.${key}`);
      expect([key, choice?.value]).toEqual([key, value]);
    }
  });
  test('keeps a divider that is given', () => {
    const given = { network: 'type-2', amplifier: { kind: 'op-amp' }, components: { rUpper: 10e3, rLower: 10e3 } };
    const kept = proposed({ ...control, compensator: given }).control.compensator?.components;
    expect([kept?.rUpper, kept?.rLower]).toEqual([10e3, 10e3]);
  });
});
