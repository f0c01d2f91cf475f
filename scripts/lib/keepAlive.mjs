import { setTimeout as pause } from 'node:timers/promises';
import { say, SetupError } from './say.mjs';

/** Pauses before each further attempt, ms; after the last the part is given up. */
const PAUSES = [200, 500, 1000, 2000, 4000];
/** A part that has run so long is well again, ms. */
const WELL = 5000;

/**
 * Keep a part of Yundro running: start it again when it ends by itself, a few times in a row, with growing pauses.
 *
 * @param part.name what it is, for the console.
 * @param part.ended resolves when the one that runs now has ended.
 * @param part.restart starts it again.
 * @param isStopping whether it is meant to end.
 * @throws SetupError when it does not stay up.
 */
export async function keepAlive({ name, ended, restart }, isStopping) {
  for (;;) {
    const began = Date.now();
    await ended();
    if (isStopping()) return;
    say(`The ${name} ended unexpectedly; it is started again.`);
    let failures = Date.now() - began > WELL ? 0 : 1;
    for (;;) {
      if (failures > PAUSES.length)
        throw new SetupError(`The ${name} does not stay up; start again with npm run demo.`);
      await pause(PAUSES[Math.max(0, failures - 1)]);
      if (isStopping()) return;
      try {
        await restart();
        break;
      } catch (error) {
        if (isStopping()) return;
        say(`The ${name} could not be started again: ${error.message}`);
        failures += 1;
        if (failures > PAUSES.length)
          throw new SetupError(`The ${name} does not stay up; start again with npm run demo.`);
      }
    }
    say(`The ${name} is running again.`);
  }
}
