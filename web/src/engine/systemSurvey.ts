import {
  feedingTree,
  meanDrawn,
  meetingImpedances,
  powerFlow,
  singleStages,
  startUpOrder,
  waysToLoads,
  type Alternative,
  type Fed,
  type Inventory,
  type LoadShare,
  type Meeting,
  type NoMeeting,
  type Objective,
  type PowerFlow,
  type SingleStage,
  type Start,
  type SystemCase,
} from '@yundro/core';

/** A project at one case, and over the hours. */
export interface WorkedSystem {
  readonly flow: PowerFlow;
  readonly ways: readonly Alternative[];
  readonly amiss: readonly string[];
}

/** How stages that feed each other bear on each other. */
export interface Interplay {
  readonly meetings: readonly (Meeting | NoMeeting)[];
  readonly starts: readonly Start[];
}

/** Questions about the stages of a project together. */
export const systemSurvey = {
  system(stages: readonly Fed[], at: SystemCase): WorkedSystem {
    const tree = feedingTree(stages);
    const flow = powerFlow(tree, at);
    return { flow, ways: waysToLoads(tree, flow), amiss: tree.amiss };
  },
  /** How the stages bear on each other. */
  interplay(stages: readonly Fed[], at: SystemCase): Interplay {
    const tree = feedingTree(stages);
    return { meetings: meetingImpedances(tree, powerFlow(tree, at)), starts: startUpOrder(tree) };
  },
  /** One stage from the source for every load behind several, told of as they are drafted. */
  singleStages(
    stages: readonly Fed[],
    inventory: Inventory,
    objective: Objective,
    tell: (sofar: readonly SingleStage[]) => void,
  ): readonly SingleStage[] {
    const found: SingleStage[] = [];
    for (const one of singleStages(feedingTree(stages), inventory, objective)) {
      found.push(one);
      tell([...found]);
    }
    return found;
  },
  /** W, out of all sources over the hours at each load. */
  meanDrawn(stages: readonly Fed[], profile: readonly LoadShare[]): number | undefined {
    return meanDrawn(feedingTree(stages), profile);
  },
};
