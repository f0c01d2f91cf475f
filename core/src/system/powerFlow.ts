import { operatingPointIn } from '../modes/operatingMode.js';
import { formatQuantity } from '../quantity/engineering.js';
import { completeStage } from '../stage/completeStage.js';
import { nominalInput } from '../stage/nominalInput.js';
import type { Stage } from '../stage/schema.js';
import { ROOM_TEMPERATURE } from '../thermal/room.js';
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
  /** W at the source for each watt that is lost here: one over the efficiencies on the way. */
  readonly atSource: number;
  /** A, how much more it could deliver; negative where it is asked for more than it is made for. */
  readonly spare: number;
}

/** The power through a project at one case. @public */
export interface PowerFlow {
  readonly flows: readonly FlowThrough[];
  /** W out of all sources, and into the loads. */
  readonly drawn: number;
  readonly delivered: number;
  /** Stages through which no power could be followed, with the reason, in sentences; what they would draw is not counted. */
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
    const ambient = stage.targets.ambientTemperature?.max ?? ROOM_TEMPERATURE;
    const condition = { inputVoltage, ambient, load: { kind: 'current' as const, current: outputCurrent } };
    const result = operatingPointIn(stage.operatingMode, complete.value, condition);
    if (result.kind !== 'solved') {
      broken.push(
        `${name} at ${formatQuantity(inputVoltage, 'V', 3)}, ${formatQuantity(outputCurrent, 'A', 3)}: ${result.reason}.`,
      );
      continue;
    }
    const { inputPower, outputPower } = result.point;
    found.set(name, {
      name,
      feeder: feeder?.name,
      inputVoltage,
      outputCurrent,
      input: inputPower,
      output: outputPower,
      loss: inputPower - outputPower,
      spare: max - outputCurrent,
    });
  }
  const flows: FlowThrough[] = [];
  const atSource = new Map<string, number>();
  for (const { name } of tree.order) {
    const flow = found.get(name);
    if (!flow) continue;
    const above = tree.feeder.get(name);
    const by = above && found.get(above.name);
    const worth = by ? ((atSource.get(by.name) ?? 1) * by.input) / by.output : 1;
    atSource.set(name, worth);
    flows.push({ ...flow, atSource: worth });
  }
  return {
    flows,
    drawn: flows.reduce((sum, { feeder, input }) => (feeder === undefined ? sum + input : sum), 0),
    delivered: flows.reduce((sum, { name, output }) => (tree.fed.has(name) ? sum : sum + output), 0),
    broken: broken.reverse(),
  };
}

/** What one way to a load loses against others. @public */
export interface Alternative {
  readonly name: string;
  /** Efficiency from the source to this load through the stages on the way. */
  readonly through: number;
  /** With a linear regulator from the source, at best; undefined where it cannot. */
  readonly linear: number | undefined;
}

/** The way to every load from its source, beside a linear regulator there. @public */
export function waysToLoads(tree: FeedingTree, { flows }: PowerFlow): readonly Alternative[] {
  const byName = new Map(flows.map((one) => [one.name, one]));
  return flows.flatMap((flow): readonly Alternative[] => {
    if (tree.fed.has(flow.name)) return [];
    let through = 1;
    let at: FlowThrough | undefined = flow;
    let volts = flow.inputVoltage;
    while (at) {
      through *= at.output / at.input;
      volts = at.inputVoltage;
      at = at.feeder === undefined ? undefined : byName.get(at.feeder);
    }
    const out = tree.order.find(({ name }) => name === flow.name)?.stage.targets.outputVoltage ?? NaN;
    return [{ name: flow.name, through, linear: out > 0 && out < volts ? out / volts : undefined }];
  });
}

/** A share of the time at a share of the full load. @public */
export interface LoadShare {
  readonly share: number;
  readonly hours: number;
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
