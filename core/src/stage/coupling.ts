import type { Stage } from './schema.js';

/** How the inductors of a stage are coupled, where they are. @public */
export type Coupling = Exclude<Stage['coupling'], { readonly kind: 'none' }>;

/** A coefficient to begin with. Common practice for integrated pairs: a half or a little less. @public */
export const USUAL_COUPLING = 0.4;

/** Windings that share a core. @public */
export const windingsOf = (phases: number, core: Coupling['core']): number => (core === 'all' ? phases : 2);

/** Inductors on the board: one for each phase, or one for those that share a core. */
export const coresOf = ({ phases, coupling }: Pick<Stage, 'phases' | 'coupling'>): number =>
  coupling.kind === 'none' ? phases : phases / windingsOf(phases, coupling.core);

/** The coupling of a stage, or the one to look at where it has none: inverse, on one core where there are no pairs. @public */
export const couplingLookedAt = ({ coupling, phases }: Stage): Coupling =>
  coupling.kind === 'none'
    ? { kind: 'inverse', coefficient: USUAL_COUPLING, core: phases % 2 === 1 ? 'all' : 'pairs' }
    : coupling;
