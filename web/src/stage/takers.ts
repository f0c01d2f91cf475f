import { TOPOLOGIES, TOPOLOGY_NAMES, type TopologyName } from '@yundro/core';

/** Topologies in the order in which targets are offered to them, until one takes them: first those whose output may lie anywhere. */
export const TAKERS: readonly TopologyName[] = [
  ...TOPOLOGY_NAMES.filter((name) => TOPOLOGIES[name].reach === 'any'),
  ...TOPOLOGY_NAMES.filter((name) => TOPOLOGIES[name].reach !== 'any'),
];
