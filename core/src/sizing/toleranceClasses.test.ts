import { describe, expect, test } from '@jest/globals';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { regulatedOutput } from '../controller/divider.js';
import { evaluateStage } from '../corners/evaluate.js';
import { sizeStage } from './size.js';
import { sizeLoop } from './sizeLoop.js';
import { toleranceClasses } from './toleranceClasses.js';

function stage(tolerance: number, control: object = {}, over: object = {}): Stage {
  const read = stageFromDocument({
    format: 'yundro-stage',
    version: 1,
    topology: 'buck',
    switchingFrequency: 400e3,
    targets: {
      inputVoltage: { min: 10, max: 14 },
      outputVoltage: 3.3,
      outputVoltageTolerance: tolerance,
      outputCurrent: { min: 0.5, max: 5 },
      outputRipple: 0.02,
    },
    control: {
      scheme: 'voltage-mode',
      reference: 0.8,
      rampAmplitude: 1,
      compensator: { network: 'type-3', components: { rUpper: 75e3, rLower: 24e3 } },
      ...control,
    },
    ...over,
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
}
const chosenOf = (tolerance: number, ripple: number, control: object = {}) => {
  const one = stage(tolerance, control);
  // One corner, its output where the divider puts it.
  const point = { outputVoltage: regulatedOutput(one), outputRipple: ripple };
  const worked = { evaluation: { stage: one }, corners: [{ result: { kind: 'solved', point } }] } as never;
  return toleranceClasses(worked);
};
const chosen = (tolerance: number, ripple: number, control: object = {}) => {
  const { control: found, choices } = chosenOf(tolerance, ripple, control);
  return [found.tolerances?.resistors, found.referenceTolerance, choices.length];
};

describe('classes of resistors and reference', () => {
  // δ = δref + 2 δR (1 − Vref/Vout): 0.8 V of 3.3 V, so 2.515 % with the usual 1 % of both.
  test.each([
    ['usual parts where they fit', 0.03, 0, [0.01, 0.01, 2]],
    ['finer resistors first', 0.02, 0, [0.005, 0.01, 2]],
    ['the ripple counts as well', 0.02, 0.02, [0.001, 0.01, 2]],
    ['then a finer reference', 0.01, 0, [0.001, 0.005, 2]],
    ['the finest where none fits', 0.001, 0, [0.001, 0.0025, 2]],
  ])('%s', (_, tolerance, ripple, expected) => {
    expect(chosen(tolerance, ripple)).toEqual(expected);
  });
  test('where none fits, the choice says so', () => {
    const rules = (tolerance: number) => chosenOf(tolerance, 0).choices.map(({ rule }) => rule);
    expect(rules(0.02).every((rule) => rule.includes('so that the output stays within 2.00 %'))).toBe(true);
    expect(rules(0.001).every((rule) => rule.includes('even so not always within 0.100 %'))).toBe(true);
  });
  test('what is stated stays, and is no choice', () => {
    expect(chosen(0.02, 0, { referenceTolerance: 0.015, tolerances: { resistors: 0.001 } })).toEqual([0.001, 0.015, 0]);
  });
});

describe('the output is what the divider makes it', () => {
  test('operating points stand at its voltage, and the target judges how far that is off', () => {
    const off = stage(0.02, { compensator: { network: 'type-3', components: { rUpper: 31e3, rLower: 10e3 } } });
    const sized = sizeStage(off);
    if (!sized.ok) throw new Error('not sized');
    const { corners, evaluation } = sized.value;
    const voltage = 0.8 * (1 + 3.1);
    expect(regulatedOutput(off)).toBeCloseTo(voltage, 12);
    for (const { result } of corners)
      expect(result.kind === 'solved' && result.point.outputVoltage).toBeCloseTo(voltage, 6);
    const by = (target: string) => evaluation.verdicts.find((verdict) => verdict.target === target);
    const ripple = Math.max(...corners.map(({ result }) => (result.kind === 'solved' ? result.point.outputRipple : 0)));
    const random = 0.01 + 0.02 * (1 - 0.8 / voltage);
    // Off by 0.6 %, the reference and the resistors at their worst, and half the ripple: 20 mΩ and all of it 3.6 %.
    const worst = by('outputVoltageTolerance');
    expect(worst?.worst).toBeCloseTo(3.3 / 3.3 - voltage / 3.3 + random + ripple / 2 / 3.3, 4);
    expect(worst?.pass).toBe(false);
    expect(worst?.quantity).toContain('with 1.00 % reference and 1.00 % resistors assumed');
    const likely = by('outputVoltageLikely');
    expect(likely?.worst).toBeLessThan(worst?.worst ?? NaN);
    expect(evaluation.notJudged).not.toContain('output voltage tolerance');
  });
  test.each([
    ['voltage mode', { compensator: undefined }],
    ['constant on-time', { scheme: 'constant-on-time', compensator: undefined }],
    [
      // Its light load settles 3 mV beside what the divider says.
      'constant on-time, far from its divider at light load',
      { scheme: 'constant-on-time', reference: 0.6, compensator: undefined },
      {
        inputVoltage: { min: 9, max: 18 },
        outputVoltage: 1.8,
        outputCurrent: { min: 0.05, max: 6 },
        loadStep: { from: 1, to: 4, deviation: 0.09, recoveryTime: 5e-5 },
      },
    ],
  ])(
    'size, %s: the pair it chooses keeps the target with everything at its worst',
    (_, control, targets: object = {}) => {
      const usual = stage(0.02, control);
      const sized = sizeStage({ ...usual, targets: { ...usual.targets, ...targets } });
      if (!sized.ok) throw new Error('not sized');
      const { evaluation } = sizeLoop(sized.value);
      const verdict = evaluation.verdicts.find(({ target }) => target === 'outputVoltageTolerance');
      expect(verdict?.pass).toBe(true);
      expect(verdict?.quantity).not.toContain('assumed');
      // What it says of the whole is what the stage it hands over says.
      const again = evaluateStage(evaluation.stage);
      const same =
        again.ok && again.value.evaluation.verdicts.find(({ target }) => target === 'outputVoltageTolerance');
      expect(same && same.worst).toBeCloseTo(verdict?.worst ?? NaN, 12);
    },
  );
});
