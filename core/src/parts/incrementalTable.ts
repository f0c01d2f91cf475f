/**
 * An incremental value over the state it goes with, inductance over current or capacitance over voltage, with what follows from it:
 * flux or charge, and energy. Even in the state for value and energy, odd for the integral: neither a core nor a ceramic knows its sign.
 */
export interface IncrementalTable {
  /** H at a current, or F at a voltage. */
  readonly value: (state: number) => number;
  /** V s or A s: the integral of the value. */
  readonly integral: (state: number) => number;
  /** J: the integral of state times value. */
  readonly energy: (state: number) => number;
}

/** Straight lines between the points of a table, [state, value], level beyond its ends. */
export function incrementalTable(table: readonly (readonly [number, number])[]): IncrementalTable {
  const [first] = table;
  const points = first && first[0] > 0 ? [[0, first[1]] as const, ...table] : table;
  /** Integral up to each point of the table. */
  const integrals = points.reduce<number[]>((sums, [state, value], i) => {
    const before = points[i - 1];
    const area = before ? ((state - before[0]) * (value + before[1])) / 2 : 0;
    return [...sums, (sums.at(-1) ?? 0) + area];
  }, []);
  /** ∫ x (v + s (x − a)) dx from a over a stretch. */
  const within = (a: number, value: number, slope: number, x: number): number =>
    a * (value * x + (slope * x * x) / 2) + (value * x * x) / 2 + (slope * x * x * x) / 3;
  const energies = points.reduce<number[]>((sums, [state, value], i) => {
    const before = points[i - 1];
    const slope = before ? (value - before[1]) / (state - before[0]) : 0;
    return [...sums, (sums.at(-1) ?? 0) + (before ? within(before[0], before[1], slope, state - before[0]) : 0)];
  }, []);
  const placed = (state: number) => {
    let i = points.length - 1;
    while (i > 0 && (points[i] as readonly [number, number])[0] > state) i -= 1;
    const [at, value] = points[i] ?? [0, 0];
    const next = points[i + 1];
    const slope = next ? (next[1] - value) / (next[0] - at) : 0;
    return { at, past: state - at, value, slope, integral: integrals[i] ?? 0, energy: energies[i] ?? 0 };
  };
  return {
    value: (state) => {
      const { past, value, slope } = placed(Math.abs(state));
      return value + slope * past;
    },
    integral: (state) => {
      const { past, value, slope, integral } = placed(Math.abs(state));
      return Math.sign(state) * (integral + value * past + (slope * past * past) / 2);
    },
    energy: (state) => {
      const { at, past, value, slope, energy } = placed(Math.abs(state));
      return energy + within(at, value, slope, past);
    },
  };
}
