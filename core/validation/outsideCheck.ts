/** A number of ours held against one from outside the project. */
export interface OutsideCheck {
  /** Author, title and section; "common practice"; or the independent program. */
  readonly source: string;
  readonly quantity: string;
  readonly unit: string;
  readonly expected: number;
  /** Allowed difference: relative to the expected value, and absolute; the larger counts. */
  readonly relative: number;
  readonly absolute?: number;
  readonly computed: () => number;
}

/** Computed and expected, and how far apart they are. */
export function checkResult(check: OutsideCheck): {
  readonly computed: number;
  readonly difference: number;
  readonly within: boolean;
} {
  const computed = check.computed();
  const difference = computed - check.expected;
  const allowed = Math.max(check.relative * Math.abs(check.expected), check.absolute ?? 0);
  return { computed, difference, within: Math.abs(difference) <= allowed };
}
