import { completeStage, type CompleteStage } from '../stage/completeStage.js';
import { loopSpreads } from '../tolerance/loopSpreads.js';
import { scatter } from '../tolerance/monteCarlo.js';
import { randomOf } from '../tolerance/random.js';

/** A stage with every value at a place within its tolerance. It has all that the stated one has: it is complete. */
function built(complete: CompleteStage, place: () => number): CompleteStage {
  const made = completeStage(scatter(complete.stage, loopSpreads(complete.stage), place));
  if (!made.ok) throw new Error('A stage within its tolerances lacks what the stated one has.');
  return made.value;
}

/** A board whose parts lie somewhere within their tolerances, by a seed. @public */
export function asBuilt(complete: CompleteStage, seed: number, index = 0): CompleteStage {
  return built(complete, randomOf(seed, index));
}

/** How far into their tolerances the parts of the lowest board lie, 0 at the low end. */
const LOW = 0.15;

/** A board whose parts are all low: little inductance and little slope make pulses alternate that do not on others. */
export function lowestBoard(complete: CompleteStage): CompleteStage {
  return built(complete, () => LOW);
}
