import { timed, type Timing } from './timing.js';

/** The yardstick of a run: how busy and how fast the machine is. A thousand plain products of 12 × 12 matrices. */
export function reference(): Timing {
  const n = 12;
  const a = Float64Array.from({ length: n * n }, (_, i) => Math.sin(i));
  const b = Float64Array.from({ length: n * n }, (_, i) => Math.cos(i));
  const out = new Float64Array(n * n);
  return timed(() => {
    for (let times = 0; times < 1000; times += 1) {
      for (let i = 0; i < n; i += 1) {
        for (let j = 0; j < n; j += 1) {
          let sum = 0;
          for (let k = 0; k < n; k += 1) sum += (a[i * n + k] ?? 0) * (b[k * n + j] ?? 0);
          out[i * n + j] = sum;
        }
      }
    }
  }, 60);
}
