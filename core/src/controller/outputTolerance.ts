import { applied, type AppliedForm } from '../firstcut/closedForm.js';
import { dividerRootSumSquare, dividerWorstCase } from '../firstcut/dividerForms.js';
import type { Stage } from '../stage/schema.js';
import { regulatedOutput } from './divider.js';

/** Tolerances taken where none is stated: those of usual parts. Common practice; a data sheet states its own. @public */
export const USUAL_TOLERANCES = { reference: 0.01, resistors: 0.01 } as const;

/** How far reference and divider may put the output from what they are meant to. */
export interface OutputTolerance {
  readonly reference: number;
  readonly resistors: number;
  /** Relative, everything at its worst; and as the root of the sum of squares. */
  readonly worstCase: AppliedForm;
  readonly likely: AppliedForm;
  /** What of them the stage does not state, so that it is taken as usual. */
  readonly assumed: readonly ('reference' | 'resistors')[];
}

/** The spread of the output of a stage that a divider regulates; undefined where reference or divider are not given yet. */
export function outputTolerance(stage: Pick<Stage, 'control' | 'targets'>): OutputTolerance | undefined {
  const { scheme, reference, referenceTolerance, tolerances, compensator } = stage.control;
  const { rUpper, rLower } = compensator?.components ?? {};
  if (scheme === 'open-loop' || reference === undefined || rUpper === undefined || rLower === undefined)
    return undefined;
  const values = {
    reference,
    vOut: Math.abs(regulatedOutput(stage)),
    resistorTolerance: tolerances?.resistors ?? USUAL_TOLERANCES.resistors,
    referenceTolerance: referenceTolerance ?? USUAL_TOLERANCES.reference,
  };
  return {
    reference: values.referenceTolerance,
    resistors: values.resistorTolerance,
    worstCase: applied(dividerWorstCase, values),
    likely: applied(dividerRootSumSquare, values),
    assumed: [
      ...(referenceTolerance === undefined ? (['reference'] as const) : []),
      ...(tolerances?.resistors === undefined ? (['resistors'] as const) : []),
    ],
  };
}
