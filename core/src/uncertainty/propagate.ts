import { Matrix } from 'ml-matrix';

/** A quantity that was measured or is stated, and how well it is known. @public */
export interface Estimate {
  readonly value: number;
  /** Standard uncertainty u, in the unit of the value. */
  readonly standard: number;
  /** Degrees of freedom of that figure; Infinity where none is given, as for what comes from a data sheet. */
  readonly degrees?: number;
}

/** What is worked from measured quantities, with its uncertainty. @public */
export interface Propagated {
  readonly values: readonly number[];
  /** Standard uncertainty of each. */
  readonly standard: readonly number[];
  /** Correlation coefficient of each with each, row by row. */
  readonly correlation: readonly (readonly number[])[];
  /** Effective degrees of freedom of each. */
  readonly degrees: readonly number[];
  /** ∂ of each by each input, row by row. */
  readonly sensitivities: readonly (readonly number[])[];
}

/**
 * The law of propagation of uncertainty, for correlated inputs and several results:
 *
 *     U_y = C U_x C'   with C = ∂y/∂x       (JCGM 100:2008, 5.2.2 and H.2.3)
 *     ν_eff = u⁴ / Σ (c_i u_i)⁴ / ν_i        (Welch–Satterthwaite, JCGM 100:2008, G.2b; inputs taken as independent)
 *
 * The derivatives are central differences over ± u(x), as the guide has it (5.1.3, note 2).
 *
 * @param correlation r of each input with each, row by row; none where it is not given.
 * @public
 */
export function propagate(
  inputs: readonly Estimate[],
  model: (values: readonly number[]) => readonly number[],
  correlation?: readonly (readonly number[])[],
): Propagated {
  const at = inputs.map(({ value }) => value);
  const values = model(at);
  const columns = inputs.map(({ value, standard }, i) => {
    const step = standard > 0 ? standard : Math.max(Math.abs(value), 1e-9) * 1e-6;
    const moved = (by: number): readonly number[] => model(at.with(i, value + by));
    const above = moved(step);
    const below = moved(-step);
    return values.map((_, k) => ((above[k] ?? 0) - (below[k] ?? 0)) / (2 * step));
  });
  const sensitivities = values.map((_, k) => columns.map((column) => column[k] ?? 0));
  const covariance = Matrix.zeros(inputs.length, inputs.length);
  inputs.forEach(({ standard: a }, i) => {
    inputs.forEach(({ standard: b }, j) => {
      covariance.set(i, j, (i === j ? 1 : (correlation?.[i]?.[j] ?? 0)) * a * b);
    });
  });
  const c = new Matrix(sensitivities.map((row) => [...row]));
  const spread = c.mmul(covariance).mmul(c.transpose());
  const standard = values.map((_, k) => Math.sqrt(Math.max(0, spread.get(k, k))));
  return {
    values,
    standard,
    correlation: values.map((_, k) =>
      values.map((__, l) => spread.get(k, l) / ((standard[k] ?? 0) * (standard[l] ?? 0) || 1)),
    ),
    degrees: sensitivities.map((row, k) => {
      const sum = row.reduce((total, by, i) => {
        const { standard: u = 0, degrees = Infinity } = inputs[i] ?? {};
        return total + (by * u) ** 4 / degrees;
      }, 0);
      return sum > 0 ? (standard[k] ?? 0) ** 4 / sum : Infinity;
    }),
    sensitivities,
  };
}
