import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { openLoopInductance } from '../layout/conductorForms.js';
import { MU_0 } from '../magnetics/copper.js';
import { areaOf, hullOf, hullsMeet, lineToHull } from './hull.js';
import { gapOf, nearest, onBoard, outlineBox, overlap, padBox, type Placed, type Point } from './placement.js';
import { closedWayInductance, type Strip } from './stripInductance.js';

const at = (x: number, y: number): Point => ({ x, y });

describe('parts on a board', () => {
  test('a quarter turn is clockwise as the page sees it, y downwards; four are none', () => {
    const turned = (turn: Placed['turn']): Point => onBoard({ x: 10, y: 20, turn }, 3, 1);
    expect(turned(0)).toEqual(at(13, 21));
    expect(turned(1)).toEqual(at(9, 23));
    expect(turned(2)).toEqual(at(7, 19));
    expect(turned(3)).toEqual(at(11, 17));
  });
  test('a turned part covers its width across, and its pad turns with it', () => {
    const placed: Placed = { x: 0, y: 0, turn: 1 };
    expect(outlineBox({ length: 6, width: 2 }, placed)).toEqual({ left: -1, right: 1, top: -3, bottom: 3 });
    // The right end of a part lies at the bottom when it is turned once.
    expect(padBox({ net: 'out', x: 2, y: 0, length: 2, width: 1 }, placed)).toEqual({
      left: -0.5,
      right: 0.5,
      top: 1,
      bottom: 3,
    });
  });
  test('gaps are along the corner where neither axis overlaps, and the nearest points are as far apart', () => {
    const a = { left: 0, right: 1, top: 0, bottom: 1 };
    const b = { left: 4, right: 5, top: 5, bottom: 6 };
    expect(gapOf(a, b)).toBeCloseTo(5, 12);
    expect(nearest(a, b)).toEqual([at(1, 1), at(4, 5)]);
    const c = { left: 2, right: 3, top: 0.5, bottom: 4 };
    expect(nearest(a, c)).toEqual([at(1, 0.75), at(2, 0.75)]);
    expect(overlap(a, { ...c, left: 0.5 })).toBe(true);
    expect(overlap(a, { ...c, left: 1 })).toBe(false);
  });
});

describe('hulls', () => {
  const square = hullOf([at(0, 0), at(2, 0), at(2, 2), at(0, 2), at(1, 1), at(1, 0)]);
  test('what lies within does not count', () => {
    expect(square).toHaveLength(4);
    expect(areaOf(square)).toBeCloseTo(4, 12);
  });
  test('a line that passes is measured at its nearest, one that enters or ends within is at none', () => {
    expect(lineToHull(at(-5, 3), at(5, 3), square)).toBeCloseTo(1, 12);
    expect(lineToHull(at(3, 3), at(5, 5), square)).toBeCloseTo(Math.SQRT2, 12);
    expect(lineToHull(at(-1, 1), at(3, 1), square)).toBe(0);
    expect(lineToHull(at(1, 1), at(1.5, 1), square)).toBe(0);
  });
  test('two hulls meet where they cross or one holds the other', () => {
    const moved = (by: number, size: number) => hullOf([at(by, by), at(by + size, by), at(by, by + size)]);
    expect(hullsMeet(square, moved(1, 5))).toBe(true);
    expect(hullsMeet(square, moved(0.5, 0.2))).toBe(true);
    expect(hullsMeet(moved(0.5, 0.2), square)).toBe(true);
    expect(hullsMeet(square, moved(3, 1))).toBe(false);
  });
});

const way = (width: number, ...corners: readonly Point[]): readonly Strip[] =>
  corners.map((from, k) => ({ from, to: corners[(k + 1) % corners.length] ?? from, width }));
const oblong = (a: number, b: number, width: number) => way(width, at(0, 0), at(a, 0), at(a, b), at(0, b));

describe('inductance of a way of strips', () => {
  // F. W. Grover, Inductance Calculations, ch. 8: the rectangle in closed form, as the station of hot loops uses it.
  test.each([
    [10e-3, 5e-3, 0.5e-3],
    [30e-3, 20e-3, 1e-3],
    [8e-3, 8e-3, 0.3e-3],
  ])('a rectangle of %d by %d m agrees with the closed form', (length, breadth, width) => {
    const closed = openLoopInductance.compute({ length, breadth, width });
    expect(closedWayInductance(oblong(length, breadth, width)) / closed).toBeCloseTo(1, 2);
  });
  // Two wires, out and back: L/l = μ₀/π ln(D/g) (F. W. Grover, ch. 5), the ends of a long loop being little beside it.
  test('a long loop comes to two parallel wires', () => {
    const [length, apart, width] = [1, 5e-3, 1e-3];
    const wires = (MU_0 / Math.PI) * Math.log(apart / (Math.exp(-1.5) * width));
    expect(closedWayInductance(oblong(length, apart, width)) / (wires * length)).toBeCloseTo(1, 2);
  });
  test('a side in pieces, and a loop turned round or moved, have the same inductance', () => {
    const whole = closedWayInductance(oblong(12e-3, 6e-3, 1e-3));
    const pieces = way(1e-3, at(0, 0), at(5e-3, 0), at(12e-3, 0), at(12e-3, 6e-3), at(0, 6e-3), at(0, 1e-3));
    expect(closedWayInductance(pieces) / whole).toBeCloseTo(1, 3);
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 7, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        (angle, by) => {
          const turn = ({ x, y }: Point): Point =>
            at(by + x * Math.cos(angle) - y * Math.sin(angle), x * Math.sin(angle) + y * Math.cos(angle) - by);
          const turned = oblong(12e-3, 6e-3, 1e-3).map(({ from, to, width }) => ({
            from: turn(from),
            to: turn(to),
            width,
          }));
          expect(closedWayInductance(turned) / whole).toBeCloseTo(1, 6);
        },
      ),
      { numRuns: 30 },
    );
  });
  test('a loop that crosses itself has two halves which take away from each other', () => {
    const plain = closedWayInductance(way(1e-3, at(0, 0), at(20e-3, 0), at(20e-3, 10e-3), at(0, 10e-3)));
    const crossed = closedWayInductance(way(1e-3, at(0, 0), at(20e-3, 10e-3), at(20e-3, 0), at(0, 10e-3)));
    expect(crossed).toBeGreaterThan(0);
    expect(crossed).toBeLessThan(plain);
  });
});
