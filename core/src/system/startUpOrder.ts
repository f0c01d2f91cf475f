import { formatQuantity } from '../quantity/engineering.js';
import type { Stage } from '../stage/schema.js';
import type { Fed, FeedingTree } from './feedingTree.js';

/** How a stage comes up with the others, its source there at time 0. @public */
export interface Start {
  readonly name: string;
  readonly feeder: string | undefined;
  /** s: its controller begins as its input reaches the lock-out. */
  readonly begins: number;
  /** s: its output is up. */
  readonly up: number;
  /** A, out of it as it rises: into its own output capacitors, and into what it feeds; undefined where no soft start is stated. */
  readonly charging: number | undefined;
  readonly fed: number | undefined;
  /** A, it can deliver: its current limit, or its full load where it states none. */
  readonly deliverable: number;
  /** Sentences. */
  readonly cautions: readonly string[];
}

const capacitance = (banks: Stage['parts']['inputCapacitors']): number =>
  (banks ?? []).reduce((sum, one) => sum + one.capacitance * one.count, 0);

/** s that its output takes to rise; all at once where no soft start is stated. */
const rise = ({ control }: Stage): number => control.softStartTime ?? 0;

/** A it can deliver at its output. */
function deliverableOf({ control, phases, targets }: Stage): number {
  const { currentLimit } = control;
  return currentLimit === undefined ? targets.outputCurrent.max : currentLimit * phases;
}

/**
 * In which order the stages of a project come up, and what each carries meanwhile: its own output capacitors, the input capacitors of what
 * it feeds, and what those draw as they begin. A straight rise of every output is taken, and loads that begin once their rail is up.
 *
 * i = C dV/dt, capacitors without bias; what a fed stage draws is what it charges, by its power, at the voltage that feeds it.
 *
 * @public
 */
export function startUpOrder(tree: FeedingTree): readonly Start[] {
  const times = new Map<string, Times>();
  for (const { name, stage } of tree.order) {
    const feeder = tree.feeder.get(name);
    const by = feeder && times.get(feeder.name);
    let begins = 0;
    if (feeder && by) {
      const { rising = 0 } = stage.control.undervoltageLockout ?? {};
      const share = Math.min(1, rising / Math.abs(feeder.stage.targets.outputVoltage));
      begins = by.begins + share * (by.up - by.begins);
    }
    times.set(name, { begins, up: begins + rise(stage) });
  }
  return tree.order.map(({ name, stage }): Start => {
    const feeder = tree.feeder.get(name);
    const { begins, up } = times.get(name) ?? { begins: 0, up: 0 };
    const carried = currents(tree, times, { name, stage });
    return {
      name,
      feeder: feeder?.name,
      begins,
      up,
      ...carried,
      cautions: [...(feeder ? begun(name, stage, feeder) : []), ...limited(name, carried)],
    };
  });
}

/** s */
interface Times {
  readonly begins: number;
  readonly up: number;
}
type Carried = Pick<Start, 'charging' | 'fed' | 'deliverable'>;

function currents(tree: FeedingTree, times: ReadonlyMap<string, Times>, { name, stage }: Fed): Carried {
  const deliverable = deliverableOf(stage);
  if (rise(stage) === 0) return { charging: undefined, fed: undefined, deliverable };
  const volts = Math.abs(stage.targets.outputVoltage);
  // dV/dt
  const slope = volts / rise(stage);
  const children = tree.fed.get(name) ?? [];
  const hanging = children.reduce((sum, one) => sum + capacitance(one.stage.parts.inputCapacitors), 0);
  const up = times.get(name)?.up ?? 0;
  // What a child that begins meanwhile charges at its voltage, by power; its load comes once its rail is up.
  const starting = children
    .filter((one) => (times.get(one.name)?.begins ?? 0) < up)
    .reduce((sum, { stage: child }) => {
      const out = Math.abs(child.targets.outputVoltage);
      const charging = rise(child) > 0 ? (capacitance(child.parts.outputCapacitors) * out) / rise(child) : 0;
      return sum + (out * charging) / volts;
    }, 0);
  return { charging: capacitance(stage.parts.outputCapacitors) * slope, fed: hanging * slope + starting, deliverable };
}

function begun(name: string, { control, targets }: Stage, feeder: Fed): readonly string[] {
  const lockout = control.undervoltageLockout;
  const volts = Math.abs(feeder.stage.targets.outputVoltage);
  if (!lockout)
    return [
      `${name} states no lock-out: it begins while ${feeder.name} is still rising, at its lowest input and highest current. Give it one near ${formatQuantity(targets.inputVoltage.min, 'V', 3)}.`,
    ];
  return lockout.rising > volts
    ? [
        `${name} never starts: its lock-out wants ${formatQuantity(lockout.rising, 'V', 3)}, and ${feeder.name} gives ${formatQuantity(volts, 'V', 3)}.`,
      ]
    : [];
}

function limited(name: string, { charging, fed, deliverable }: Carried): readonly string[] {
  if (charging === undefined || fed === undefined)
    return [`${name} states no soft start: its capacitors are charged as fast as its current limit lets it.`];
  if (charging + fed <= deliverable) return [];
  return [
    `${name} would have to carry ${formatQuantity(charging + fed, 'A', 3)} as it comes up and can ${formatQuantity(deliverable, 'A', 3)}: a soft start ${((charging + fed) / deliverable).toFixed(1)} times as long, or one stage after the other.`,
  ];
}
