import {
  feedingTree,
  meanDrawn,
  powerFlow,
  waysToLoads,
  type Alternative,
  type Fed,
  type LoadShare,
  type PowerFlow,
  type SystemCase,
} from '@yundro/core';

/** A project at one case, and over the hours. */
export interface WorkedSystem {
  readonly flow: PowerFlow;
  readonly ways: readonly Alternative[];
  readonly amiss: readonly string[];
}

/** Questions about the stages of a project together. */
export const systemSurvey = {
  system(stages: readonly Fed[], at: SystemCase): WorkedSystem {
    const tree = feedingTree(stages);
    const flow = powerFlow(tree, at);
    return { flow, ways: waysToLoads(tree, flow), amiss: tree.amiss };
  },
  /** W, out of all sources over the hours at each load. */
  meanDrawn(stages: readonly Fed[], profile: readonly LoadShare[]): number | undefined {
    return meanDrawn(feedingTree(stages), profile);
  },
};
