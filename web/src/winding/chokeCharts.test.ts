import { describe, expect, test } from '@jest/globals';
import type { FoundChoke, FoundChokes } from '../engine/windingSurvey';
import { inductanceChart, searchChart } from './chokeCharts';

const demand = { full: 8, limit: 13, inductance: 6e-6 };
const table = Array.from({ length: 20 }, (_, k): [number, number] => [k, 7e-6 - k * 1e-7]);

describe('inductance against current', () => {
  test('ends a little beyond the limit, which is hatched; what is wanted is marked at full load', () => {
    const { x, y, curves, marks, regions } = inductanceChart([{ words: 'one', table }], demand);
    expect(x.max).toBeCloseTo(1.25 * 13, 9);
    expect(Math.max(...(curves[0]?.x ?? []))).toBeLessThanOrEqual(x.max);
    expect(marks).toEqual([{ x: 8, y: 6e-6, label: 'wanted at full load', here: true }]);
    expect(regions?.[0]).toMatchObject({ fromX: 13, limit: true });
    expect(y.max).toBeGreaterThan(7e-6);
  });
  test('curves beside each other look different, and their labels stand apart', () => {
    const { curves } = inductanceChart(
      ['a', 'b', 'c'].map((words) => ({ words, table })),
      demand,
    );
    expect(new Set(curves.map(({ colour }) => colour)).size).toBe(3);
    expect(new Set(curves.map(({ dash }) => dash.join())).size).toBe(3);
    expect(new Set(curves.map(({ labelAt }) => labelAt)).size).toBe(3);
  });
  test('a height that is asked for is kept, so that one that saturates does not hide the others', () => {
    expect(inductanceChart([{ words: 'one', table }], demand, 3e-6).y.max).toBeLessThan(4e-6);
  });
});

describe('what a search found', () => {
  const design = (core: string, loss: number, volume: number, best: FoundChoke['best']) =>
    ({ spec: { core }, loss, volume, best }) as unknown as FoundChoke;
  const found = {
    designs: [
      design('A', 0.1, 8e-6, ['loss']),
      design('B', 0.2, 4e-6, []),
      design('C', 0.5, 2e-6, ['volume', 'price']),
    ],
    present: { name: 'now', loss: 0.9, volume: 1e-6, price: 1 },
  } as unknown as FoundChokes;

  test('every design is a point in cm³ and W; those that are best in something are named, and the present choke', () => {
    const { marks, x, y } = searchChart(found);
    expect(marks.map(({ x: at, y: loss, label }) => [Number(at.toPrecision(6)), loss, label])).toEqual([
      [8, 0.1, 'A'],
      [4, 0.2, undefined],
      [2, 0.5, 'C'],
      [1, 0.9, 'now: now'],
    ]);
    for (const mark of marks) {
      expect(mark.x > x.min && mark.x < x.max).toBe(true);
      expect(mark.y < y.max).toBe(true);
    }
  });
  test('a present choke without a size is left out', () => {
    const { marks } = searchChart({ ...found, present: { ...found.present, volume: undefined } });
    expect(marks).toHaveLength(3);
  });
});
