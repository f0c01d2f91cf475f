import { describe, expect, test } from '@jest/globals';
import { stageFromDocument, withValue, type Stage, type Verdict } from '@yundro/core';
import { marginDifferences, valueDifferences } from './differences';

const stage = (edits: readonly (readonly [readonly (string | number)[], unknown])[] = []): Stage => {
  const read = stageFromDocument(
    edits.reduce<unknown>((document, [path, value]) => withValue(document, path, value), {
      format: 'yundro-stage',
      version: 1,
      topology: 'buck',
      targets: { inputVoltage: { min: 10, max: 14 }, outputVoltage: 5, outputCurrent: { max: 3 } },
      parts: {
        inductor: { inductance: 10e-6, resistance: 0.01 },
        outputCapacitors: [{ kind: 'ceramic', capacitance: 1e-5, esr: 1e-3, esl: 0, count: 2 }],
      },
    }),
  );
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
};
const plain = (list: readonly { readonly what: string; readonly values: readonly string[] }[]) =>
  list.map(({ what, values }) => [what, ...values.map((value) => value.replace(/\s/g, ' '))]);

describe('differences between designs', () => {
  test('values that are the same are not shown; others with their part, written for each', () => {
    const first = stage();
    const second = stage([
      [['parts', 'inductor', 'inductance'], 15e-6],
      [['parts', 'outputCapacitors', 0, 'count'], 3],
      [['name'], 'Another'],
    ]);
    expect(plain(valueDifferences([first, second]))).toEqual([
      ['inductance, inductor', '10.00 µH', '15.00 µH'],
      ['number in parallel, output capacitors 1', '2', '3'],
    ]);
    expect(valueDifferences([first, stage()])).toEqual([]);
  });
  test('what one does not have is a dash', () => {
    const with1 = stage([[['parts', 'inductor', 'saturationCurrent'], 8]]);
    expect(plain(valueDifferences([stage(), with1]))).toEqual([['saturation current, inductor', '–', '8.000 A']]);
  });
  test('margins, with what fails', () => {
    const verdict = (target: string, margin: number | null) =>
      ({ target, quantity: target, margin, pass: margin !== null && margin >= 0 }) as Verdict;
    expect(
      marginDifferences([
        [verdict('a', 0.2), verdict('b', 0.5), verdict('c', null)],
        [verdict('a', -0.05), verdict('b', 0.5), verdict('c', 0.3), verdict('d', 0.1)],
      ]),
    ).toEqual([
      { what: 'a', values: ['20 %', '-5.0 %, fails'] },
      { what: 'c', values: ['fails', '30 %'] },
      { what: 'd', values: ['–', '10 %'] },
    ]);
  });
});
