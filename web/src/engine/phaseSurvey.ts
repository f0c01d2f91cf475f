import {
  byInterest,
  completeStage,
  couplingStudy,
  couplingSweep,
  criticalStudy,
  phaseChange,
  phaseCounts,
  recommendedCount,
  sharingStudy,
  shedding,
  type Coupling,
  type CouplingStudy,
  type CouplingSweep,
  type CriticalStudy,
  type Inventory,
  type LoadShare,
  type Objective,
  type PhaseChange,
  type PhaseCount,
  type PhaseStep,
  type Recommended,
  type SharingStudy,
  type Shedding,
  type Stage,
} from '@yundro/core';
import type { Curve } from '../charts/curves';
import { runCurve } from '../transient/runCurves';
import { BOARDS } from './boards';

/** What is known of the numbers of phases so far. */
export interface CountedPhases {
  readonly at: 'drafting' | 'simulating' | 'done';
  readonly counts: readonly PhaseCount[];
  readonly steps: readonly PhaseStep[];
  readonly recommended: Recommended | undefined;
}

/** A change of phases with its output over time, from a little before it, s and V. */
export type ShownChange = Omit<PhaseChange, 'waveforms'> & Pick<Curve, 'x' | 'y'>;

/** What adding and dropping a phase does; the words for why it cannot be simulated. */
export interface ChangedPhases {
  readonly from: number;
  readonly to: number;
  readonly added: ShownChange | string;
  readonly dropped: ShownChange | string;
}

/** Share of what is watched before and after a change that is drawn. */
const DRAWN = { before: 0.03, after: 0.15 };

function changed(found: PhaseChange | string): ShownChange | string {
  if (typeof found === 'string') return found;
  const { waveforms, ...change } = found;
  const [output] = waveforms.signals;
  if (!output) return 'it has no output to look at';
  const { at } = change;
  const span = (waveforms.time.at(-1) ?? at) - at;
  // Time 0 of the picture is the change.
  const view = { from: -DRAWN.before * span, to: DRAWN.after * span };
  return { ...change, ...runCurve(waveforms, output, view, { shift: -at }) };
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
  /** What adding and dropping a phase does at each threshold, told of as it is simulated. */
  phaseChanges(
    stage: Stage,
    { inputVoltage, thresholds }: Pick<Shedding, 'inputVoltage' | 'thresholds'>,
    tell: (sofar: readonly ChangedPhases[]) => void,
  ): readonly ChangedPhases[] | undefined {
    const complete = completeStage(stage);
    if (!complete.ok) return undefined;
    const told: ChangedPhases[] = [];
    for (const { from, to, add, drop } of thresholds) {
      const added = changed(phaseChange(complete.value, inputVoltage, add, { from, to }));
      const dropped = changed(phaseChange(complete.value, inputVoltage, drop, { from: to, to: from }));
      told.push({ from, to, added, dropped });
      tell([...told]);
    }
    return told;
  },
  critical(stage: Stage): CriticalStudy | string | undefined {
    const complete = completeStage(stage);
    return complete.ok ? criticalStudy(complete.value) : undefined;
  },
  shedding(stage: Stage, profile: readonly LoadShare[]): Shedding | string | undefined {
    const complete = completeStage(stage);
    return complete.ok ? shedding(complete.value, profile) : undefined;
  },
};
