import type { Occurrence } from '@yundro/core';

/** A stretch of time over which the controller does something other than its usual work. */
export interface Band {
  readonly from: number;
  readonly to: number;
  readonly words: string;
}

const WORDS: Readonly<Record<string, string>> = {
  skipped: 'no pulses',
  limit: 'current limit',
  'duty-limit': 'duty limit',
  stopped: 'stopped',
};

/** What the controller of phase 1 is doing, period after period of the same put together. @param period s */
export function bandsOf(occurrences: readonly Occurrence[], period: number): readonly Band[] {
  const bands: Band[] = [];
  for (const { time, phase, what } of occurrences) {
    const words = WORDS[what];
    if (phase !== 0 || words === undefined) continue;
    const last = bands.at(-1);
    // The same again within a period and a half: one stretch.
    if (last?.words === words && time - last.to < 1.5 * period) bands[bands.length - 1] = { ...last, to: time };
    else bands.push({ from: time, to: time, words });
  }
  return bands.map((band) => ({ ...band, to: band.to + period }));
}
