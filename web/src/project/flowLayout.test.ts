import { expect, test } from '@jest/globals';
import type { FlowThrough } from '@yundro/core';
import { placed, thickness } from './flowLayout';

const flow = (name: string, feeder?: string): FlowThrough => ({
  name,
  feeder,
  inputVoltage: 12,
  outputCurrent: 1,
  input: 10,
  output: 9,
  loss: 1,
  atSource: 1,
  spare: 1,
});

test('each stage stands in the column after its feeder, and a feeder in the middle of what it feeds', () => {
  const of = new Map(
    placed([flow('bus'), flow('a', 'bus'), flow('b', 'bus'), flow('c', 'b'), flow('alone')]).map((one) => [
      one.flow.name,
      [one.column, one.row],
    ]),
  );
  expect(Object.fromEntries(of)).toEqual({ bus: [0, 0.5], a: [1, 0], b: [1, 1], c: [2, 1], alone: [0, 2] });
  // What is fed by a stage without a flow stands by itself.
  expect(placed([flow('a', 'broken')])).toMatchObject([{ column: 0, row: 0 }]);
});

test('lines are as thick as the power through them, and none vanishes', () => {
  expect(thickness(50, 100)).toBeCloseTo(thickness(100, 100) / 2, 9);
  expect(thickness(0, 100)).toBeGreaterThan(1);
  expect(thickness(0, 0)).toBeGreaterThan(1);
});
