import type { Complex } from '../linalg/complex.js';
import type { Stage } from '../stage/schema.js';
import type { Choice } from './choice.js';

/** A control that might do, before the exact loop is worked. */
export interface Candidate {
  readonly control: Stage['control'];
  /** Output to control voltage or duty ratio. */
  readonly response: (frequency: number) => Complex;
  readonly choices: readonly Choice[];
}
