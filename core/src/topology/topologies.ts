import { boost } from './boost.js';
import { buck } from './buck.js';
import { fourSwitchBuckBoost } from './fourSwitchBuckBoost.js';
import { invertingBuckBoost } from './invertingBuckBoost.js';
import type { Topology } from './topology.js';

/** Every topology, by its name in the stage file: the one list. @public */
export const TOPOLOGIES = {
  buck,
  boost,
  'inverting-buck-boost': invertingBuckBoost,
  'four-switch-buck-boost': fourSwitchBuckBoost,
} as const satisfies Readonly<Record<string, Topology>>;

/** @public */
export type TopologyName = keyof typeof TOPOLOGIES;

/** The names, in the order in which they are offered. @public */
export const TOPOLOGY_NAMES = Object.keys(TOPOLOGIES) as [TopologyName, ...TopologyName[]];

/** The record of a stage's topology. @public */
export const topologyOf = ({ topology }: { readonly topology: TopologyName }): Topology => TOPOLOGIES[topology];
