import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { loopSpreads } from '../tolerance/loopSpreads.js';
import { scatter } from '../tolerance/monteCarlo.js';
import { randomOf } from '../tolerance/random.js';

/** A board whose parts lie somewhere within their tolerances, by a seed. @public */
export function asBuilt(complete: CompleteStage, seed: number, index = 0): CompleteStage {
  const made = completeStage(scatter(complete.stage, loopSpreads(complete.stage), randomOf(seed, index)));
  return made.ok ? made.value : complete;
}

/** How far into their tolerances the parts of the lowest board lie, 0 at the low end. */
const LOW = 0.15;

/** A board whose parts are all low: little inductance and little slope make pulses alternate that do not on others. */
export function lowestBoard(complete: CompleteStage): CompleteStage {
  const made = completeStage(scatter(complete.stage, loopSpreads(complete.stage), () => LOW));
  return made.ok ? made.value : complete;
}
