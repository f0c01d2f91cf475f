import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { api } from '../api/client';

/** Pause before the shelf is asked for again while the server is away, ms. */
const RETRY_DELAY = 2000;

/** Pause before verdicts that are being worked are looked for again, ms. */
const PENDING_DELAY = 700;

/** Something that can be taken back for a while. */
export interface Undoable {
  readonly words: string;
  readonly undo: () => Promise<unknown>;
}

const SHELF = ['shelf'] as const;

/** The projects and stages, kept fresh, with what went wrong and what can be undone. */
export function useShelf() {
  const queries = useQueryClient();
  const read = useQuery({
    queryKey: SHELF,
    queryFn: api.shelf,
    // Asked for while the page was loaded: that answer is fresh enough to begin with.
    staleTime: 1000,
    // While the server is away it is asked again; verdicts that are still being worked fill in by themselves.
    refetchInterval: ({ state: { data, error } }) => {
      if (error) return RETRY_DELAY;
      const pending = data?.some(({ stages }) => stages.some(({ summary }) => summary.state === 'pending'));
      return pending === true ? PENDING_DELAY : false;
    },
  });
  // Two faults, for a shelf that reads well again must not wipe away why a file was refused meanwhile.
  const [fault, setFault] = useState<string>();
  const [undoable, setUndoable] = useState<Undoable>();
  const { mutateAsync } = useMutation({
    mutationFn: (action: () => Promise<unknown>) => action(),
    onSuccess: () => queries.invalidateQueries({ queryKey: SHELF }),
  });

  /** Do something to the shelf, then show it anew. Returns whether it succeeded. */
  const act = useCallback(
    async (action: () => Promise<unknown>, taken?: Undoable): Promise<boolean> => {
      try {
        await mutateAsync(action);
        setUndoable(taken);
        setFault(undefined);
        return true;
      } catch (error) {
        setFault(error instanceof Error ? error.message : 'That did not work.');
        return false;
      }
    },
    [mutateAsync],
  );
  const unreadable = read.error ? read.error.message : undefined;
  return { projects: read.data, fault: fault ?? unreadable, setFault, undoable, setUndoable, act };
}
