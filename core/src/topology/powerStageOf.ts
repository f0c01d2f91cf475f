import type { CompleteStage } from '../stage/completeStage.js';
import type { Topology } from '../stage/schema.js';
import { buck } from './buck.js';
import type { OperatingCondition, PowerStage } from './powerStage.js';

type Drawing = (complete: CompleteStage, condition: OperatingCondition) => PowerStage;

/** The topologies the engine can draw. The schema knows more; those join as their drawings do. */
const DRAWINGS: Partial<Record<Topology, Drawing>> = { buck };

export function isDrawn(topology: Topology): boolean {
  return DRAWINGS[topology] !== undefined;
}

/** The circuit of a stage at an operating condition. */
export function powerStageOf(complete: CompleteStage, condition: OperatingCondition): PowerStage {
  const draw = DRAWINGS[complete.stage.topology];
  if (!draw) throw new Error(`The topology ${complete.stage.topology} has no circuit drawing yet.`);
  return draw(complete, condition);
}
