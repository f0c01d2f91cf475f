import { dividerOutput, dividerRootSumSquare, dividerWorstCase } from '../firstcut/dividerForms.js';
import { nearestPreferred, PREFERRED_SERIES, type PreferredSeries } from '../quantity/preferredValues.js';
import { applied, type AppliedForm } from '../firstcut/closedForm.js';

/** What a feedback divider has to do, and what it is made of. */
export interface DividerTask {
  /** V, magnitude. */
  readonly vOut: number;
  /** V */
  readonly reference: number;
  /** Series the resistors are taken from. */
  readonly series: readonly PreferredSeries[];
  /** About what the lower resistor shall be, ohm. */
  readonly lower: number;
  readonly resistorTolerance: number;
  readonly referenceTolerance: number;
  /** Into the sense pin, A. */
  readonly bias: number;
}

/** A pair of preferred resistors and the output it sets. @public */
export interface Divider {
  readonly upper: number;
  readonly lower: number;
  /** The output with everything at its stated value. */
  readonly output: AppliedForm;
  /** Its relative error against the wanted output. */
  readonly error: number;
  /** Relative error by tolerances: everything at its worst, and as the root of the sum of squares. */
  readonly worstCase: AppliedForm;
  readonly likely: AppliedForm;
}

/** How far the lower resistor may be from the wanted one, as a factor up and down. */
const REACH = 3;
const OFFERED = 5;

/** The value of any of the series that is nearest by ratio. */
const nearestOf = (value: number, series: readonly PreferredSeries[]): number =>
  series
    .map((one) => nearestPreferred(value, one))
    .reduce((best, one) => (Math.abs(Math.log(one / value)) < Math.abs(Math.log(best / value)) ? one : best));

/**
 * The pairs of preferred resistors that come nearest to the wanted output.
 *
 * @returns the nearest first; empty where the output is not above the reference, which a divider cannot set.
 * @public
 */
export function dividers(task: DividerTask): readonly Divider[] {
  const { vOut, reference, series, lower: wanted, resistorTolerance, referenceTolerance, bias } = task;
  if (!(vOut > reference)) return [];
  const decade = 10 ** Math.floor(Math.log10(wanted));
  const lowers = series
    .flatMap((one) => {
      const digits = PREFERRED_SERIES[one];
      const scale = digits[0] === 100 ? decade / 100 : decade / 10;
      return [0.1, 1, 10].flatMap((shift) => digits.map((value) => Number((value * scale * shift).toPrecision(3))));
    })
    .filter((value) => value >= wanted / REACH && value <= wanted * REACH);
  return [...new Set(lowers)]
    .map((lower): Divider => {
      // The bias current adds to the output by the upper resistor: V = Vref(1 + R1/R2) + Ib R1, solved for R1.
      const upper = nearestOf((vOut - reference) / (reference / lower + bias), series);
      const output = applied(dividerOutput, { reference, upper, lower, bias });
      const tolerances = { reference, vOut, resistorTolerance, referenceTolerance };
      return {
        upper,
        lower,
        output,
        error: output.value / vOut - 1,
        worstCase: applied(dividerWorstCase, tolerances),
        likely: applied(dividerRootSumSquare, tolerances),
      };
    })
    .sort(
      (a, b) =>
        Math.abs(a.error) - Math.abs(b.error) ||
        Math.abs(Math.log(a.lower / wanted)) - Math.abs(Math.log(b.lower / wanted)),
    )
    .slice(0, OFFERED);
}
