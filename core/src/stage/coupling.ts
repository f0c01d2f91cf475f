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

/**
 * The phases that stay at work when only so many do, in the order of their clocks, from 0: cores are shed whole, and the windings of a pair
 * stay half a period apart. Undefined where cores would have to be split, or none would be left.
 */
export function phasesAtWork(
  { phases, coupling }: Pick<Stage, 'phases' | 'coupling'>,
  working: number,
): readonly number[] | undefined {
  if (!(Number.isInteger(working) && working >= 1 && working <= phases)) return undefined;
  const together = coupling.kind === 'none' ? 1 : windingsOf(phases, coupling.core);
  if (working % together !== 0) return undefined;
  // Phase k shares its core with k + N/2, or with all: those of a core stand a share of the phases apart.
  const cores = phases / together;
  const kept = working / together;
  return Array.from({ length: working }, (_, slot) => Math.floor(slot / kept) * cores + (slot % kept));
}

/** The coupling of a stage, or the one to look at where it has none: inverse, on one core where there are no pairs. @public */
export const couplingLookedAt = ({ coupling, phases }: Stage): Coupling =>
  coupling.kind === 'none'
    ? { kind: 'inverse', coefficient: USUAL_COUPLING, core: phases % 2 === 1 ? 'all' : 'pairs' }
    : coupling;
