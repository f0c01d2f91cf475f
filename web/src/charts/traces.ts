import type { Points } from '@yundro/core';

/** Points of a trace over several periods, as Chart.js takes them. */
export function repeated({ time, value }: Points, period: number, periods: number): { x: number; y: number }[] {
  return Array.from({ length: periods }, (_, k) =>
    time.map((t, i) => ({ x: t + k * period, y: value[i] ?? 0 })),
  ).flat();
}

/** The value of a trace at a time, linear between its points; the trace repeats with its period. */
export function valueAtTime({ time, value }: Points, period: number, at: number): number {
  const t = at - Math.floor(at / period) * period;
  let low = 0;
  let high = time.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((time[middle] ?? 0) <= t) low = middle;
    else high = middle;
  }
  const t0 = time[low] ?? 0;
  const t1 = time[high] ?? 0;
  const v0 = value[low] ?? 0;
  const v1 = value[high] ?? 0;
  if (!(t1 > t0)) return v1;
  return v0 + (v1 - v0) * Math.min(1, Math.max(0, (t - t0) / (t1 - t0)));
}

/** Differences below this share of the values themselves are rounding, and shown as none. */
const ROUNDING = 1e-9;

/** Change of a trace between two times. */
export function changeBetween(points: Points, period: number, from: number, to: number): number {
  const a = valueAtTime(points, period, from);
  const b = valueAtTime(points, period, to);
  return Math.abs(b - a) <= ROUNDING * Math.max(Math.abs(a), Math.abs(b)) ? 0 : b - a;
}
