import type { CompleteStage } from '../stage/completeStage.js';
import type { Problem } from '../result.js';
import type { Stage, Topology } from '../stage/schema.js';
import { buck } from './buck.js';
import type { OperatingCondition, PowerStage } from './powerStage.js';

type Drawing = (complete: CompleteStage, condition: OperatingCondition) => PowerStage;

/** The topologies the engine can draw. The schema knows more; those join as their drawings do. */
const DRAWINGS: Partial<Record<Topology, Drawing>> = { buck };

/** What keeps the engine from working a stage, or undefined when nothing does. */
export function undrawn({ topology, coupling }: Stage): Problem | undefined {
  if (!DRAWINGS[topology]) {
    return {
      code: 'not-allowed',
      path: 'topology',
      received: `“${topology}”`,
      expected: `${Object.keys(DRAWINGS).join(' or ')}, which this version can work`,
    };
  }
  if (coupling.kind !== 'none') {
    return {
      code: 'not-allowed',
      path: 'coupling.kind',
      received: `“${coupling.kind}”`,
      expected: '“none”: coupled phases cannot be worked yet',
    };
  }
  return undefined;
}

/** The circuit of a stage at an operating condition. */
export function powerStageOf(complete: CompleteStage, condition: OperatingCondition): PowerStage {
  const draw = DRAWINGS[complete.stage.topology];
  if (!draw) throw new Error(`The topology ${complete.stage.topology} has no circuit drawing yet.`);
  return draw(complete, condition);
}
