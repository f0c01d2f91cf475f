/**
 * How the core says "this cannot be used": as data, never as prose. The sentence is built at the edge by
 * `problemSentence` (stage/problemSentence.ts), so the command line, the server and the browser say the same.
 */
export interface Problem {
  /** Stable, machine-readable kind of the problem. */
  readonly code:
    | 'not-json'
    | 'too-large'
    | 'unknown-key'
    | 'missing'
    | 'wrong-type'
    | 'out-of-range'
    | 'not-allowed'
    | 'inconsistent'
    | 'newer-version'
    | 'unreadable-quantity';
  /** Place in the stage file, for instance `parts.inductor.inductance`; empty for the file as a whole. */
  readonly path: string;
  /** The quantity in words, for instance "inductance". */
  readonly quantity?: string;
  /** What was given, as text. */
  readonly received?: string;
  readonly unit?: string;
  readonly min?: number;
  readonly max?: number;
  /** True when `min` itself is not allowed. */
  readonly minExclusive?: boolean;
  /** What would have been accepted, where a range does not say it. */
  readonly expected?: string;
}

export type Result<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problems: readonly Problem[] };

/** A good result. */
export function good<T>(value: T): Result<T> {
  return { ok: true, value };
}

/** A refused one. */
export function refused(...problems: readonly Problem[]): {
  readonly ok: false;
  readonly problems: readonly Problem[];
} {
  return { ok: false, problems };
}
