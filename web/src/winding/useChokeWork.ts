import type { ChokeSpec, PartOf, Stage } from '@yundro/core';
import { useMemo } from 'react';
import { useParams } from 'react-router';
import { useParts } from '../library/useParts';
import { useWorkedStage } from '../stage/useCorner';
import { useWinding } from './winding';

/** What every view of a wound choke asks with; undefined while the stage is worked or the cores are read. */
export interface ChokeWork {
  readonly work: number;
  readonly stage: Stage;
  readonly cores: readonly PartOf<'core'>[];
}

/** The stage and the cores of the library, with the choke that is being wound. */
export function useChokeWork(): {
  readonly asked: ChokeWork | undefined;
  readonly cores: readonly PartOf<'core'>[] | undefined;
  readonly fault: string | undefined;
  readonly spec: ChokeSpec | undefined;
  readonly put: (spec: ChokeSpec) => void;
} {
  const { id = '' } = useParams();
  const worked = useWorkedStage();
  const { parts: cores, fault } = useParts('core');
  const spec = useWinding(({ chokes }) => chokes[id]);
  const keep = useWinding(({ put }) => put);
  const asked = useMemo(() => (worked && cores ? { ...worked, cores } : undefined), [worked, cores]);
  return { asked, cores, fault, spec, put: (one) => keep(id, one) };
}
