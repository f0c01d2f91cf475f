import { describe, expect, test } from '@jest/globals';
import type { Verdict } from '@yundro/core';
import { groupsOf, lineOf, markOf, markOfMargin, ofStation, smaller, unjudgedLine, worstLine } from './lines';

const verdict = (target: string, margin: number | null): Verdict => ({
  target,
  quantity: target,
  unit: 'V',
  sense: 'at-most',
  required: 1,
  worst: margin === null ? null : 1 - margin,
  margin,
  pass: margin !== null && margin >= 0,
  corner: { inputVoltage: 12, outputCurrent: 1, temperature: 25 },
  figure: target,
});
const lines = [
  verdict('outputRipple', 0.7),
  verdict('inputRipple', 0.05),
  verdict('inductorRippleRatio', 0.01),
  verdict('phaseMargin', -0.2),
  verdict('dutyMax', 0.3),
  verdict('highSideJunction', null),
].map((one) => lineOf(one));

describe('lines of the ledger', () => {
  const groups = groupsOf(lines, [unjudgedLine('load step')]);
  const names = (list: readonly { readonly verdict: Verdict }[]) => list.map((one) => one.verdict.target);
  test('stand in groups, the smallest margin first in each', () => {
    expect(names(groups.fails)).toEqual(['highSideJunction', 'phaseMargin']);
    expect(names(groups.tight)).toEqual(['inductorRippleRatio', 'inputRipple']);
    expect(names(groups.holds)).toEqual(['dutyMax', 'outputRipple']);
    expect(groups.unjudged).toEqual([expect.objectContaining({ quantity: 'load step', station: 'transient' })]);
  });
  test('belong to the station whose fields decide them', () => {
    const of = (station: Parameters<typeof ofStation>[1]) => ofStation(groups, station);
    expect(names(of('capacitors').tight)).toEqual(['inputRipple']);
    expect(names(of('capacitors').holds)).toEqual(['outputRipple']);
    expect(names(of('inductor').tight)).toEqual(['inductorRippleRatio']);
    expect(names(of('switches').fails)).toEqual(['highSideJunction']);
    expect(names(of('loop').fails)).toEqual(['phaseMargin']);
    expect(of('transient').unjudged).toHaveLength(1);
    expect(names(of('stage').holds)).toEqual(['dutyMax']);
  });
  test('give a station the mark of what presses most', () => {
    expect(markOf(groups)).toBe('fails');
    expect(markOf(ofStation(groups, 'inductor'))).toBe('tight');
    expect(markOf(ofStation(groups, 'stage'))).toBe('holds');
    expect(markOf(ofStation(groups, 'efficiency'))).toBeUndefined();
    expect(markOf({ ...groups, fails: [] })).toBe('not judged');
  });
  test('name the one that presses most', () => {
    expect(worstLine(groups)?.verdict.target).toBe('highSideJunction');
    expect(worstLine({ ...groups, fails: [] })?.verdict.target).toBe('inductorRippleRatio');
    expect(worstLine({ ...groups, fails: [], tight: [] })?.verdict.target).toBe('dutyMax');
  });
  test('what nothing is known to judge says so, and where to go', () => {
    expect(unjudgedLine('colour')).toMatchObject({ quantity: 'colour', station: 'targets' });
    expect(unjudgedLine('phase margin').reason).toContain('no loop yet');
  });
});

describe('corners', () => {
  test('wear the mark of their margin', () => {
    expect([null, -0.1, 0, 0.09, 0.1].map(markOfMargin)).toEqual(['fails', 'fails', 'tight', 'tight', 'holds']);
  });
  test('take the smaller of what two sources find; none of one is no opinion', () => {
    const a = { target: 'a', quantity: 'a', margin: 0.2 };
    const b = { target: 'b', quantity: 'b', margin: 0.1 };
    const none = { target: 'c', quantity: 'c', margin: null };
    expect(smaller(a, b)).toBe(b);
    expect(smaller(b, a)).toBe(b);
    expect(smaller(a, none)).toBe(none);
    expect(smaller(undefined, a)).toBe(a);
    expect(smaller(a, undefined)).toBe(a);
  });
});
