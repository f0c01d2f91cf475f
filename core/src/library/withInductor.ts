import type { Stage } from '../stage/schema.js';
import { windingsOf } from '../stage/coupling.js';
import type { PartOf } from './libraryPart.js';

/** What a coefficient that is asked for may differ from that of a record. Common practice: it is known to a tenth or so. */
const NEAR = 0.1;
/** 0.8 − 0.7 is a little more than 0.1. */
const ROUNDING = 1e-9;

/** Why windings of a record cannot be those of a stage, in a sentence; undefined where they can. */
export function windingsMismatch(
  { phases, coupling }: Pick<Stage, 'phases' | 'coupling'>,
  { couplingCoefficient }: Pick<PartOf<'inductor'>, 'couplingCoefficient'>,
): string | undefined {
  if (coupling.kind === 'none')
    return couplingCoefficient === undefined
      ? undefined
      : 'It is a pair of windings on one core, and the phases of the stage are not coupled.';
  if (couplingCoefficient === undefined) return 'It is one winding alone, and the phases of the stage share cores.';
  if (windingsOf(phases, coupling.core) !== 2) return `It is a pair of windings, and ${String(phases)} share a core.`;
  if (coupling.kind === 'direct')
    return 'Its windings are wound against each other, so that their steady fluxes cancel: wound alike they would saturate it.';
  return Math.abs(couplingCoefficient - coupling.coefficient) > NEAR * (1 + ROUNDING)
    ? `Its coupling coefficient of ${String(couplingCoefficient)} is further than ${String(NEAR)} from the ${String(coupling.coefficient)} of the stage.`
    : undefined;
}
/** A stage with an inductor of the library in it; a pair of coupled windings brings its coefficient along. @public */
export function withInductor(stage: Stage, record: PartOf<'inductor'>): Stage {
  const { couplingCoefficient, ...inductor } = record;
  return {
    ...stage,
    ...(couplingCoefficient !== undefined &&
      stage.coupling.kind !== 'none' && { coupling: { ...stage.coupling, coefficient: couplingCoefficient } }),
    parts: { ...stage.parts, inductor },
  };
}
