import { good, refused, type Problem, type Result } from '../result.js';
import type { CapacitorBank, Diode, Inductor, Mosfet } from './partsSchema.js';
import type { Stage } from './schema.js';

/** The device that carries the current while the main switch is off. */
export type Rectifier =
  { readonly kind: 'switch'; readonly mosfet: Mosfet } | { readonly kind: 'diode'; readonly diode: Diode };

/** A stage with every part that its circuit needs. */
export interface CompleteStage {
  readonly stage: Stage;
  /** Hz */
  readonly switchingFrequency: number;
  readonly inductor: Inductor;
  readonly outputCapacitors: readonly CapacitorBank[];
  readonly inputCapacitors: readonly CapacitorBank[];
  readonly mainSwitch: Mosfet;
  readonly rectifier: Rectifier;
}

const missing = (path: string, quantity: string): Problem => ({
  code: 'missing',
  path,
  quantity,
  expected: 'it in the file, or let `size` choose it',
});

/** The stage with its parts at hand, or the list of what has not been chosen yet. */
export function completeStage(stage: Stage): Result<CompleteStage> {
  const { inductor, outputCapacitors, highSide, lowSide, diode } = stage.parts;
  const problems: Problem[] = [];
  if (stage.switchingFrequency === undefined) problems.push(missing('switchingFrequency', 'switching frequency'));
  if (!inductor) problems.push(missing('parts.inductor', 'inductor'));
  if (!outputCapacitors) problems.push(missing('parts.outputCapacitors', 'list of output capacitors'));
  if (!highSide) problems.push(missing('parts.highSide', 'high-side switch'));
  if (stage.rectifier === 'synchronous' && !lowSide) problems.push(missing('parts.lowSide', 'low-side switch'));
  if (stage.rectifier === 'diode' && !diode) problems.push(missing('parts.diode', 'rectifier diode'));
  if (!inductor || !outputCapacitors || !highSide || stage.switchingFrequency === undefined)
    return refused(...problems);
  let rectifier: Rectifier | undefined;
  if (stage.rectifier === 'synchronous' && lowSide) rectifier = { kind: 'switch', mosfet: lowSide };
  if (stage.rectifier === 'diode' && diode) rectifier = { kind: 'diode', diode };
  if (!rectifier) return refused(...problems);
  return good({
    stage,
    switchingFrequency: stage.switchingFrequency,
    inductor,
    outputCapacitors,
    inputCapacitors: stage.parts.inputCapacitors ?? [],
    mainSwitch: highSide,
    rectifier,
  });
}
