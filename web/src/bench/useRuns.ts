import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { BenchRun, BenchRunRow } from '@yundro/core';
import { useParams } from 'react-router';
import { create } from 'zustand';
import { api } from '../api/client';

/** ms between two looks at a run that goes on. */
const LOOK = 400;

export const underWay = ({ run }: BenchRunRow): boolean => run.state === 'running' || run.state === 'paused';

/** The run looked at, for every view of the bench. */
export const useChosenRun = create<{
  readonly id: string | undefined;
  readonly choose: (id: string | undefined) => void;
}>()((set) => ({
  id: undefined,
  choose: (id) => set({ id }),
}));

/** The runs of the stage, the newest first, and what is done with them. */
export function useRuns() {
  const { id: stageId = '' } = useParams();
  const queries = useQueryClient();
  const key = ['runs', stageId];
  const found = useQuery({ queryKey: key, queryFn: () => api.runs(stageId) });
  // Of many runs only the one that goes on is asked for again and again.
  const going = found.data?.find(underWay)?.id;
  useQuery({
    queryKey: ['run', going],
    queryFn: async () => {
      const row = await api.run(going ?? '');
      queries.setQueryData<readonly BenchRunRow[]>(key, (old = []) =>
        old.map((one) => (one.id === row.id ? row : one)),
      );
      return row.revision;
    },
    enabled: going !== undefined,
    refetchInterval: LOOK,
  });
  const { id, choose } = useChosenRun();
  const runs = found.data ?? [];
  const chosen = runs.find((one) => one.id === id) ?? runs[0];
  const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey: key });
  const put = (row: BenchRunRow): void => {
    queries.setQueryData<readonly BenchRunRow[]>(key, (old = []) =>
      old.some((one) => one.id === row.id) ? old.map((one) => (one.id === row.id ? row : one)) : [row, ...old],
    );
    choose(row.id);
  };
  const create = useMutation({ mutationFn: (run: BenchRun) => api.createRun(stageId, run), onSuccess: put });
  return {
    stageId,
    runs,
    chosen,
    choose,
    refresh,
    put,
    create,
    failure: found.error,
    retry: () => void found.refetch(),
  };
}

/** Words of a run for a list. */
export const runWords = ({ run }: BenchRunRow): string =>
  `${run.title}${run.serial === '' ? '' : `, board ${run.serial}`}, ${new Date(run.date).toLocaleString('en-GB', { dateStyle: 'short', timeStyle: 'short' })}`;
