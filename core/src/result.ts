/**
 * How the core says "this cannot be used": as data, never as prose. The sentence is built at the edge by
 * `problemSentence` (stage/problemSentence.ts), so the command line, the server and the browser say the same.
 *
 * @public
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
    | 'too-deep'
    | 'unreadable-quantity'
    | 'ambiguous-quantity';
  /** Place in the stage file, for instance `parts.inductor.inductance`; empty for the file as a whole. */
  readonly path: string;
  /** The quantity in words, for instance "inductance". */
  readonly quantity?: string;
  /** What was given, as text. */
  readonly received?: string;
  readonly unit?: string;
  readonly min?: number;
  readonly max?: number;
  /** The smallest magnitude beside zero, where zero is allowed too. */
  readonly least?: number;
  /** What would have been accepted, where a range does not say it. */
  readonly expected?: string;
  /** The two values that stand in each other's way, where that is the fault. */
  readonly relation?: Relation;
}

/** One value of the stage file that may not lie above another. */
export interface Relation {
  readonly lower: readonly string[];
  readonly upper: readonly string[];
  /** Whether the two may not be equal either. */
  readonly strict: boolean;
  /** Why, where it is no matter of course: "a buck stage only steps down". */
  readonly because?: string;
}

/** @public */
export type Result<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problems: readonly Problem[] };

/** A good result. @public */
export function good<T>(value: T): Result<T> {
  return { ok: true, value };
}

/** A refused one. @public */
export function refused(...problems: readonly Problem[]): {
  readonly ok: false;
  readonly problems: readonly Problem[];
} {
  return { ok: false, problems };
}
