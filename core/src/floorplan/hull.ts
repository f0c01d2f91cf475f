import type { Point } from './placement.js';

const cross = (o: Point, a: Point, b: Point): number => (a.x - o.x) * (b.y - o.y) - (a.y - o.y) * (b.x - o.x);

/** The convex hull of points, in order round it: A. M. Andrew, Another efficient algorithm for convex hulls in two dimensions, 1979. */
export function hullOf(points: readonly Point[]): readonly Point[] {
  const sorted = [...points].sort((a, b) => a.x - b.x || a.y - b.y);
  if (sorted.length < 3) return sorted;
  const half = (from: readonly Point[]): Point[] => {
    const chain: Point[] = [];
    for (const point of from) {
      for (;;) {
        const [before, last] = [chain.at(-2), chain.at(-1)];
        if (!before || !last || cross(before, last, point) > 0) break;
        chain.pop();
      }
      chain.push(point);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half([...sorted].reverse())];
}

/** m² within a polygon. */
export function areaOf(polygon: readonly Point[]): number {
  let twice = 0;
  polygon.forEach((a, k) => {
    const b = polygon[(k + 1) % polygon.length] ?? a;
    twice += a.x * b.y - b.x * a.y;
  });
  return Math.abs(twice) / 2;
}

/** Distance of a point from a piece of a line. */
function fromLine(p: Point, a: Point, b: Point): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const square = dx * dx + dy * dy;
  const share = square === 0 ? 0 : Math.min(1, Math.max(0, ((p.x - a.x) * dx + (p.y - a.y) * dy) / square));
  return Math.hypot(p.x - a.x - share * dx, p.y - a.y - share * dy);
}

const within = (p: Point, hull: readonly Point[]): boolean =>
  hull.length > 2 && hull.every((a, k) => cross(a, hull[(k + 1) % hull.length] ?? a, p) >= 0);

const crosses = (a: Point, b: Point, c: Point, d: Point): boolean =>
  cross(a, b, c) * cross(a, b, d) < 0 && cross(c, d, a) * cross(c, d, b) < 0;

/** m between a piece of a line and a hull; 0 where it enters it. */
export function lineToHull(a: Point, b: Point, hull: readonly Point[]): number {
  if (hull.length === 0) return Infinity;
  if (within(a, hull) || within(b, hull)) return 0;
  let least = Infinity;
  for (const [k, c] of hull.entries()) {
    const d = hull[(k + 1) % hull.length] ?? c;
    if (crosses(a, b, c, d)) return 0;
    least = Math.min(least, fromLine(a, c, d), fromLine(b, c, d), fromLine(c, a, b));
  }
  return least;
}

/** Whether two hulls cover some of the same ground. */
export const hullsMeet = (one: readonly Point[], other: readonly Point[]): boolean =>
  one.some((a, k) => lineToHull(a, one[(k + 1) % one.length] ?? a, other) === 0) || other.some((p) => within(p, one));
