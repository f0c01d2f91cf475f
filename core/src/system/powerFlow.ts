import { operatingPointIn } from '../modes/operatingMode.js';
import { formatQuantity } from '../quantity/engineering.js';
import { completeStage } from '../stage/completeStage.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { Stage } from '../stage/schema.js';
import { ambientOf } from '../survey/efficiency.js';
import type { LoadShare } from '../survey/shedding.js';
import type { FeedingTree } from './feedingTree.js';

/** Where the source stands, and how much of their full load the stages carry that feed no other. @public */
export interface SystemCase {
  readonly source: 'min' | 'nominal' | 'max';
  /** 0 to 1; none carries less than its lightest load. */
  readonly load: number;
}

/** A stage with the power through it. @public */
export interface FlowThrough {
  readonly name: string;
  readonly feeder: string | undefined;
  readonly inputVoltage: number;
  /** A, at its output: its own load, or what it feeds. */
  readonly outputCurrent: number;
  /** W */
  readonly input: number;
  readonly output: number;
  readonly loss: number;
  /** W at the source for each watt that is lost here: one over the efficiencies on the way; undefined where that is broken. */
  readonly atSource: number | undefined;
  /** A, how much more it could deliver; negative where it is asked for more than it is made for. */
  readonly spare: number;
}

/** The power through a project at one case. @public */
export interface PowerFlow {
  readonly flows: readonly FlowThrough[];
  /** W out of all sources, and into the loads to which they could be followed. */
  readonly drawn: number;
  readonly delivered: number;
  /** Stages through which no power could be followed, with the reason, in sentences; neither they nor what they feed are counted. */
  readonly broken: readonly string[];
}

const inputOf = (stage: Stage, source: SystemCase['source']): number =>
  source === 'nominal' ? nominalInput(stage) : stage.targets.inputVoltage[source];

/**
 * The power through the stages of a project: loads at the ends are given, what feeds them carries what they draw at its output voltage,
 * each by the engine in its own operating mode.
 *
 * @public
 */
export function powerFlow(tree: FeedingTree, { source, load: share }: SystemCase): PowerFlow {
  const found = new Map<string, Omit<FlowThrough, 'atSource'>>();
  const broken: string[] = [];
  // What is fed comes after its feeder in the order: backwards every load is known before what carries it.
  for (const { name, stage } of [...tree.order].reverse()) {
    const feeder = tree.feeder.get(name);
    const inputVoltage = feeder ? feeder.stage.targets.outputVoltage : inputOf(stage, source);
    const children = tree.fed.get(name) ?? [];
    const lacking = children.filter((one) => !found.has(one.name));
    if (lacking.length > 0) {
      broken.push(`${name}: what it feeds is not known for ${lacking.map((one) => one.name).join(' and ')}.`);
      continue;
    }
    const { min, max } = stage.targets.outputCurrent;
    const volts = Math.abs(stage.targets.outputVoltage);
    const outputCurrent =
      children.length === 0
        ? Math.max(share * max, min)
        : children.reduce((sum, one) => sum + (found.get(one.name)?.input ?? 0), 0) / volts;
    const complete = completeStage(stage);
    if (!complete.ok) {
      broken.push(`${name}: it has not all its parts yet.`);
      continue;
    }
    const ambient = ambientOf(complete.value);
    const condition = { inputVoltage, ambient, load: { kind: 'current' as const, current: outputCurrent } };
    const result = operatingPointIn(stage.operatingMode, complete.value, condition);
    if (result.kind !== 'solved') {
      broken.push(
        `${name} at ${formatQuantity(inputVoltage, 'V', 3)}, ${formatQuantity(outputCurrent, 'A', 3)}: ${result.reason}.`,
      );
      continue;
    }
    const { inputPower, outputPower, losses } = result.point;
    found.set(name, {
      name,
      feeder: feeder?.name,
      inputVoltage,
      outputCurrent,
      input: inputPower,
      output: outputPower,
      loss: losses['total'] ?? NaN,
      spare: max - outputCurrent,
    });
  }
  const flows: FlowThrough[] = [];
  const atSource = new Map<string, number>();
  for (const { name } of tree.order) {
    const flow = found.get(name);
    if (!flow) continue;
    const by = flow.feeder === undefined ? undefined : found.get(flow.feeder);
    const above = by && atSource.get(by.name);
    const worth =
      flow.feeder === undefined ? 1 : by && above !== undefined ? (above * by.input) / by.output : undefined;
    if (worth !== undefined) atSource.set(name, worth);
    flows.push({ ...flow, atSource: worth });
  }
  const reached = flows.filter((one) => one.atSource !== undefined);
  return {
    flows,
    drawn: reached.reduce((sum, { feeder, input }) => (feeder === undefined ? sum + input : sum), 0),
    delivered: reached.reduce((sum, { name, output }) => (tree.fed.has(name) ? sum : sum + output), 0),
    broken: broken.reverse(),
  };
}

/** The way to a load beside another. @public */
export interface Alternative {
  readonly name: string;
  /** Efficiency from the source to this load through the stages on the way. */
  readonly through: number;
  /** With a linear regulator from the source, at best; undefined where it cannot. */
  readonly linear: number | undefined;
}

/** The way to every load that is reached from its source, beside a linear regulator there. @public */
export function waysToLoads(tree: FeedingTree, { flows }: PowerFlow): readonly Alternative[] {
  const byName = new Map(flows.map((one) => [one.name, one]));
  return tree.order.flatMap(({ name, stage }): readonly Alternative[] => {
    const flow = byName.get(name);
    if (flow?.atSource === undefined || tree.fed.has(name)) return [];
    let source: FlowThrough = flow;
    for (let above = tree.feeder.get(name); above; above = tree.feeder.get(above.name))
      source = byName.get(above.name) ?? source;
    const out = stage.targets.outputVoltage;
    return [
      {
        name,
        through: flow.output / (flow.input * flow.atSource),
        linear: out > 0 && out < source.inputVoltage ? out / source.inputVoltage : undefined,
      },
    ];
  });
}

/**
 * Mean power out of the sources over hours at shares of the full load, nominal source, W; undefined where no hours are given, or some
 * load has no flow.
 *
 * @public
 */
export function meanDrawn(tree: FeedingTree, profile: readonly LoadShare[]): number | undefined {
  const total = profile.reduce((sum, { hours }) => sum + hours, 0);
  if (total <= 0) return undefined;
  let mean = 0;
  for (const { share, hours } of profile) {
    if (hours === 0) continue;
    const { drawn, broken } = powerFlow(tree, { source: 'nominal', load: share });
    if (broken.length > 0) return undefined;
    mean += (drawn * hours) / total;
  }
  return mean;
}
