import type { Stage } from '@yundro/core';
import { useMemo } from 'react';
import { useSession } from './stageSession';
import { useLayout } from './stageView';

/** The corner looked at: the one picked, else full load at the highest input. */
export function useCorner(): number | undefined {
  const corners = useSession((session) => session.worked?.corners);
  const picked = useLayout((layout) => layout.corner);
  if (!corners || corners.length === 0) return undefined;
  return picked !== undefined && picked < corners.length ? picked : corners.length - 1;
}

/** A corner of a stage that was worked: what a question about it carries. */
export interface LookedAt {
  /** The number of the work, and the stage it was of. */
  readonly work: number;
  readonly stage: Stage;
  readonly corner: number;
  readonly inputVoltage: number;
  readonly outputCurrent: number;
}

/** The corner looked at of the stage worked last; undefined where there is none. */
export function useLookedAt(): LookedAt | undefined {
  const worked = useSession((session) => session.worked);
  const corner = useCorner();
  return useMemo(() => {
    const here = corner === undefined ? undefined : worked?.corners[corner];
    if (!worked || !here || corner === undefined) return undefined;
    const { inputVoltage, outputCurrent } = here;
    return { work: worked.work, stage: worked.stage, corner, inputVoltage, outputCurrent };
  }, [worked, corner]);
}

/** A question about the stage worked last as a whole. */
export function useWorkedStage(): { readonly work: number; readonly stage: Stage } | undefined {
  const worked = useSession((session) => session.worked);
  return useMemo(() => worked && { work: worked.work, stage: worked.stage }, [worked]);
}
