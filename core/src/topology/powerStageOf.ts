import type { CompleteStage } from '../stage/completeStage.js';
import type { Topology } from '../stage/schema.js';
import { boost } from './boost.js';
import { buck } from './buck.js';
import { fourSwitchBuckBoost } from './fourSwitchBuckBoost.js';
import { invertingBuckBoost } from './invertingBuckBoost.js';
import type { OperatingCondition, PowerStage } from './powerStage.js';

type Drawing = (complete: CompleteStage, condition: OperatingCondition) => PowerStage;

/** The drawing of each topology. */
const DRAWINGS: Readonly<Record<Topology, Drawing>> = {
  buck,
  boost,
  'inverting-buck-boost': invertingBuckBoost,
  'four-switch-buck-boost': fourSwitchBuckBoost,
};

/** The circuit of a stage at an operating condition. */
export function powerStageOf(complete: CompleteStage, condition: OperatingCondition): PowerStage {
  return DRAWINGS[complete.stage.topology](complete, condition);
}
