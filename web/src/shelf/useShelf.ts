import type { Project } from '@yundro/core';
import { useCallback, useEffect, useState } from 'react';
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

/** The projects and stages, kept fresh, with what went wrong and what can be undone. */
export function useShelf() {
  const [projects, setProjects] = useState<readonly Project[]>();
  // Two faults, for a shelf that reads well again must not wipe away why a file was refused meanwhile.
  const [unreadable, setUnreadable] = useState<string>();
  const [fault, setFault] = useState<string>();
  const [undoable, setUndoable] = useState<Undoable>();
  const [round, setRound] = useState(0);
  const refresh = useCallback(() => setRound((n) => n + 1), []);

  useEffect(() => {
    let current = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    api.shelf().then(
      (found) => {
        if (!current) return;
        setProjects(found);
        setUnreadable(undefined);
        // Verdicts that are still being worked fill in by themselves.
        const pending = found.some(({ stages }) => stages.some(({ summary }) => summary.state === 'pending'));
        if (pending) timer = setTimeout(refresh, PENDING_DELAY);
      },
      (error: unknown) => {
        if (!current) return;
        setUnreadable(error instanceof Error ? error.message : 'The shelf could not be read.');
        timer = setTimeout(refresh, RETRY_DELAY);
      },
    );
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [round, refresh]);

  /** Do something to the shelf, then show it anew. Returns whether it succeeded. */
  const act = useCallback(
    async (action: () => Promise<unknown>, taken?: Undoable): Promise<boolean> => {
      try {
        await action();
        setUndoable(taken);
        setFault(undefined);
        refresh();
        return true;
      } catch (error) {
        setFault(error instanceof Error ? error.message : 'That did not work.');
        return false;
      }
    },
    [refresh],
  );
  return { projects, fault: fault ?? unreadable, setFault, undoable, setUndoable, act };
}
