import { formatQuantity } from '../quantity/engineering.js';
import type { Stage } from '../stage/schema.js';

/** A stage of a project, under the name it is fed by. @public */
export interface Fed {
  readonly name: string;
  readonly stage: Stage;
}

/** Stages in the order in which they feed each other, feeders first, and what is amiss with how they are fed. @public */
export interface FeedingTree {
  readonly order: readonly Fed[];
  /** By name: the stage that feeds it, where one does. */
  readonly feeder: ReadonlyMap<string, Fed>;
  readonly fed: ReadonlyMap<string, readonly Fed[]>;
  /** Sentences. */
  readonly amiss: readonly string[];
}

/** Why the output of one stage is no input of another, in words; undefined where it is. */
function misfit(feeder: Fed, { name, stage }: Fed): string | undefined {
  const { outputVoltage } = feeder.stage.targets;
  const { min, max } = stage.targets.inputVoltage;
  if (outputVoltage >= min && outputVoltage <= max) return undefined;
  return `${feeder.name} gives ${formatQuantity(outputVoltage, 'V', 3)}; ${name} takes ${formatQuantity(min, 'V', 3)} to ${formatQuantity(max, 'V', 3)}: give one of them another target.`;
}

/** How the stages of a project feed each other. A feeder that is not there, or that is fed by what it feeds, counts as none. @public */
export function feedingTree(stages: readonly Fed[]): FeedingTree {
  const amiss: string[] = [];
  const byName = new Map<string, Fed>();
  for (const one of stages) {
    if (byName.has(one.name))
      amiss.push(`Two stages are called ${one.name}: the second is left out until it has a name of its own.`);
    else byName.set(one.name, one);
  }
  const feeder = new Map<string, Fed>();
  for (const one of byName.values()) {
    const { fedBy } = one.stage;
    if (fedBy === undefined) continue;
    const by = byName.get(fedBy);
    if (!by) {
      amiss.push(`${one.name} is fed by ${fedBy}, which is not in this project.`);
      continue;
    }
    // Up from the feeder: where the way leads back, nothing feeds anything.
    let above: Fed | undefined = by;
    while (above && above !== one) above = feeder.get(above.name);
    if (above === one) {
      amiss.push(
        `${one.name} is fed by ${fedBy}, which it feeds itself: one of the two must be fed by something else.`,
      );
      continue;
    }
    const unfit = misfit(by, one);
    if (unfit !== undefined) amiss.push(unfit);
    // A stage of this kind takes no input below its ground.
    if (by.stage.targets.outputVoltage > 0) feeder.set(one.name, by);
  }
  const fed = new Map<string, readonly Fed[]>();
  for (const one of byName.values()) {
    const by = feeder.get(one.name);
    if (by) fed.set(by.name, [...(fed.get(by.name) ?? []), one]);
  }
  const order: Fed[] = [];
  const visit = (one: Fed): void => {
    order.push(one);
    for (const next of fed.get(one.name) ?? []) visit(next);
  };
  for (const one of byName.values()) if (!feeder.has(one.name)) visit(one);
  return { order, feeder, fed, amiss };
}
