import { describe, expect, test } from '@jest/globals';
import { valueAt, withValue } from '../stage/place.js';
import { stageFromDocument } from '../stage/readStage.js';
import type { Stage } from '../stage/schema.js';
import { sizeStage } from '../sizing/size.js';
import { cornerMargins, evaluateStage } from './evaluate.js';
import { ledgerOf } from './ledger.js';
import { leastMargin } from './leastMargin.js';
import { unjudgedLoop } from './loopVerdicts.js';
import { nextSteps } from './nextSteps.js';
import { withRemedies } from './remedies.js';

const stageFrom = (document: unknown): Stage => {
  const read = stageFromDocument(document);
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
};

/** A sized buck whose targets are changed afterwards, so that its parts no longer meet them. */
function changed(edits: Readonly<Record<string, number>>): Stage {
  const sized = sizeStage(
    stageFrom({
      format: 'yundro-stage',
      version: 1,
      topology: 'buck',
      switchingFrequency: 400e3,
      targets: {
        inputVoltage: { min: 10, max: 14 },
        outputVoltage: 5,
        outputCurrent: { min: 0.5, max: 5 },
        outputRipple: 0.05,
        inputRipple: 0.3,
        inductorRippleRatio: 0.4,
        switchingFrequency: { min: 300e3, max: 450e3 },
      },
    }),
  );
  if (!sized.ok) throw new Error('not sized');
  return stageFrom(
    Object.entries(edits).reduce<unknown>(
      (document, [key, value]) => withValue(document, ['targets', key], value),
      sized.value.evaluation.stage,
    ),
  );
}

function stepsFor(stage: Stage, target: string) {
  const evaluated = evaluateStage(stage);
  const line = evaluated.ok ? ledgerOf(evaluated.value).find((one) => one.target === target) : undefined;
  if (!line) throw new Error('no such line');
  return { line, steps: nextSteps(stage, line) };
}

/** The margin of a target with one value changed, worked apart from the steps. */
function marginWith(stage: Stage, path: readonly (string | number)[], value: number, target: string) {
  const evaluated = evaluateStage(stageFrom(withValue(stage, path, value)));
  return evaluated.ok ? evaluated.value.evaluation.verdicts.find((one) => one.target === target)?.margin : undefined;
}

describe('the next steps of a target that fails', () => {
  const stage = changed({ inputRipple: 0.12 });
  const { line, steps } = stepsFor(stage, 'inputRipple');

  test('each mends it, and what it says is what the stage does with it', () => {
    expect(line.pass).toBe(false);
    expect(steps.length).toBeGreaterThan(1);
    for (const { path, to, from, mended } of steps) {
      expect(valueAt(stage, path)).toBe(from);
      expect(mended.before).toBeCloseTo(line.nominal.margin ?? NaN, 9);
      expect(mended.after).toBeGreaterThanOrEqual(0);
      expect(marginWith(stage, path, to, 'inputRipple')).toBeCloseTo(mended.after ?? NaN, 9);
    }
  });
  test('of capacitors in parallel the number is moved, by as few as do', () => {
    const step = steps.find(({ path }) => path.at(-1) === 'count');
    if (!step) throw new Error('no step of the number');
    expect(step.path).toEqual(['parts', 'inputCapacitors', 0, 'count']);
    expect(marginWith(stage, step.path, step.to - 1, 'inputRipple')).toBeLessThan(0.01);
  });
  test('one that breaks another target comes last, and says which', () => {
    const faster = steps.find(({ path }) => path[0] === 'switchingFrequency');
    expect(faster).toBeDefined();
    expect(faster?.clean).toBe(false);
    expect(faster?.costs[0]).toMatchObject({ target: 'switchingFrequencyMax' });
    expect(faster?.costs[0]?.after).toBeLessThan(0);
    expect(steps.at(-1)).toBe(faster);
    expect(steps[0]?.clean).toBe(true);
  });
});

test('what is not looked for to the end has no remedies, rather than none that help', () => {
  const evaluated = evaluateStage(changed({ inputRipple: 0.12 }));
  if (!evaluated.ok) throw new Error('not evaluated');
  const ripple = (goesOn: () => boolean) =>
    withRemedies(evaluated.value, goesOn).find(({ target }) => target === 'inputRipple');
  expect(ripple(() => true)?.remedies?.length).toBeGreaterThan(0);
  expect(ripple(() => false)?.remedies).toBeUndefined();
  // Given up half-way: what was found by then is told.
  let asked = 0;
  const some = ripple(() => (asked += 1) < 4)?.remedies ?? [];
  expect(some.length).toBeLessThan(ripple(() => true)?.remedies?.length ?? 0);
});

test('a target that is tight is to be so no more', () => {
  const stage = changed({ inductorRippleRatio: 0.35 });
  const { line, steps } = stepsFor(stage, 'inductorRippleRatio');
  expect(line.pass && (line.margin ?? 1) < 0.1).toBe(true);
  expect(steps.length).toBeGreaterThan(0);
  for (const { mended } of steps) expect(mended.after).toBeGreaterThanOrEqual(0.1);
});

describe('what is nearest to failing at a corner', () => {
  const rule = (target: string, required: number) => ({
    target,
    quantity: target,
    unit: 'V' as const,
    sense: 'at-most' as const,
    required,
    figure: '',
  });
  test('the least of its margins; what gives no number fails', () => {
    const a = { rule: rule('a', 10), actual: 8 };
    const b = { rule: rule('b', 10), actual: 9 };
    expect(leastMargin([a, b])).toEqual({ target: 'b', quantity: 'b', margin: 0.1 });
    expect(leastMargin([b, a])?.target).toBe('b');
    expect(leastMargin([a, { rule: rule('c', 1), actual: undefined }])?.target).toBe('a');
    expect(leastMargin([a, { rule: rule('d', 1), actual: { reason: 'none' } }])).toMatchObject({ margin: null });
    expect(leastMargin([])).toBeUndefined();
  });
  test('over a stage the least of all corners is the worst verdict', () => {
    const evaluated = evaluateStage(changed({ inputRipple: 0.12 }));
    if (!evaluated.ok) throw new Error('not evaluated');
    const margins = cornerMargins(evaluated.value);
    expect(margins).toHaveLength(evaluated.value.corners.length);
    const worst = Math.min(...evaluated.value.evaluation.verdicts.map(({ margin }) => margin ?? -Infinity));
    expect(Math.min(...margins.map((one) => one?.margin ?? NaN))).toBeCloseTo(worst, 12);
  });
});

describe('a loop that is not judged', () => {
  const judged = (over: object) => ({ corners: [], verdicts: [], limits: [], ...over }) as never;
  const of = (scheme: string) => ({ control: { scheme } }) as never;
  test('says why; one that is not wanted says nothing', () => {
    expect(unjudgedLoop(of('voltage-mode'), judged({ reason: 'a compensator is missing' }))).toBe(
      'a compensator is missing',
    );
    expect(unjudgedLoop(of('voltage-mode'), judged({}))).toBe('no corner has an operating point');
    expect(unjudgedLoop(of('open-loop'), judged({ reason: 'none' }))).toBeUndefined();
    expect(unjudgedLoop(of('voltage-mode'), judged({ verdicts: [{ target: 'loopStability' }] }))).toBeUndefined();
  });
});
