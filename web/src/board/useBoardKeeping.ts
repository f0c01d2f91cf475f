import { mergedBoard, type BoardNotes } from '@yundro/core';
import { useEffect, useState } from 'react';
import { api, ProblemError } from '../api/client';
import { useBoards } from './boardStore';

/** Pause between the last change and its save, and before a save that failed is tried again, ms. */
const PAUSE = 500;
const AGAIN = 5000;

/** How the notes of a board stand: with the stage, on their way there, or in this browser alone. */
export type Keeping = 'kept' | 'saving' | 'here';

const conflicts = (error: unknown): boolean => error instanceof ProblemError && error.problem.status === 409;

/** Bring what the server has of a board into this browser; what is typed here and not saved yet stays on top of it. */
async function fetched(stageId: string): Promise<void> {
  const { revision, notes } = await api.board(stageId);
  const { boards, put } = useBoards.getState();
  const own = boards[stageId];
  if (!notes) {
    // A server that has nothing, as after a restore of an older backup, is given what is here.
    if (own) put(stageId, { ...own, revision: 0, unsaved: true });
    return;
  }
  put(stageId, {
    revision,
    notes: own?.unsaved === true ? mergedBoard(notes, own.notes) : notes,
    unsaved: own?.unsaved === true,
  });
}

async function saved(stageId: string, revision: number, notes: BoardNotes): Promise<void> {
  const row = await api.saveBoard(stageId, revision, notes);
  const { boards, put } = useBoards.getState();
  const now = boards[stageId];
  // What was typed meanwhile is saved next.
  if (now) put(stageId, { ...now, revision: row.revision, unsaved: now.notes !== notes });
}

/** Keep the notes of a board with its stage: fetched when the station opens, saved a moment after each change, tried again until it works. */
export function useBoardKeeping(stageId: string): Keeping {
  const kept = useBoards(({ boards }) => boards[stageId]);
  /** The stage whose notes were fetched. */
  const [fetchedOf, setFetchedOf] = useState<string>();
  const known = fetchedOf === stageId;
  const [failures, setFailures] = useState(0);
  useEffect(() => {
    if (known) return undefined;
    let left = false;
    const wait = setTimeout(
      () => {
        fetched(stageId).then(
          () => {
            if (left) return;
            setFetchedOf(stageId);
            setFailures(0);
          },
          () => {
            if (!left) setFailures((count) => count + 1);
          },
        );
      },
      failures === 0 ? 0 : AGAIN,
    );
    return () => {
      left = true;
      clearTimeout(wait);
    };
  }, [stageId, known, failures]);
  useEffect(() => {
    if (!known || kept?.unsaved !== true) return undefined;
    const wait = setTimeout(
      () => {
        saved(stageId, kept.revision, kept.notes).then(
          () => setFailures(0),
          (error: unknown) => {
            // Changed in another window: both are brought together first.
            if (conflicts(error)) setFetchedOf(undefined);
            else setFailures((count) => count + 1);
          },
        );
      },
      failures === 0 ? PAUSE : AGAIN,
    );
    return () => clearTimeout(wait);
  }, [stageId, known, kept, failures]);
  useEffect(
    () => () => {
      // Left within the pause: saved at once; where that fails it is in this browser, and saved when the station opens again.
      const now = useBoards.getState().boards[stageId];
      if (now?.unsaved === true) saved(stageId, now.revision, now.notes).catch(() => undefined);
    },
    [stageId],
  );
  if (failures > 0) return 'here';
  return known && kept?.unsaved !== true ? 'kept' : 'saving';
}
