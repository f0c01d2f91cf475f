import { describe, expect, test } from '@jest/globals';
import type { Project, StageRow } from '@yundro/core';
import { arranged } from './order';
import { strokesOf } from './strokes';

const row = (name: string, margin: number | null | undefined, updatedAt: string, topology = 'buck'): StageRow => ({
  id: name,
  name,
  revision: 1,
  updatedAt,
  facts: {
    topology,
    rectifier: 'synchronous',
    phases: 1,
    inputVoltage: { min: 10, max: 14 },
    outputVoltage: 5,
    outputCurrent: 3,
  },
  summary: {
    state: 'worked',
    verdicts: null,
    tightest: margin === undefined ? null : { quantity: 'x', margin },
    reason: null,
  },
});
const projects: readonly Project[] = [
  {
    id: 'a',
    name: 'Buoy',
    stages: [
      row('Zulu', 0.3, '2026-01-02T00:00:00Z'),
      row('Alpha', null, '2026-01-03T00:00:00Z', 'four-switch-buck-boost'),
      row('Mike', undefined, '2026-01-01T00:00:00Z'),
    ],
  },
  { id: 'b', name: 'Empty', stages: [] },
];
const names = (find: string, order: Parameters<typeof arranged>[2]) =>
  arranged(projects, find, order).map(({ stages }) => stages.map(({ name }) => name));

describe('the shelf in order', () => {
  test.each([
    ['made', ['Zulu', 'Alpha', 'Mike']],
    ['name', ['Alpha', 'Mike', 'Zulu']],
    ['tightest', ['Alpha', 'Zulu', 'Mike']],
    ['worked', ['Alpha', 'Zulu', 'Mike']],
  ] as const)('%s', (order, expected) => {
    expect(names('', order)).toEqual([expected, []]);
  });
  test('found by every word, of name, project, form or voltage; projects without a find go', () => {
    expect(names('switch boost', 'made')).toEqual([['Alpha']]);
    expect(names('buoy zul', 'made')).toEqual([['Zulu']]);
    expect(names('5V 3A', 'made')).toEqual([['Zulu', 'Alpha', 'Mike']]);
    expect(names('nothing', 'made')).toEqual([]);
  });
});

test('a miniature is one path within its frame, and tells diode from switch', () => {
  const switched = strokesOf('boost', 'synchronous');
  const diode = strokesOf('boost', 'diode');
  expect(switched.path).not.toBe(diode.path);
  const [, top = 0, width = 0, height = 0] = diode.viewBox.split(' ').map(Number);
  for (const [x, y] of [...diode.path.matchAll(/[ML](-?\d+) (-?\d+)/g)].map(([, a, b]) => [Number(a), Number(b)])) {
    expect(x).toBeGreaterThanOrEqual(0);
    expect(x).toBeLessThanOrEqual(width);
    expect(y).toBeGreaterThanOrEqual(top);
    expect(y).toBeLessThanOrEqual(top + height);
  }
});
