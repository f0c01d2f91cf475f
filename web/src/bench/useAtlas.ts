import type { BenchCondition, FaultAtlas, Stage } from '@yundro/core';
import { useMemo } from 'react';
import { useTold } from '../engine/useTold';
import { useWorkedStage } from '../stage/useCorner';
import { benchCondition } from './conditions';

/** What the simulator has of the faults of a stage so far. */
export interface AtlasSoFar {
  readonly share: number;
  readonly atlas: FaultAtlas | string | undefined;
}

interface Question {
  readonly work: number;
  readonly stage: Stage;
  readonly condition: BenchCondition;
}

/** What the stage looks like with every fault it can have; some seconds of simulation, begun as it is wanted. */
export function useAtlas(wanted: boolean) {
  const worked = useWorkedStage();
  const question = useMemo(
    (): Question | undefined => (worked && wanted ? { ...worked, condition: benchCondition(worked.stage) } : undefined),
    [worked, wanted],
  );
  return useTold<Question, AtlasSoFar>(question, async (survey, { stage, condition }, tell) => {
    const { proxy } = await import('comlink');
    const atlas = await survey.faultAtlas(
      stage,
      condition,
      proxy((share: number) => tell({ share, atlas: undefined })),
    );
    return { share: 1, atlas };
  });
}
