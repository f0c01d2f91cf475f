import type { Unit } from '../quantity/unit.js';
import type { AppliedForm } from '../firstcut/closedForm.js';

/** One value that `size` chose, and the rule by which it did. @public */
export interface Choice {
  /** Place in the stage file. */
  readonly path: string;
  readonly quantity: string;
  readonly unit: Unit;
  readonly value: number;
  /** The rule in a sentence. */
  readonly rule: string;
  readonly source: string;
  /** The formula behind the value before rounding, where there is one. */
  readonly form?: AppliedForm;
}
