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

test('beside one large ceramic in the path of a pulsed current stands a small one; beside many, or where the current is smooth, none', () => {
  const inverting = (load: number, outputRipple: number) => {
    const read = stageFromDocument({
      format: 'yundro-stage',
      version: 1,
      topology: 'inverting-buck-boost',
      switchingFrequency: 800e3,
      targets: {
        inputVoltage: { min: 8, max: 16 },
        outputVoltage: -5,
        outputCurrent: { min: 0.2, max: load },
        outputRipple,
      },
      parts: {
        inductor: { inductance: 4.7e-6, resistance: 10e-3 },
        highSide: { onResistance: 8e-3 },
        lowSide: { onResistance: 8e-3 },
        outputCapacitors: [{ kind: 'ceramic', capacitance: 100e-6, esr: 2e-3 }],
      },
    });
    if (!read.ok) throw new Error(JSON.stringify(read));
    const evaluated = evaluateStage(read.value);
    if (!evaluated.ok) throw new Error(JSON.stringify(evaluated));
    return outputBanks(evaluated.value, onlyLarge, { loss: 1, area: 1e-4, price: 1 }, 'balanced')[0] ?? [];
  };
  const ceramic = (name: string, capacitance: number, esl: number, price: number) =>
    ({
      name,
      kind: 'ceramic',
      capacitance,
      esr: 3e-3,
      esl,
      ratedVoltage: 16,
      rippleCurrentRating: 5,
      tolerance: 0.1,
      price,
    }) as const;
  const onlyLarge: Inventory = {
    ...genericParts(),
    capacitor: [
      ceramic('large', 220e-6, 0.7e-9, 0.3),
      ceramic('small', 1e-6, 0.3e-9, 0.02),
      ceramic('dear', 1e-6, 0.3e-9, 0.5),
      ceramic('slow', 1e-6, 0.9e-9, 0.001),
    ],
  };
  expect(inverting(2, 0.1).map(({ name, count }) => `${String(count)} ${name ?? ''}`)).toEqual(['1 small', '1 large']);
  // More ripple current than one of them bears.
  const many = inverting(16, 0.1);
  expect(many).toHaveLength(1);
  expect(many[0]?.count).toBeGreaterThan(2);
  const smooth = outputBanks(worked(), onlyLarge, { loss: 1, area: 1e-4, price: 1 }, 'balanced')[0] ?? [];
  expect(smooth).toHaveLength(1);
});
