import { equilibration, product, singularParts } from '../linalg/dense.js';
import { added, sliceColumns } from '../linalg/blocks.js';
import { zeros } from '../linalg/zeros.js';
import { isSource, type Circuit } from './elements.js';
import type { NodalLayout } from './nodalLayout.js';

/** Share of its own terms below which a sum counts as zero: rounding of a cancellation, far from any real value. */
const CANCELLED = 1e-9;

/** Rows that must vanish once the sources are known, with the elements they involve. */
export interface Conflict {
  readonly row: Float64Array;
  readonly elements: readonly string[];
}

/** What a singular M of M y = N z leaves open, and what it demands of z. */
export interface NullSpace {
  /** Pseudo-inverse of M times N, unknowns × columns: y but for multiples of `right`. */
  readonly particular: Float64Array;
  /** unknowns × nullity */
  readonly right: Float64Array;
  readonly nullity: number;
  /** Constraint rows H z = 0, nullity × columns, and their columns of states alone. */
  readonly h: Float64Array;
  readonly hStates: Float64Array;
  readonly conflicts: readonly Conflict[];
}

/** Take a singular M y = N z apart: capacitor loops, inductor cut-sets, idle nodes. */
export function nullSpaceOf(
  circuit: Circuit,
  { order, columns, unknowns, nodeIndex, branchIndex }: NodalLayout,
  m: Float64Array,
  n: Float64Array,
): NullSpace {
  const scale = equilibration(m, unknowns);
  const scaled = m.map(
    (value, at) => value * (scale.rows[Math.floor(at / unknowns)] ?? 1) * (scale.columns[at % unknowns] ?? 1),
  );
  const parts = singularParts(scaled, unknowns, unknowns);
  const { nullity } = parts;
  const inverse = parts.pseudoInverse.map(
    (value, at) => value * (scale.columns[Math.floor(at / unknowns)] ?? 1) * (scale.rows[at % unknowns] ?? 1),
  );
  const left = parts.left.map((value, at) => value * (scale.rows[at % unknowns] ?? 1));
  const right = parts.right.map((value, at) => value * (scale.columns[Math.floor(at / nullity)] ?? 1));

  // A constraint row without states is a floating node (nothing to hold) unless its source part is not zero.
  const h = product(left, n, nullity, unknowns, columns);
  // An entry counts as zero against the size of the terms it is the sum of: volts beside amperes need no common scale.
  const terms = product(left.map(Math.abs), n.map(Math.abs), nullity, unknowns, columns);
  h.forEach((value, at) => {
    if (Math.abs(value) < CANCELLED * (terms[at] ?? 0)) h[at] = 0;
  });
  const names = [...nodeIndex.keys(), ...branchIndex.keys()];
  const conflicts: Conflict[] = [];
  for (let row = 0; row < nullity; row += 1) {
    const whole = h.slice(row * columns, (row + 1) * columns);
    if (whole.subarray(0, order).some((value) => value !== 0)) continue;
    const involved = names.filter((_, i) => Math.abs(left[row * unknowns + i] ?? 0) > 1e-6);
    const touched = circuit.elements.filter(
      (e) => involved.includes(e.name) || involved.includes(e.a) || involved.includes(e.b),
    );
    conflicts.push({ row: whole, elements: touched.filter(isSource).map((e) => e.name) });
  }
  return {
    particular: product(inverse, n, unknowns, unknowns, columns),
    right,
    nullity,
    h,
    hStates: sliceColumns(h, nullity, columns, 0, order),
    conflicts,
  };
}

/** The solution of a singular M y = N z. */
interface Reduced {
  /** unknowns × columns */
  readonly y: Float64Array;
  /** order × columns; undefined when entering changes nothing. */
  readonly entry: Float64Array | undefined;
}

/**
 * Solve M y = N z when M is singular. The left null vectors give the hidden constraint on the states; differentiated once
 * (index reduction) it fixes what M leaves open, and yields the jump on entry that conserves charge and flux.
 *
 * @param rateP, rateQ dx/dt = rateP y + rateQ z.
 */
export function reduced(
  { particular, right, nullity, h, hStates }: NullSpace,
  { order, columns, unknowns }: NodalLayout,
  rateP: Float64Array,
  rateQ: Float64Array,
): Reduced {
  const pv = product(rateP, right, order, unknowns, nullity);
  const coupling = product(hStates, pv, nullity, order, nullity);
  const couplingInverse = singularParts(coupling, nullity, nullity).pseudoInverse;
  const drift = added(product(rateP, particular, order, unknowns, columns), rateQ);
  const lambda = product(couplingInverse, product(hStates, drift, nullity, order, columns), nullity, nullity, columns);
  const y = added(particular, product(right, lambda, unknowns, nullity, columns), -1);
  if (hStates.every((value) => value === 0)) return { y, entry: undefined };

  const correction = product(pv, product(couplingInverse, h, nullity, nullity, columns), order, nullity, columns);
  const entry = zeros(order * columns);
  for (let i = 0; i < order; i += 1) entry[i * columns + i] = 1;
  for (let i = 0; i < order * columns; i += 1) entry[i] = (entry[i] ?? 0) - (correction[i] ?? 0);
  return { y, entry };
}
