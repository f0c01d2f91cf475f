import { describe, expect, test } from '@jest/globals';
import { TOPOLOGY_NAMES } from '../topology/topologies.js';
import { formDrawing } from './formDrawing.js';

describe('a topology drawn by itself', () => {
  test.each(TOPOLOGY_NAMES.flatMap((name) => [[name, 'synchronous'] as const, [name, 'diode'] as const]))(
    '%s, %s: source, inductor and load are in it, each in its place',
    (topology, rectifier) => {
      const { elements, width, height } = formDrawing(topology, rectifier);
      const kinds = elements.map(({ element }) => element.name.replace(/\d.*$/, ''));
      for (const one of ['source', 'inductor', 'load', 'outputCapacitor']) expect(kinds).toContain(one);
      const rectifiers = elements.filter(
        ({ element }) => element.kind === (rectifier === 'diode' ? 'diode' : 'switch'),
      );
      expect(rectifiers.length).toBeGreaterThan(0);
      for (const { from, to } of elements)
        for (const [x, y] of [from, to]) {
          expect(x).toBeGreaterThanOrEqual(0);
          expect(x).toBeLessThanOrEqual(width);
          expect(y).toBeGreaterThanOrEqual(0);
          expect(y).toBeLessThanOrEqual(height);
        }
    },
  );
});
