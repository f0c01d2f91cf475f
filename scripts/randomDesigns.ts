// Designs stages for random targets of fixed seeds and says how each ended: `npm run designs -- 1 200`.
import { genericParts } from '../core/src/library/genericParts.js';
import { designStage } from '../core/src/design/designStage.js';
import { stageFromDocument } from '../core/src/stage/readStage.js';
import type { Stage } from '../core/src/stage/schema.js';
import { randomTargets } from '../core/testing/randomTargets.js';

const [first = 1, last = 200] = process.argv.slice(2).map(Number);
const inventory = genericParts();
const say = (words: string): void => void process.stdout.write(`${words}\n`);

/** Parts that are no record. */
function unnamed({ parts, rectifier }: Stage): number {
  const { inductor, highSide, lowSide, outputHighSide, outputLowSide, diode } = parts;
  const banks = [...(parts.outputCapacitors ?? []), ...(parts.inputCapacitors ?? [])];
  const all = [
    inductor,
    highSide,
    lowSide,
    outputHighSide,
    outputLowSide,
    rectifier === 'diode' ? diode : undefined,
    ...banks,
  ];
  return all.filter((part) => part !== undefined && part.name === undefined).length;
}

let [whole, nearest, lost] = [0, 0, 0];
const seconds: number[] = [];
for (let seed = first; seed <= last; seed += 1) {
  const read = stageFromDocument({ format: 'yundro-stage', version: 1, ...randomTargets(seed) });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const began = performance.now();
  const found = designStage(read.value, inventory);
  const took = (performance.now() - began) / 1000;
  seconds.push(took);
  const { topology, rectifier, control } = read.value;
  const what = `${String(seed).padStart(4)}  ${took.toFixed(1).padStart(5)} s  ${topology}, ${rectifier}, ${control.scheme}`;
  if (!found.ok) {
    lost += 1;
    say(`${what}: ${JSON.stringify(found.problems)}`);
    continue;
  }
  const { design, nearest: given } = found.value;
  const { verdicts, stage } = design.evaluated.evaluation;
  const failing = verdicts.filter(({ pass }) => !pass).map(({ target }) => target);
  const typed = unnamed(stage);
  if (failing.length === 0 && design.noLoop === undefined && typed === 0) whole += 1;
  else if (given.length > 0) nearest += 1;
  else lost += 1;
  if (failing.length > 0 || typed > 0 || design.noLoop !== undefined)
    say(
      `${what}: misses ${failing.join(', ')}; to give: ${JSON.stringify(given)}${typed > 0 ? `; ${String(typed)} parts are no record` : ''}${design.noLoop === undefined ? '' : `; ${design.noLoop}`}`,
    );
}
seconds.sort((a, b) => a - b);
const median = seconds[Math.floor(seconds.length / 2)] ?? NaN;
say(
  `${String(whole)} whole designs of records, ${String(nearest)} nearest designs with what to give, ${String(lost)} without either; median ${median.toFixed(1)} s, longest ${(seconds.at(-1) ?? NaN).toFixed(1)} s`,
);
if (lost > 0) process.exitCode = 1;
