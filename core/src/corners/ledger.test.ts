import { describe, expect, test } from '@jest/globals';
import { sizeStage } from '../sizing/size.js';
import { pathText, withValue } from '../stage/place.js';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { designValues } from './designValues.js';
import { evaluateStage } from './evaluate.js';
import { ledgerOf } from './ledger.js';

function sized(part: object): Stage {
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, ...part });
  if (!read.ok) throw new Error('not valid');
  const result = sizeStage(read.value);
  if (!result.ok) throw new Error('not sized');
  return result.value.evaluation.stage;
}
const targets = {
  inputVoltage: { min: 20, max: 29.2 },
  outputVoltage: 12,
  outputCurrent: { min: 0.5, max: 6 },
  outputRipple: 0.05,
  inputRipple: 0.3,
  inductorRippleRatio: 0.4,
};
const buck = sized({ topology: 'buck', targets });
const boost = sized({
  topology: 'boost',
  rectifier: 'diode',
  targets: { ...targets, inputVoltage: { min: 6, max: 9 }, outputCurrent: { min: 0.1, max: 1 } },
});
const saturating: Stage = {
  ...buck,
  parts: {
    ...buck.parts,
    inductor: { inductance: 10e-6, resistance: 0.01, saturationCurrent: 9, saturationDrop: 0.3, heatingCurrent: 9 },
  },
};
const ledger = (stage: Stage) => {
  const evaluated = evaluateStage(stage);
  if (!evaluated.ok) throw new Error('not evaluated');
  return ledgerOf(evaluated.value);
};
const marginOf = (stage: Stage, target: string): number => {
  const evaluated = evaluateStage(stage);
  const margin = evaluated.ok ? evaluated.value.evaluation.verdicts.find((one) => one.target === target)?.margin : null;
  if (margin == null) throw new Error('no margin');
  return margin;
};

describe('what drives a margin', () => {
  test.each([
    ['buck', buck],
    ['boost with a diode', boost],
    ['buck whose inductor saturates', saturating],
  ])('%s: sensitivities agree with finite differences of the whole evaluation within 1 %%', (_, stage) => {
    const values = new Map(designValues(stage).map((value) => [pathText(value.path), value]));
    // A wider step than the one inside, so that it is not the same difference twice.
    const step = 4e-3;
    let compared = 0;
    for (const { target, drivers } of ledger(stage)) {
      for (const { path, sensitivity } of drivers) {
        const value = values.get(path);
        if (!value || Math.abs(sensitivity) < 1e-3) continue;
        const at = (factor: number): number =>
          marginOf(withValue(stage, value.path, value.value * factor) as Stage, target);
        const difference = (at(1 + step) - at(1 - step)) / (2 * step);
        expect(Math.abs(sensitivity / difference - 1)).toBeLessThan(0.01);
        compared += 1;
      }
    }
    expect(compared).toBeGreaterThan(12);
  });

  test('the value that brings a margin to zero does so', () => {
    const lines = ledger(buck).filter(({ target }) => ['outputRipple', 'inductorRippleRatio'].includes(target));
    expect(lines).toHaveLength(2);
    const values = new Map(designValues(buck).map((value) => [pathText(value.path), value]));
    for (const { target, drivers } of lines) {
      const [strongest] = drivers;
      const value = values.get(strongest?.path ?? '');
      if (!strongest || strongest.zeroAt === null || !value) throw new Error('no driver');
      expect(marginOf(withValue(buck, value.path, strongest.zeroAt) as Stage, target)).toBeCloseTo(0, 4);
    }
  });

  test('inductance and frequency drive the ripple ratio of a loss-free first cut alike: r = V(1−D)/(L f I)', () => {
    const line = ledger(buck).find(({ target }) => target === 'inductorRippleRatio');
    const of = (path: string) => line?.drivers.find((driver) => driver.path === path)?.sensitivity ?? NaN;
    // margin = 1 − r/r₀, so dm/dlnL = r/r₀ = 1 − margin.
    expect(of('parts.inductor.inductance')).toBeCloseTo(1 - (line?.margin ?? NaN), 2);
    expect(of('switchingFrequency')).toBeCloseTo(of('parts.inductor.inductance'), 2);
  });
});

describe('parts at the ends of their spread', () => {
  const toleranced: Stage = {
    ...buck,
    parts: {
      ...buck.parts,
      inductor: { ...(buck.parts.inductor ?? { inductance: 1e-5, resistance: 0 }), tolerance: 0.2 },
      outputCapacitors: buck.parts.outputCapacitors?.map((bank) => ({ ...bank, tolerance: 0.2 })),
    },
  };
  test('the ledger gives the worst of them, which is the stage with those parts', () => {
    const line = ledger(toleranced).find(({ target }) => target === 'outputRipple');
    const { inductor, outputCapacitors } = buck.parts;
    if (!line || !inductor || !outputCapacitors) throw new Error('no line');
    const worst: Stage = {
      ...buck,
      parts: {
        ...buck.parts,
        inductor: { ...inductor, inductance: inductor.inductance * 0.8 },
        outputCapacitors: outputCapacitors.map((bank) => ({ ...bank, capacitance: bank.capacitance * 0.8 })),
      },
    };
    expect(Math.abs((line.margin ?? NaN) - marginOf(worst, 'outputRipple'))).toBeLessThan(1e-9);
    expect(line.margin).toBeLessThan(line.nominal.margin ?? NaN);
    expect(line.nominal.margin).toBeCloseTo(marginOf(buck, 'outputRipple'), 9);
    expect(line.moved.map(({ because }) => because)).toEqual(['tolerance of 20 %', 'tolerance of 20 %']);
  });
  test('a target that only holds with parts at their stated values fails, and says so', () => {
    const line = ledger(toleranced).find(({ target }) => target === 'inductorRippleRatio');
    expect(line).toMatchObject({ pass: false });
    expect(line?.nominal.margin).toBeGreaterThan(0);
  });
  test('a warm winding takes more duty', () => {
    const warm = { ...buck, targets: { ...buck.targets, ambientTemperature: { min: 0, max: 85 } } };
    const line = ledger(warm).find(({ target }) => target === 'dutyMax');
    expect(line?.moved).toEqual([
      {
        path: 'parts.inductor.resistance',
        quantity: 'inductor resistance',
        factor: 1 + 0.00393 * 60,
        because: 'copper from 0\u2009°C to 85\u2009°C',
      },
    ]);
  });
});
