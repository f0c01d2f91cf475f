import { formatQuantity, type Corner, type Missed, type Stage } from '@yundro/core';
import { create } from 'zustand';

/** Sets of scattered parts, of the stage and at the corner they were scattered at. */
interface SpreadYield {
  readonly stage: Stage;
  readonly corner: Corner;
  readonly samples: readonly { readonly misses: readonly Missed[] }[];
}

const useYield = create<{ readonly of: SpreadYield | undefined }>()(() => ({ of: undefined }));

/** Tell how the sets of a scatter fare; those of a stage that is no longer on the screen are shown nowhere. */
export const tellYield = (of: SpreadYield): void => useYield.setState({ of });

/** The yield of the stage, where its parts were scattered. */
export const useSpreadYield = (stage: Stage | undefined): SpreadYield | undefined =>
  useYield(({ of }) => (of && of.stage === stage && of.samples.length > 0 ? of : undefined));

/** A quantity of the loop over the scattered sets, in words; undefined for what a scatter does not judge. */
export function yieldWords({ corner, samples }: SpreadYield, quantity: string): string | undefined {
  if (quantity !== 'phase margin' && quantity !== 'gain margin') return undefined;
  // A set without a loop, or an unstable one, has no margin that holds, whatever its figures say.
  const kept = samples.filter(
    ({ misses }) => !misses.some((one) => one === quantity || one === 'loop' || one === 'stability'),
  );
  const share = ((100 * kept.length) / samples.length).toFixed(1);
  return `kept by ${share} % of ${String(samples.length)} sets of parts at ${formatQuantity(corner.inputVoltage, 'V', 3)}, ${formatQuantity(corner.outputCurrent, 'A', 3)}`;
}
