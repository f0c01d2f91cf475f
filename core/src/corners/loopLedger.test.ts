import { describe, expect, test } from '@jest/globals';
import { sizeStage } from '../sizing/size.js';
import { sizeLoop } from '../sizing/sizeLoop.js';
import { withValue } from '../stage/place.js';
import { stageFromDocument } from '../stage/readStage.js';
import { evaluateStage } from './evaluate.js';
import { loopLedger } from './loopLedger.js';
import { judgeLoop } from './loopVerdicts.js';

const read = stageFromDocument({
  format: 'yundro-stage',
  version: 1,
  topology: 'buck',
  switchingFrequency: 400e3,
  control: { scheme: 'voltage-mode' },
  targets: {
    inputVoltage: { min: 10, max: 14 },
    outputVoltage: 5,
    outputCurrent: { min: 0.5, max: 5 },
    outputRipple: 0.05,
    phaseMargin: 50,
    gainMargin: 8,
  },
});
if (!read.ok) throw new Error('not read');
const sized = sizeStage(read.value);
if (!sized.ok) throw new Error('not sized');
const looped = sizeLoop(sized.value);
const evaluated = evaluateStage(looped.evaluation.stage);
if (!evaluated.ok) throw new Error('not evaluated');
const { stage } = evaluated.value.evaluation;

describe('what drives the margins of a loop', () => {
  const lines = loopLedger(evaluated.value, judgeLoop(evaluated.value));
  const line = lines.find(({ target }) => target === 'phaseMargin');
  const [first] = line?.drivers ?? [];
  /** Phase margin at the corner of the line with a value in place of another, degrees. */
  function phaseMarginWith(path: string, value: number): number {
    const place = path
      .split(/[.[\]]+/)
      .filter((step) => step !== '')
      .map((step) => (/^\d+$/.test(step) ? Number(step) : step));
    const changed = stageFromDocument(withValue(stage, place, value));
    const worked = changed.ok ? evaluateStage(changed.value) : undefined;
    if (!worked?.ok) throw new Error('not worked');
    const at = judgeLoop(worked.value).corners.find(
      ({ corner }) =>
        corner.inputVoltage === line?.corner.inputVoltage && corner.outputCurrent === line.corner.outputCurrent,
    );
    if (at?.loop.kind !== 'solved' || at.loop.phaseMargin.kind !== 'found') throw new Error('no margin');
    return at.loop.phaseMargin.value;
  }

  test('every line has its three strongest, the strongest first', () => {
    for (const { drivers, margin } of lines)
      if (margin !== null) {
        expect(drivers).toHaveLength(3);
        const sizes = drivers.map(({ sensitivity }) => Math.abs(sensitivity));
        expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
      }
  });
  test('a sensitivity is what a small change does', () => {
    const { path = '', value = NaN, sensitivity = NaN } = first ?? {};
    const step = 0.005;
    const change = (phaseMarginWith(path, value * (1 + step)) - phaseMarginWith(path, value * (1 - step))) / 50;
    expect(change / (2 * step)).toBeCloseTo(sensitivity, 2);
  });
  test('at the value that is named the margin is gone', () => {
    const named = line?.drivers.find(({ zeroAt }) => zeroAt !== null);
    if (!named || named.zeroAt === null) throw new Error('none named');
    expect(phaseMarginWith(named.path, named.zeroAt)).toBeCloseTo(50, 2);
  });
});
