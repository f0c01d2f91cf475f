import { describe, expect, test } from '@jest/globals';
import { evaluateStage } from '../corners/evaluate.js';
import { verdictWord } from '../corners/verdict.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPointSchema } from '../steady/operatingPoint.js';
import { figureKeys, valueOf, workingOf } from '../working/working.js';
import { sizeStage } from './size.js';

const hull = (part: object = {}) => {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    name: 'Hull bus',
    topology: 'buck',
    targets: {
      inputVoltage: { min: 20, nominal: 25.6, max: 29.2 },
      outputVoltage: 12,
      outputCurrent: { min: 0.1, max: 8 },
      outputRipple: 0.06,
      inputRipple: 0.3,
      inductorRippleRatio: 0.35,
    },
    switchingFrequency: 400e3,
    ...part,
  });
  if (!read.ok) throw new Error('not valid');
  return read.value;
};
const sized = (part: object = {}, options = {}) => {
  const result = sizeStage(hull(part), options);
  if (!result.ok) throw new Error('not sized');
  return result.value;
};

describe('from bare targets to a stage', () => {
  const { evaluation, choices, complete, corners } = sized();

  test('the ideal duty at the highest input is 12/29.2, and the reported one slightly higher, by the losses', () => {
    const atMax = evaluation.operatingPoints.filter((p) => p.inputVoltage === 29.2 && p.outputCurrent === 8);
    expect(atMax).toHaveLength(1);
    const duty = atMax[0]?.duty ?? NaN;
    expect(12 / 29.2).toBeCloseTo(0.411, 3);
    expect(duty).toBeGreaterThan(12 / 29.2);
    expect(duty).toBeLessThan(0.42);
  });
  test('inductance comes from the ripple ratio at the highest input, rounded up to a preferred value', () => {
    const choice = choices.find(({ path }) => path === 'parts.inductor.inductance');
    // 12 V (1 − 0.41096) / (400 kHz · 0.35 · 8 A), by hand.
    expect(choice?.form?.value).toBeCloseTo(6.3112e-6, 9);
    expect(choice?.value).toBe(6.8e-6);
    expect(evaluation.stage.parts.inductor?.inductance).toBe(6.8e-6);
  });
  test('the stage passes its own evaluation', () => {
    expect(evaluation.verdicts.filter(({ pass }) => !pass)).toEqual([]);
    const again = evaluateStage(evaluation.stage);
    expect(again.ok && again.value.evaluation.verdicts).toEqual(evaluation.verdicts);
  });
  test('every operating point has the promised fields and every corner is worked', () => {
    expect(evaluation.operatingPoints).toHaveLength(15);
    for (const point of evaluation.operatingPoints) expect(operatingPointSchema.safeParse(point).success).toBe(true);
  });

  test('every reported number has a working with formula, numbers, source and corner', () => {
    const corner = corners.at(-1)?.result;
    if (corner?.kind !== 'solved') throw new Error('no corner');
    const keys = figureKeys(corner);
    const leaves = JSON.stringify(corner.point).match(/:-?\d/g)?.length ?? 0;
    expect(keys).toHaveLength(leaves);
    for (const key of keys) {
      const working = workingOf(key, complete, corner);
      expect(working.value).toBe(valueOf(corner, key));
      expect(working.formula).not.toBe('');
      expect(working.inputs.length).toBeGreaterThan(0);
      expect(working.source).not.toBe('');
      expect(working.corner).toEqual({ inputVoltage: 29.2, outputCurrent: corner.point.outputCurrent });
    }
    for (const { target, figure } of evaluation.verdicts)
      expect([target, keys.includes(figure)]).toEqual([target, true]);
  });
  test('the shares shown in a working add up to the number', () => {
    const corner = corners.at(-1)?.result;
    if (corner?.kind !== 'solved') throw new Error('no corner');
    const sum = (key: string): number =>
      workingOf(key, complete, corner).inputs.reduce((total, { value }) => total + value, 0);
    expect(sum('outputVoltage')).toBeCloseTo(12, 9);
    expect(sum('losses.total')).toBeCloseTo(corner.point.losses['total'] ?? NaN, 12);
    const squares = workingOf('inductorCurrent.rms', complete, corner).inputs.reduce(
      (total, { value }) => total + value * value,
      0,
    );
    expect(Math.sqrt(squares)).toBeCloseTo(corner.point.inductorCurrent.rms, 9);
  });
});

describe('auto and pinned', () => {
  test('what is pinned stays when everything else is chosen anew', () => {
    const inductor = { inductance: 10e-6, resistance: 0.009 };
    const { evaluation } = sized(
      { parts: { inductor, highSide: { onResistance: 0.5 } }, pinned: ['parts.inductor'] },
      { keepPresent: false },
    );
    expect(evaluation.stage.parts.inductor).toEqual(inductor);
    expect(evaluation.stage.parts.highSide?.onResistance).not.toBe(0.5);
    // The frequency was given, but not pinned.
    expect(evaluation.stage.switchingFrequency).toBe(400e3);
  });
  test('a harder ripple target gets more capacitance', () => {
    const capacitance = (limit: number): number => {
      const { targets } = hull();
      const [bank] =
        sized({ targets: { ...targets, outputRipple: limit } }).evaluation.stage.parts.outputCapacitors ?? [];
      return (bank?.capacitance ?? 0) * (bank?.count ?? 0);
    };
    expect(capacitance(0.005)).toBeGreaterThan(3 * capacitance(0.06));
  });
  test('four phases: each carries a quarter, and all targets hold', () => {
    const { evaluation } = sized({
      phases: 4,
      targets: { ...hull().targets, outputVoltage: 0.9, outputCurrent: { min: 2, max: 60 } },
    });
    expect(evaluation.verdicts.every(({ pass }) => pass)).toBe(true);
    expect(evaluation.operatingPoints.at(-1)?.inductorCurrent.average).toBeCloseTo(15, 9);
  });
});

describe('verdicts', () => {
  test('a saturating inductor fails by name, with a negative margin at the worst corner', () => {
    const { evaluation } = sized({
      parts: { inductor: { inductance: 6.8e-6, resistance: 0.008, saturationCurrent: 9 } },
    });
    const verdict = evaluation.verdicts.find(({ target }) => target === 'inductorSaturation');
    expect(verdict && verdictWord(verdict)).toBe('fails');
    expect(verdict?.margin).toBeCloseTo((9 - (verdict?.worst ?? NaN)) / 9, 12);
    expect(verdict?.corner).toMatchObject({ inputVoltage: 29.2, outputCurrent: 8 });
  });
  test('a corner without an operating point fails the duty with its reason, not with a number', () => {
    const { evaluation } = sized({ control: { dutyMax: 0.5 } });
    const verdict = evaluation.verdicts.find(({ target }) => target === 'dutyMax');
    expect(verdict).toMatchObject({ pass: false, worst: null, margin: null, corner: { inputVoltage: 20 } });
    expect(verdict?.reason).toContain('at a duty ratio of 0.500, the limit of the duty ratio');
  });
  test('what cannot be judged yet is said', () => {
    const { evaluation } = sized({ targets: { ...hull().targets, phaseMargin: 50 } });
    expect(evaluation.notJudged).toEqual(['phase margin']);
  });
});
