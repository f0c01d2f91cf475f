import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';
import type { PartOf } from './libraryPart.js';

/**
 * The highest duty ratio that a controller reaches in a stage at a switching frequency, Hz. A main switch may stay on for good only where
 * that shorts nothing: where the output lies below the input.
 */
export function controllerDuty(
  { features, minimumOffTime }: PartOf<'controller'>,
  stage: Stage,
  frequency: number,
): number {
  if (features.includes('full-duty') && topologyOf(stage).reach === 'below') return 1;
  // D_max = 1 − t_off f
  return 1 - minimumOffTime * frequency;
}
