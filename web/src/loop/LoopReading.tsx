import { crossingsSentence, formatQuantity, type LoopReport } from '@yundro/core';

/** What the pictures say, in figures. */
export function LoopReading({ report }: { readonly report: LoopReport }) {
  const { crossover, phaseMargin, gainMargin, subharmonicMargin, stable, outputImpedancePeak, floquetMultipliers } =
    report;
  const [largest] = floquetMultipliers;
  const size = largest ? Math.hypot(largest.re, largest.im) : 0;
  return (
    <p className="small quiet mb-2" data-testid="loop-reading">
      {crossover.kind === 'found'
        ? `Crossover ${formatQuantity(crossover.value, 'Hz', 4)}`
        : `No crossover: ${crossover.reason}`}
      {phaseMargin.kind === 'found' && `, phase margin ${phaseMargin.value.toFixed(1)}°`}
      {gainMargin.kind === 'found'
        ? `, gain margin ${gainMargin.value.toFixed(1)} dB. `
        : `. No gain margin: ${gainMargin.reason}. `}
      {stable
        ? `Stable: the slowest disturbance shrinks to ${size.toFixed(4)} of itself each period. `
        : `Unstable: a disturbance grows by ${size.toFixed(4)} each period. `}
      {subharmonicMargin === undefined
        ? 'No rise of the gain makes long and short pulses alternate.'
        : `Subharmonic margin ${subharmonicMargin.toFixed(1)} dB: so much the gain may rise until long and short pulses alternate, from the multipliers with the edges moving and held.`}{' '}
      Output impedance at most {formatQuantity(outputImpedancePeak.impedance, 'ohm', 3)}, at{' '}
      {formatQuantity(outputImpedancePeak.frequency, 'Hz', 3)}. {crossingsSentence(report.crossings)}{' '}
      {report.otherBreak === undefined
        ? 'The loop is what injection at the top of the divider shows; plant times compensator misses what ripple at the comparator adds.'
        : report.loopBreak === 'output'
          ? 'The loop is broken at all that hangs on the output, divider and ripple network alike.'
          : 'The loop is broken at the top of the divider alone: it shows how the average is corrected, and its crossover is not the bandwidth of the stage.'}
    </p>
  );
}
