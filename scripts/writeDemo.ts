import { writeFileSync } from 'node:fs';
import { designStage, genericParts, problemsSentence, stageSchema } from '@yundro/core';
import { leftToYundro } from '../server/src/demo/skerry9.js';

// Designs the stages of the demo that are left to Yundro, from the generic records.
const designs = leftToYundro.map((asked) => {
  const found = designStage(stageSchema.parse(asked), genericParts());
  if (!found.ok) throw new Error(problemsSentence(found.problems));
  return found.value.design.evaluated.evaluation.stage;
});
writeFileSync(new URL('../server/src/demo/designed.json', import.meta.url), `${JSON.stringify(designs, null, 2)}\n`);
