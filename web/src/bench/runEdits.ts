import type { BenchRun, BenchRunRow } from '@yundro/core';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { api } from '../api/client';
import { RunSaver, type Saving } from './runSaver';

/** What was entered into a run and is not saved yet, with the revision it began from. */
interface Edit {
  readonly run: BenchRun;
  readonly revision: number;
  readonly failed?: Extract<Saving, { kind: 'failed' }> | undefined;
}

/** Entries that are not saved, by run: kept in the browser until they are, whatever view or page is looked at. */
export const useRunEdits = create<{ readonly edits: Readonly<Partial<Record<string, Edit>>> }>()(
  persist(() => ({ edits: {} }), { name: 'bench-entries' }),
);

function setEdit(id: string, edit: Edit | undefined): void {
  useRunEdits.setState(({ edits }) => ({ edits: { ...edits, [id]: edit } }));
}

const savers = new Map<string, RunSaver>();

/** The saver of a run; `saved` is told of the row that came of it. */
function saverOf(id: string, saved: (row: BenchRunRow) => void): RunSaver {
  const known = savers.get(id);
  if (known) return known;
  const made = new RunSaver(
    (revision, run) => api.saveRun(id, revision, run),
    (state) => {
      const edit = useRunEdits.getState().edits[id];
      if (state.kind === 'failed') setEdit(id, edit && { ...edit, failed: state });
      else {
        setEdit(id, undefined);
        saved(state.row);
      }
    },
  );
  savers.set(id, made);
  return made;
}

/** Enter something into a run: it stands at once, and is saved. */
export function enter(row: BenchRunRow, run: BenchRun, saved: (row: BenchRunRow) => void): void {
  setEdit(row.id, { run, revision: row.revision });
  saverOf(row.id, saved).put(run, row.revision);
}

/** Send again what is not saved, over a newer version where its revision is given. */
export function saveAgain(id: string, saved: (row: BenchRunRow) => void, over?: number): void {
  const edit = useRunEdits.getState().edits[id];
  if (!edit) return;
  setEdit(id, { ...edit, failed: undefined });
  const known = savers.get(id);
  if (known) known.again(over);
  // What an earlier page left has no saver yet.
  else saverOf(id, saved).put(edit.run, over ?? edit.revision);
}

/** Let go of what is not saved. */
export function letGo(id: string): void {
  savers.get(id)?.giveUp();
  setEdit(id, undefined);
}

/** Save what an earlier page left unsaved; where this one is at it already, nothing. */
export function saveLeft(id: string, saved: (row: BenchRunRow) => void): void {
  if (!savers.has(id)) saveAgain(id, saved);
}
