import { dot, solveSquare } from '../linalg/dense.js';
import { zeros } from '../linalg/zeros.js';
import type { Segment } from './segment.js';
import type { PeriodicSolution } from './periodic.js';
import type { Signal } from './signal.js';

/** One harmonic of a periodic waveform: amplitude (peak) of a·cos(kωt + φ). */
export interface Harmonic {
  readonly order: number;
  /** Hz */
  readonly frequency: number;
  readonly amplitude: number;
  /** rad */
  readonly phase: number;
}

/** ∫ z e^{−jωt} dt over a segment, from its own start: real part, then imaginary part. */
function transformed({ equations, duration, initial, final }: Segment, omega: number): Float64Array {
  const n = equations.order + 1;
  const k = equations.dynamics;
  // (K − jω) X = z(h) e^{−jωh} − z(0), as one real system of twice the size. K − jω is regular unless the circuit
  // resonates without damping exactly at ω, where it has no periodic steady state either.
  const system = zeros(4 * n * n);
  const right = zeros(2 * n);
  const cosine = Math.cos(omega * duration);
  const sine = Math.sin(omega * duration);
  for (let i = 0; i < n; i += 1) {
    for (let j = 0; j < n; j += 1) {
      system[i * 2 * n + j] = k[i * n + j] ?? 0;
      system[(n + i) * 2 * n + n + j] = k[i * n + j] ?? 0;
    }
    system[i * 2 * n + n + i] = (system[i * 2 * n + n + i] ?? 0) + omega;
    system[(n + i) * 2 * n + i] = (system[(n + i) * 2 * n + i] ?? 0) - omega;
    right[i] = (final[i] ?? 0) * cosine - (initial[i] ?? 0);
    right[n + i] = -(final[i] ?? 0) * sine;
  }
  return solveSquare(system, right, 2 * n);
}

/**
 * The first harmonics of a waveform, exact from the piecewise solution: on every segment the Fourier integral of the state is
 * the solution of a linear system, no samples are taken.
 *
 * @param count orders 1 to `count` of the switching frequency.
 */
export function harmonics(solution: PeriodicSolution, signal: Signal, count: number): readonly Harmonic[] {
  const { period, segments } = solution;
  return Array.from({ length: count }, (_, i): Harmonic => {
    const order = i + 1;
    const omega = (2 * Math.PI * order) / period;
    let real = 0;
    let imaginary = 0;
    for (const segment of segments) {
      if (segment.duration === 0) continue;
      const row = signal(segment.equations);
      const n = row.length;
      const x = transformed(segment, omega);
      const a = dot(row, x.subarray(0, n));
      const b = dot(row, x.subarray(n));
      const cosine = Math.cos(omega * segment.start);
      const sine = Math.sin(omega * segment.start);
      real += a * cosine + b * sine;
      imaginary += b * cosine - a * sine;
    }
    return {
      order,
      frequency: order / period,
      amplitude: (2 / period) * Math.hypot(real, imaginary),
      phase: Math.atan2(imaginary, real),
    };
  });
}
