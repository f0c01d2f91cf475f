import { setTimeout as pause } from 'node:timers/promises';
import { say, SetupError } from './say.mjs';

/** Pauses before each further attempt, ms; after the last the part is given up. */
const PAUSES = [100, 200, 500, 1000, 2000, 4000, 4000, 8000];
/** So long a stretch of running, ms, makes up for one failure. */
const FORGIVEN = 500;

/**
 * Keep a part of Yundro running: start it again when it ends by itself, a few times in a row, with growing pauses.
 *
 * @param part.name what it is, for the console.
 * @param part.ended resolves when the one that runs now has ended.
 * @param part.restart starts it again.
 * @param isStopping whether it is meant to end.
 * @throws SetupError when it does not stay up.
 */
export async function keepAlive({ name, ended, restart }, isStopping, pauses = PAUSES) {
  const givenUp = () => new SetupError(`The ${name} does not stay up; start again with npm run demo.`);
  // Ends and failed starts in a row, with no good stretch between them.
  let failures = 0;
  for (;;) {
    const began = Date.now();
    await ended();
    if (isStopping()) return;
    failures = Math.max(0, failures - Math.floor((Date.now() - began) / FORGIVEN));
    say(`The ${name} ended unexpectedly; it is started again.`);
    for (let running = false; !running;) {
      if (failures >= pauses.length) throw givenUp();
      await pause(pauses[failures]);
      failures += 1;
      if (isStopping()) return;
      try {
        await restart();
        running = true;
      } catch (error) {
        if (isStopping()) return;
        say(`The ${name} could not be started again: ${error.message}`);
      }
    }
    say(`The ${name} is running again.`);
  }
}
