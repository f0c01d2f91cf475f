import {
  byInterest,
  completeStage,
  couplingStudy,
  couplingSweep,
  phaseCounts,
  recommendedCount,
  sharingStudy,
  shedding,
  type Coupling,
  type CouplingStudy,
  type CouplingSweep,
  type Inventory,
  type LoadShare,
  type Objective,
  type PhaseCount,
  type PhaseStep,
  type Recommended,
  type SharingStudy,
  type Shedding,
  type Stage,
} from '@yundro/core';
import { BOARDS } from './boards';

/** What is known of the numbers of phases so far. */
export interface CountedPhases {
  readonly at: 'drafting' | 'simulating' | 'done';
  readonly counts: readonly PhaseCount[];
  readonly steps: readonly PhaseStep[];
  readonly recommended: Recommended | undefined;
}

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
    const sofar = (at: CountedPhases['at']): CountedPhases => ({
      at,
      counts: [...counts],
      steps: [...steps],
      recommended: recommendedCount(counts, objective, steps),
    });
    const studied = [];
    for (const one of phaseCounts(stage, inventory, objective)) {
      studied.push(one);
      counts.push(one.count);
      tell(sofar('drafting'));
    }
    for (const { step } of byInterest(studied, objective, stage.phases)) {
      const found = step();
      if (!found) continue;
      steps.push(found);
      tell(sofar('simulating'));
    }
    return sofar('done');
  },
  couplingStudy(stage: Stage, coupling: Coupling): CouplingStudy | string | undefined {
    const complete = completeStage(stage);
    return complete.ok ? couplingStudy(complete.value, coupling) : undefined;
  },
  couplingSweep(stage: Stage, core: Coupling['core']): CouplingSweep | string | undefined {
    const complete = completeStage(stage);
    return complete.ok ? couplingSweep(complete.value, core) : undefined;
  },
  /** Boards of unequal phases, told of as they are worked. */
  sharing(stage: Stage, tell: (sofar: SharingStudy) => void): SharingStudy | string | undefined {
    const complete = completeStage(stage);
    return complete.ok ? sharingStudy(complete.value, BOARDS, 1, tell) : undefined;
  },
  shedding(stage: Stage, profile: readonly LoadShare[]): Shedding | string | undefined {
    const complete = completeStage(stage);
    return complete.ok ? shedding(complete.value, profile) : undefined;
  },
};
