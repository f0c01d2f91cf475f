import type { BenchCondition, FaultAtlas, Stage } from '@yundro/core';
import { useMemo } from 'react';
import { useShare } from '../engine/useShare';
import { benchCondition } from './conditions';

interface Question {
  readonly stage: Stage;
  readonly condition: BenchCondition;
}

/** What a stage looks like with every fault it can have; some seconds of simulation, begun as a stage is given. */
export function useAtlas(stage: Stage | undefined) {
  const question = useMemo((): Question | undefined => stage && { stage, condition: benchCondition(stage) }, [stage]);
  return useShare<Question, FaultAtlas | string>(question, (survey, { stage: of, condition }, tell) =>
    survey.faultAtlas(of, condition, tell),
  );
}
