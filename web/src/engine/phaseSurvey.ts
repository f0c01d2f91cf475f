import {
  byInterest,
  completeStage,
  couplingStudy,
  phaseCounts,
  recommendedCount,
  sharingStudy,
  shedding,
  type CouplingStudy,
  type Inventory,
  type Objective,
  type PhaseCount,
  type PhaseStep,
  type Recommended,
  type SharingStudy,
  type Shedding,
  type Stage,
} from '@yundro/core';

/** What is known of the numbers of phases so far. */
export interface CountedPhases {
  readonly counts: readonly PhaseCount[];
  readonly steps: readonly PhaseStep[];
  readonly recommended: Recommended | undefined;
}

/** Boards scattered. */
const BOARDS = 200;

/** Questions about the phases of a stage; the words for why there is no answer. */
export const phaseSurvey = {
  /** The stage with 1 to 12 phases, told of as they are drafted and as their load steps are simulated. */
  phaseCounts(
    stage: Stage,
    inventory: Inventory,
    objective: Objective,
    tell: (sofar: CountedPhases) => void,
  ): CountedPhases {
    const counts: PhaseCount[] = [];
    const steps: PhaseStep[] = [];
    const sofar = (): CountedPhases => ({
      counts: [...counts],
      steps: [...steps],
      recommended: recommendedCount(counts, objective, steps),
    });
    const studied = [];
    for (const one of phaseCounts(stage, inventory, objective)) {
      studied.push(one);
      counts.push(one.count);
      tell(sofar());
    }
    for (const { step } of byInterest(studied, objective, stage.phases)) {
      const found = step();
      if (!found) continue;
      steps.push(found);
      tell(sofar());
    }
    return sofar();
  },
  couplingStudy(
    stage: Stage,
    coupling: Exclude<Stage['coupling'], { readonly kind: 'none' }>,
  ): CouplingStudy | string | undefined {
    const complete = completeStage(stage);
    return complete.ok ? couplingStudy(complete.value, coupling) : undefined;
  },
  /** Boards of unequal phases. */
  sharing(stage: Stage): SharingStudy | string | undefined {
    const complete = completeStage(stage);
    return complete.ok ? sharingStudy(complete.value, BOARDS) : undefined;
  },
  shedding(stage: Stage): Shedding | string | undefined {
    const complete = completeStage(stage);
    return complete.ok ? shedding(complete.value) : undefined;
  },
};
