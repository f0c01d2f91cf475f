import { firstDraft } from '../design/firstDraft.js';
import { figuresOf, fullLoadPoint, type Figures, type Objective } from '../design/merit.js';
import { freed } from '../design/freed.js';
import type { Inventory } from '../library/inventory.js';
import type { Stage } from '../stage/schema.js';
import { TOPOLOGY_NAMES, type TopologyName } from '../topology/topologies.js';
import type { FeedingTree } from './feedingTree.js';

/** A load that is reached through several stages, and one stage from the source in their place. @public */
export interface SingleStage {
  readonly name: string;
  readonly source: string;
  /** The best draft from records; undefined where its targets make no stage of any topology. */
  readonly found:
    | {
        readonly topology: TopologyName;
        /** At nominal source and full load. */
        readonly efficiency: number;
        readonly duty: number;
        readonly figures: Figures;
        /** Targets it misses before its loop, in words. */
        readonly misses: readonly string[];
      }
    | undefined;
}

/**
 * For every load behind more than one stage: a single stage from the source to it, for its own targets, drafted from records. Its own
 * topology is tried first, then those that can.
 *
 * @public
 */
export function* singleStages(tree: FeedingTree, inventory: Inventory, objective: Objective): Generator<SingleStage> {
  for (const { name, stage } of tree.order) {
    const feeder = tree.feeder.get(name);
    if (!feeder || tree.fed.has(name)) continue;
    let source = feeder;
    for (let above = tree.feeder.get(feeder.name); above; above = tree.feeder.get(above.name)) source = above;
    yield { name, source: source.name, found: drafted(stage, source.stage, inventory, objective) };
  }
}

function drafted(leaf: Stage, from: Stage, inventory: Inventory, objective: Objective): SingleStage['found'] {
  const { source } = from.parts;
  const open = freed({ ...leaf, pinned: [] });
  for (const topology of [leaf.topology, ...TOPOLOGY_NAMES.filter((one) => one !== leaf.topology)]) {
    const asked: Stage = {
      ...open,
      fedBy: undefined,
      topology,
      coupling: { kind: 'none' },
      targets: { ...leaf.targets, inputVoltage: from.targets.inputVoltage },
      parts: source ? { source } : {},
    };
    const draft = firstDraft(asked, inventory, objective);
    const point = draft && fullLoadPoint(draft.evaluated)?.point;
    if (!draft || !point) continue;
    const { efficiency, duty } = point;
    return { topology, efficiency, duty, figures: figuresOf(draft.evaluated), misses: draft.misses };
  }
  return undefined;
}
