import { GAUSS_NODES } from '../linalg/gaussLegendre.js';
import { MU_0 } from '../magnetics/copper.js';
import type { Point } from './placement.js';

/** A straight piece of copper, m. */
export interface Strip {
  readonly from: Point;
  readonly to: Point;
  readonly width: number;
}

/** Geometric mean distance of a strip from itself over its width, e^(−3/2): F. W. Grover, Inductance Calculations, ch. 3. */
const GMD = Math.exp(-1.5);
/** Pieces of the outer integral, eight points each. */
const PIECES = 4;

const lengthOf = ({ from, to }: Strip): number => Math.hypot(to.x - from.x, to.y - from.y);

/**
 * Inductance of a closed way of strips with nothing under it, H: the sum of the partial inductances of its pieces (A. E. Ruehli, Inductance
 * calculations in a complex integrated circuit environment, 1972), each by Neumann's integral between filaments,
 * M = μ₀/4π cos ε ∫∫ ds dt/√(r² + g²), the inner one in closed form. The distance g keeps filaments apart as wide strips are:
 * the geometric mean distance of the strip itself, and of both for two.
 */
export function closedWayInductance(strips: readonly Strip[]): number {
  const pieces = strips.filter((strip) => lengthOf(strip) > 0);
  let sum = 0;
  pieces.forEach((one, i) => {
    sum += partial(one, one);
    for (const other of pieces.slice(i + 1)) sum += 2 * partial(one, other);
  });
  return sum;
}

function partial(one: Strip, other: Strip): number {
  const [l1, l2] = [lengthOf(one), lengthOf(other)];
  const [u1x, u1y] = [(one.to.x - one.from.x) / l1, (one.to.y - one.from.y) / l1];
  const [u2x, u2y] = [(other.to.x - other.from.x) / l2, (other.to.y - other.from.y) / l2];
  const cosine = u1x * u2x + u1y * u2y;
  if (Math.abs(cosine) < 1e-12) return 0;
  const g2 = GMD * one.width * GMD * other.width;
  if (one === other) {
    // ∫∫ over the same filament at a distance g: 2 [l arsinh(l/g) − √(l² + g²) + g].
    const g = Math.sqrt(g2);
    return (MU_0 / (2 * Math.PI)) * (l1 * Math.asinh(l1 / g) - Math.hypot(l1, g) + g);
  }
  let integral = 0;
  for (let piece = 0; piece < PIECES; piece += 1) {
    for (const [node, weight] of GAUSS_NODES) {
      const s = ((piece + node) / PIECES) * l1;
      const [x, y] = [one.from.x + s * u1x - other.from.x, one.from.y + s * u1y - other.from.y];
      const along = x * u2x + y * u2y;
      const off = Math.sqrt((x * u2y - y * u2x) ** 2 + g2);
      integral += (weight * l1 * (Math.asinh((l2 - along) / off) + Math.asinh(along / off))) / PIECES;
    }
  }
  return ((MU_0 * cosine) / (4 * Math.PI)) * integral;
}
