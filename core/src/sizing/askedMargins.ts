import type { CornerLoop } from '../corners/loopCorners.js';
import type { Stage } from '../stage/schema.js';

/** Margins a loop is designed for: degrees and dB. */
export interface AskedMargins {
  readonly phaseMargin: number;
  readonly gainMargin: number;
  /** A zero of the compensator below it leaves a tail that outlasts the recovery asked for, Hz; 0 where none is. */
  readonly slowestZero: number;
}

/** Designed for where the targets name none. Common practice: 45 to 60 degrees, 6 to 12 dB. */
const PHASE_MARGIN = 50;
const GAIN_MARGIN = 8;
/** Time constants of a tail until it is as good as gone. Common practice. */
const TAIL = 3;

export const askedMargins = ({ phaseMargin, gainMargin, loadStep }: Stage['targets']): AskedMargins => ({
  phaseMargin: phaseMargin ?? PHASE_MARGIN,
  gainMargin: gainMargin ?? GAIN_MARGIN,
  // A closed-loop pole comes to rest near the zero: e^(−ω t) leaves 5 % of the tail where ω = 3/t.
  slowestZero: loadStep?.recoveryTime === undefined ? 0 : TAIL / (2 * Math.PI * loadStep.recoveryTime),
});

/**
 * Most gain of the sampled loop at half the switching frequency. A current loop that settles in one period has a half by itself;
 * at one, pulses alternate.
 */
const MOST_SUBHARMONIC = 0.8;

/** What a loop misses that is not stable. */
export const UNSTABLE = 3;

/** By how much the worst corner misses its margins and stability, exact loops: zero where all hold. */
export function shortfall(corners: readonly CornerLoop[], { phaseMargin, gainMargin }: AskedMargins): number {
  return Math.max(
    ...corners.map(({ loop }) => {
      if (loop.kind !== 'solved') return 4;
      if (!loop.stable) return UNSTABLE;
      // Without a crossover there is no margin, and nothing that follows the load.
      const phase = loop.phaseMargin.kind === 'found' ? (phaseMargin - loop.phaseMargin.value) / phaseMargin : 1;
      const gain = loop.gainMayRise === undefined ? 0 : (gainMargin - loop.gainMayRise) / gainMargin;
      return Math.max(0, phase, gain, -loop.subharmonicGain - MOST_SUBHARMONIC);
    }),
  );
}

/** The lowest crossover of all corners, Hz; zero where one has none. */
export const lowestCrossover = (corners: readonly CornerLoop[]): number =>
  Math.min(
    ...corners.map(({ loop }) =>
      loop.kind === 'solved' && loop.crossover.kind === 'found' ? loop.crossover.value : 0,
    ),
  );
