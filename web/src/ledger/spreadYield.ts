import { formatQuantity, type Corner, type Missed, type Stage } from '@yundro/core';
import { create } from 'zustand';

/** How many sets of scattered parts miss what, of the stage and at the corner they were scattered at. */
interface SpreadYield {
  readonly stage: Stage;
  readonly corner: Corner;
  readonly count: number;
  readonly missing: Readonly<Partial<Record<Missed, number>>>;
}

const useYield = create<{ readonly of: SpreadYield | undefined }>()(() => ({ of: undefined }));

/** Tell how the sets of a scatter fare; those of a stage that is no longer on the screen are shown nowhere. */
export function tellYield(
  stage: Stage,
  corner: Corner,
  samples: readonly { readonly misses: readonly Missed[] }[],
): void {
  const missing: Partial<Record<Missed, number>> = {};
  for (const { misses } of samples) for (const one of misses) missing[one] = (missing[one] ?? 0) + 1;
  useYield.setState({ of: { stage, corner, count: samples.length, missing } });
}

/** The yield of the stage, where its parts were scattered. */
export const useSpreadYield = (stage: Stage | undefined): SpreadYield | undefined =>
  useYield(({ of }) => (of && of.stage === stage && of.count > 0 ? of : undefined));

/** A quantity of the loop over the scattered sets, in words; undefined for what a scatter does not judge. */
export function yieldWords({ corner, count, missing }: SpreadYield, quantity: string): string | undefined {
  if (quantity !== 'phase margin' && quantity !== 'gain margin') return undefined;
  // A set without a loop, or an unstable one, has no margin that holds.
  const missed = (missing[quantity] ?? 0) + (missing.loop ?? 0);
  const share = ((100 * (count - missed)) / count).toFixed(1);
  return `kept by ${share} % of ${String(count)} sets of parts at ${formatQuantity(corner.inputVoltage, 'V', 3)}, ${formatQuantity(corner.outputCurrent, 'A', 3)}`;
}
