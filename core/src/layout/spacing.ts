/**
 * Least spacing of conductors over the voltage between them, IPC-2221, table 6-1; from memory: check the revision that holds for your product.
 * It keeps a board working. It is no safety insulation: above the limits of IEC 62368-1 creepage and clearance go by that standard.
 */
const UP_TO = [15, 30, 50, 100, 150, 170, 250, 300, 500] as const;

/** A column of the table: spacings in m up to each voltage, and what each volt beyond 500 V adds. */
interface Column {
  readonly words: string;
  readonly spacings: readonly number[];
  /** m/V */
  readonly slope: number;
}

export const SPACING_COLUMNS = {
  internal: {
    words: 'inner layers (B1)',
    spacings: [0.05e-3, 0.05e-3, 0.1e-3, 0.1e-3, 0.2e-3, 0.2e-3, 0.2e-3, 0.2e-3, 0.25e-3],
    slope: 2.5e-6,
  },
  bare: {
    words: 'outer layers, bare, up to 3,050 m (B2)',
    spacings: [0.1e-3, 0.1e-3, 0.6e-3, 0.6e-3, 0.6e-3, 1.25e-3, 1.25e-3, 1.25e-3, 2.5e-3],
    slope: 5e-6,
  },
  coated: {
    words: 'outer layers under a polymer coat (B4)',
    spacings: [0.05e-3, 0.05e-3, 0.13e-3, 0.13e-3, 0.4e-3, 0.4e-3, 0.4e-3, 0.4e-3, 0.8e-3],
    slope: 3.05e-6,
  },
  leads: {
    words: 'leads of parts, bare (A6)',
    spacings: [0.13e-3, 0.25e-3, 0.4e-3, 0.5e-3, 0.8e-3, 0.8e-3, 0.8e-3, 0.8e-3, 1.5e-3],
    slope: 3.05e-6,
  },
} as const satisfies Record<string, Column>;

export type SpacingColumn = keyof typeof SPACING_COLUMNS;

/**
 * Least spacing of two conductors, m.
 *
 * @param voltage dc or peak of ac between them, V.
 * @public
 */
export function leastSpacing(column: SpacingColumn, voltage: number): number {
  const { spacings, slope } = SPACING_COLUMNS[column];
  const size = Math.abs(voltage);
  const row = UP_TO.findIndex((upTo) => size <= upTo);
  return row < 0 ? (spacings.at(-1) ?? 0) + slope * (size - 500) : (spacings[row] ?? 0);
}
