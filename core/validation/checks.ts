import type { OutsideCheck } from './outsideCheck.js';
import { boardChecks } from './board.js';
import { engineChecks } from './engine.js';
import { loopChecks } from './loops.js';
import { inputImpedanceChecks } from './inputImpedance.js';
import { loopTextbookChecks } from './loopTextbook.js';
import { lossChecks } from './losses.js';
import { magneticsChecks } from './magnetics.js';
import { spiceChecks } from './spice.js';
import { spiceLoopChecks } from './spiceLoops.js';
import { textbookChecks } from './textbook.js';
import { transientChecks } from './transients.js';
import { uncertaintyChecks } from './uncertainty.js';

/** Every check against something outside the project: the tests run them, docs/validation.md lists them. */
export const outsideChecks: readonly OutsideCheck[] = [
  ...textbookChecks,
  ...lossChecks,
  ...engineChecks,
  ...spiceChecks,
  ...loopTextbookChecks,
  ...inputImpedanceChecks,
  ...loopChecks,
  ...spiceLoopChecks,
  ...transientChecks,
  ...uncertaintyChecks,
  ...magneticsChecks,
  ...boardChecks,
];
