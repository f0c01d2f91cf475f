import { expect, test } from '@jest/globals';
import { evaluateStage, type EvaluatedStage } from '../corners/evaluate.js';
import { genericParts } from '../library/genericParts.js';
import type { Inventory } from '../library/inventory.js';
import { stageFromDocument } from '../stage/readStage.js';
import { outputBanks } from './banks.js';

const worked = (loadStep?: object): EvaluatedStage => {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 500e3,
    targets: {
      inputVoltage: { min: 11, max: 13 },
      outputVoltage: 1.2,
      outputCurrent: { min: 2, max: 20 },
      outputRipple: 0.05,
      inductorRippleRatio: 0.4,
      ...(loadStep && { loadStep }),
    },
    parts: {
      inductor: { inductance: 0.5e-6, resistance: 1e-3 },
      highSide: { onResistance: 5e-3 },
      lowSide: { onResistance: 2e-3 },
      outputCapacitors: [{ kind: 'ceramic', capacitance: 100e-6, esr: 2e-3, count: 4 }],
      inputCapacitors: [{ kind: 'ceramic', capacitance: 22e-6, esr: 2e-3, count: 4 }],
    },
  });
  if (!read.ok) throw new Error(JSON.stringify(read));
  const evaluated = evaluateStage(read.value);
  if (!evaluated.ok) throw new Error(JSON.stringify(evaluated));
  return evaluated.value;
};

/** One record with much capacitance and much series resistance: the resistance alone asks for many. */
const inventory: Inventory = {
  ...genericParts(),
  capacitor: [
    {
      name: 'P',
      kind: 'polymer',
      capacitance: 2.7e-3,
      esr: 20e-3,
      esl: 3e-9,
      ratedVoltage: 6.3,
      rippleCurrentRating: 6,
      tolerance: 0.2,
    },
  ],
};
const least = (evaluated: EvaluatedStage): number =>
  outputBanks(evaluated, inventory, { loss: 0, area: 0, price: 0 }, 'balanced')[0]?.[0]?.count ?? NaN;

test('a bank that carries a load step alone spends no more than half of the deviation on its series resistance', () => {
  // n = 20 mΩ · 12 A / (0.5 · 24 mV) = 20: common practice.
  expect(least(worked({ from: 4, to: 16, deviation: 0.024 }))).toBe(20);
  expect(least(worked())).toBeLessThan(5);
});
