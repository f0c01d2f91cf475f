import type { Stage } from '@yundro/core';
import { skerry9 } from '../server/src/demo/skerry9.js';

/** A demo stage by its name. */
export function demoStage(name: string): Stage {
  const stage = skerry9.stages.find((one) => one.name === name);
  if (!stage) throw new Error(`The demo has no stage ${name}.`);
  return stage;
}

/** The stage with an inductance of its own for each run, so that nothing kept from an earlier run serves this one. */
export function variant(stage: Stage, run: number): Stage {
  const { inductor } = stage.parts;
  if (!inductor) throw new Error('The stage has no inductor.');
  const inductance = inductor.inductance * (1 + 1e-4 * (run + 0.5));
  return { ...stage, parts: { ...stage.parts, inductor: { ...inductor, inductance } } };
}
