import type { Stage } from '../stage/schema.js';
import { topologyOf } from '../topology/topologies.js';
import type { Converter, Region } from '../topology/topology.js';

/** Which of the canonical converters a stage works as at a point; undefined where none, as in the transition of four switches. */
export const converterOf = (
  stage: Stage,
  { region }: { readonly region?: Region | undefined },
): Converter | undefined => topologyOf(stage).worksAs(region);
