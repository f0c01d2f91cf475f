import { describe, expect, test } from '@jest/globals';
import { complete, CURRENT, VOLTAGE } from '../../testing/loopStage.js';
import { withValue, type StagePath } from '../stage/place.js';
import { completeStage } from '../stage/completeStage.js';
import type { Stage } from '../stage/schema.js';
import { nextSteps } from './nextSteps.js';
import { transientLedger } from './transientLedger.js';
import { judgeTransient, stepMargins } from './transientVerdicts.js';

const targets = {
  inputVoltage: { min: 11, max: 13 },
  outputVoltage: 3.3,
  outputCurrent: { min: 1, max: 12 },
  loadStep: { from: 4, to: 12, slewRate: 5e6, deviation: 0.3, recoveryTime: 1e-4 },
};
const curved = {
  inductor: { inductance: 2.2e-6, resistance: 0.005, saturationCurrent: 20, saturationDrop: 0.3, tolerance: 0.2 },
};
const given = complete({ targets }, VOLTAGE, curved);
const { stage } = given;

const margins = (one: Stage): ReadonlyMap<string, number> => {
  const made = completeStage(one);
  if (!made.ok) throw new Error('parts are missing');
  return new Map(judgeTransient(made.value).verdicts.map(({ target, margin }) => [target, margin ?? NaN]));
};

describe('verdicts on a load step', () => {
  const judged = judgeTransient(given);
  test('are of twenty runs: up and down at each input corner, then eight instants where it is worst', () => {
    const { steps, verdicts } = judged;
    expect(steps).toHaveLength(3 * 2 + 2 * 7);
    expect(new Set(steps.filter(({ up }) => up).map(({ instant }) => instant)).size).toBe(8);
    const [deviation] = verdicts;
    expect(deviation?.worst).toBe(Math.max(...steps.map((step) => step.deviation)));
    // A trailing-edge dip moves with the instant at which the step comes.
    const dips = steps.filter(({ up, corner }) => up && corner.inputVoltage === 11).map((step) => step.deviation);
    expect(Math.max(...dips) / Math.min(...dips)).toBeGreaterThan(1.02);
  });
  test('are told of at the corners of the grid: at the input of each step, and the load nearest to where it ends', () => {
    const corners = [11, 12, 13].flatMap((inputVoltage) =>
      [1, 5, 12].map((outputCurrent) => ({ inputVoltage, outputCurrent })),
    );
    const found = stepMargins(stage, judged.steps, corners);
    // Steps end at 4 A and at 12 A.
    expect(found.map((one) => one !== undefined)).toEqual([11, 12, 13].flatMap(() => [false, true, true]));
    const margins = found.flatMap((one) => (one?.margin == null ? [] : [one.margin]));
    expect(Math.min(...margins)).toBe(Math.min(...judged.verdicts.map(({ margin }) => margin ?? NaN)));
  });
  test('say that the inductance was held, where the inductor has a curve', () => {
    expect(judged.verdicts[0]?.note).toMatch(/with the inductance at no current/);
    const straight = complete({ targets }, VOLTAGE);
    expect(judgeTransient(straight).verdicts[0]?.note).not.toMatch(/inductance/);
  });
  test('a deep saturation does not make a deviation smaller', () => {
    const soft = { inductor: { inductance: 2.2e-6, resistance: 0.005, saturationCurrent: 6, saturationDrop: 0.3 } };
    expect(judgeTransient(complete({ targets }, VOLTAGE, soft)).verdicts[0]?.worst).toBe(
      judgeTransient(complete({ targets }, VOLTAGE)).verdicts[0]?.worst,
    );
  });
});

describe('transient lines of the ledger in full', () => {
  const [deviation] = transientLedger(stage, judgeTransient(given));
  if (!deviation) throw new Error('no line');
  const pathOf = (path: string): StagePath =>
    path
      .split(/[.[\]]+/)
      .filter((step) => step !== '')
      .map((step) => (/^\d+$/.test(step) ? Number(step) : step));

  test('the strongest drivers of a deviation are those a designer expects, each the right way', () => {
    const all = deviation.drivers.map(({ path, sensitivity }) => [path, Math.sign(sensitivity)] as const);
    const right: Readonly<Record<string, number>> = {
      'parts.inductor.inductance': -1,
      'parts.outputCapacitors[0].capacitance': 1,
      'parts.outputCapacitors[0].esr': -1,
      'control.rampAmplitude': -1,
      'control.compensator.components.rZero': 1,
      'control.compensator.components.cFeedforward': 1,
      switchingFrequency: 1,
    };
    expect(all).toHaveLength(3);
    for (const [path, sign] of all) expect([path, right[path]]).toEqual([path, sign]);
  });
  test('at the value that is named the margin is gone', () => {
    const driver = deviation.drivers.find(({ zeroAt }) => zeroAt !== null);
    if (!driver || driver.zeroAt === null) throw new Error('no value is named');
    const moved = withValue(stage, pathOf(driver.path), driver.zeroAt) as Stage;
    expect(Math.abs(margins(moved).get('loadStepDeviation') ?? NaN)).toBeLessThan(0.02);
  });
  test('a tolerance of the inductor is taken at the end that is worse', () => {
    expect(deviation.moved).toMatchObject([{ path: 'parts.inductor.inductance', factor: 1.2 }]);
    expect(deviation.margin).toBeLessThan(deviation.nominal.margin ?? NaN);
  });
});

test('cut short, a line has all its drivers or none', () => {
  const judged = judgeTransient(given);
  const [whole] = transientLedger(stage, judged);
  for (const simulations of [0, 5, 12]) {
    let left = simulations;
    const lines = transientLedger(stage, judged, () => left-- > 0);
    expect(lines.map(({ target }) => target)).toEqual(judged.verdicts.map(({ target }) => target));
    for (const { drivers, moved } of lines) expect([drivers, moved]).toEqual([[], []]);
  }
  expect(whole?.drivers).toHaveLength(3);
}, 60_000);

test('what mends a load step is found by simulating it', () => {
  const tight = { ...targets, loadStep: { ...targets.loadStep, deviation: 0.22 } };
  const made = complete({ targets: tight }, CURRENT);
  const [line] = transientLedger(made.stage, judgeTransient(made));
  if (!line) throw new Error('no line');
  expect(line.pass).toBe(false);
  const [step] = nextSteps(made.stage, line);
  if (!step) throw new Error('nothing mends it');
  const after = margins(withValue(made.stage, step.path, step.to) as Stage).get('loadStepDeviation');
  expect(after).toBeCloseTo(step.mended.after ?? NaN, 9);
  expect(after).toBeGreaterThan(0);
}, 60_000);
