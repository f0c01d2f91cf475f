import { describe, expect, test } from '@jest/globals';
import { evaluateStage } from '../corners/evaluate.js';
import { verdictWord } from '../corners/verdict.js';
import { stageFromDocument } from '../stage/readStage.js';
import { operatingPointSchema } from '../steady/operatingPoint.js';
import { figureKeys, valueOf, workingOf } from '../working/working.js';
import { bankModel } from '../parts/capacitorBank.js';
import { dampedInputFilter } from './inputFilter.js';
import { assumedCrossover } from '../rules/crossover.js';
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
    expect(evaluation.operatingPoints.at(-1)?.inductorCurrent.average).toBeCloseTo(15, 8);
  });
});

describe('a load step', () => {
  const step = { from: 2, to: 6, deviation: 0.1 };
  test('asks for the larger of what slope and bandwidth need, and the choice says which', () => {
    const { evaluation, choices } = sized({ targets: { ...hull().targets, loadStep: step } });
    const [bank] = evaluation.stage.parts.outputCapacitors ?? [];
    if (!bank) throw new Error('no bank');
    // 4 A / (2π · 40 kHz · 0.1 V), by hand; the slope of 6.8 µH into 8 V asks for 68 µF.
    expect(bankModel(bank, 12).capacitance).toBeGreaterThanOrEqual(159.15e-6);
    expect(bankModel(bank, 12).capacitance).toBeLessThan(1.5 * 159.15e-6);
    const choice = choices.find(({ path }) => path.startsWith('parts.outputCapacitors'));
    expect(choice?.rule).toContain('load step within the bandwidth of the loop');
    expect(choice?.form?.value).toBeCloseTo(159.15e-6, 8);
  });
  test('of a boost is met by a loop that keeps below its right-half-plane zero', () => {
    const targets = { ...hull().targets, outputVoltage: 48, outputCurrent: { min: 0.1, max: 2 }, outputRipple: 0.5 };
    const stage = hull({
      topology: 'boost',
      targets: { ...targets, loadStep: { from: 0.5, to: 1.5, deviation: 0.5 } },
    });
    const result = sizeStage(stage);
    if (!result.ok) throw new Error('not sized');
    const { inductance } = result.value.complete.inductor;
    // D′ = 20/48 at the lowest input: R D′²/(2πL) over five.
    const crossover = (24 * (20 / 48) ** 2) / (2 * Math.PI * inductance) / 5;
    expect(assumedCrossover(stage, inductance, 400e3)).toBeCloseTo(Math.min(crossover, 40e3), 3);
    const [bank] = result.value.evaluation.stage.parts.outputCapacitors ?? [];
    expect(bank && bankModel(bank, 48).capacitance).toBeGreaterThanOrEqual(1 / (2 * Math.PI * crossover * 0.5) - 1e-9);
  });
});

describe('an input filter', () => {
  test('gets its damping from the published optimum, and leaves the input capacitors what they need', () => {
    const plain = sized({ phases: 2 }).evaluation.stage;
    const inputFilter = dampedInputFilter(plain);
    if (!inputFilter?.damping) throw new Error('no filter');
    const [bank] = plain.parts.inputCapacitors ?? [];
    if (!bank) throw new Error('no input capacitors');
    // The corner, a tenth of the switching frequency or below it, with the capacitance at its bias.
    const corner = 1 / (2 * Math.PI * Math.sqrt(inputFilter.inductance * bankModel(bank, 20).capacitance));
    expect(corner).toBeLessThanOrEqual(40e3);
    expect(corner).toBeGreaterThan(30e3);
    const filtered = sizeStage({ ...plain, parts: { ...plain.parts, inputFilter } }, { keepPresent: false });
    if (!filtered.ok) throw new Error('not sized');
    expect(filtered.value.evaluation.verdicts.every(({ pass }) => pass)).toBe(true);
    expect(filtered.value.evaluation.stage.parts.inputCapacitors?.[0]?.count).toBeLessThanOrEqual(bank.count + 1);
  });
  test('a ripple that no bank quiets is judged, not chased', () => {
    const { evaluation } = sized({ targets: { ...hull().targets, outputRipple: 1e-6 } });
    expect(evaluation.stage.parts.outputCapacitors?.[0]?.count).toBeLessThanOrEqual(200);
    expect(evaluation.verdicts.find(({ target }) => target === 'outputRipple')?.pass).toBe(false);
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
  test('an inductor driven into saturation fails for its peak, which is higher than a constant inductance would give', () => {
    const part = { inductance: 6.8e-6, resistance: 0.008, saturationCurrent: 9.6 };
    const peakOf = (inductor: object) => {
      const { evaluation, complete, corners } = sized({ parts: { inductor } });
      const solved = corners.at(-1)?.result;
      if (solved?.kind !== 'solved') throw new Error('no point');
      const verdict = evaluation.verdicts.find(({ target }) => target === 'inductorSaturation');
      return { verdict, working: workingOf('inductorCurrent.peak', complete, solved) };
    };
    const constant = peakOf(part);
    const saturating = peakOf({ ...part, saturationDrop: 0.4 });
    expect(constant.verdict?.pass).toBe(true);
    expect(saturating.verdict).toMatchObject({ pass: false, quantity: 'inductor peak current', required: 9.6 });
    expect(saturating.verdict?.worst).toBeGreaterThan((constant.verdict?.worst ?? NaN) * 1.05);
    expect(saturating.working.value).toBeCloseTo(saturating.verdict?.worst ?? NaN, 9);
    expect(saturating.working.formula).toContain('\\Delta\\lambda');
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
