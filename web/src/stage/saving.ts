import type { Stage } from '@yundro/core';
import { api, ConflictError, OfflineError, ProblemError } from '../api/client';
import { clearDraft, keepDraft } from './draft';
import { sessionNow, setUntracked, setTracked } from './stageSession';

/** Pause after the last edit before it is saved, ms. */
const SAVE_DELAY = 500;
const RETRY_DELAY = 2000;

let saveTimer: ReturnType<typeof setTimeout> | undefined;
let saving = false;
/** The save under way or last tried: its retry bears the same name, so that it cannot conflict with itself. */
let attempt: { readonly of: Stage; readonly revision: number; readonly save: string } | undefined;

/** Keep the present design in this browser, and save it in a moment. */
export function noteUnsaved(): void {
  const { record, document, save } = sessionNow();
  if (!record || !document) return;
  keepDraft(record.id, { revision: record.revision, document });
  if (save.kind === 'conflict' || save.kind === 'gone') return;
  if (save.kind !== 'unreachable') setUntracked({ save: { kind: 'waiting' } });
  schedule(SAVE_DELAY);
}

function schedule(delay: number): void {
  clearTimeout(saveTimer);
  saveTimer = setTimeout(() => void saveNow(), delay);
}

/** Another stage is being opened: nothing of this one waits any more. */
export function forgetSaving(): void {
  clearTimeout(saveTimer);
  attempt = undefined;
}

/** Save at once what waits to be saved. */
export async function saveNow(): Promise<void> {
  clearTimeout(saveTimer);
  const { record, document, save } = sessionNow();
  if (!record || !document || save.kind === 'conflict' || save.kind === 'gone') return;
  if (saving) {
    schedule(SAVE_DELAY);
    return;
  }
  if (JSON.stringify(document) === JSON.stringify(record.document)) {
    clearDraft(record.id);
    setUntracked({ save: { kind: 'saved' } });
    return;
  }
  if (save.kind !== 'unreachable') setUntracked({ save: { kind: 'saving' } });
  if (attempt?.of !== document || attempt.revision !== record.revision)
    attempt = { of: document, revision: record.revision, save: crypto.randomUUID() };
  saving = true;
  try {
    const saved = await api.saveStage(record.id, record.revision, document, attempt.save);
    if (sessionNow().record?.id !== record.id) return;
    const upToDate = sessionNow().document === document;
    setUntracked({ record: saved, save: { kind: upToDate ? 'saved' : 'waiting' } });
    if (upToDate) clearDraft(record.id);
    else noteUnsaved();
  } catch (error) {
    if (sessionNow().record?.id === record.id) refuse(error);
  } finally {
    saving = false;
  }
}

function refuse(error: unknown): void {
  if (error instanceof ConflictError) setUntracked({ save: { kind: 'conflict', current: error.current } });
  else if (error instanceof ProblemError && error.problem.status === 404) setUntracked({ save: { kind: 'gone' } });
  else if (error instanceof OfflineError || (error instanceof ProblemError && error.passing)) {
    setUntracked({ save: { kind: 'unreachable', sentence: error.message } });
    schedule(RETRY_DELAY);
  } else
    setUntracked({
      save: { kind: 'refused', sentence: error instanceof Error ? error.message : 'The server refused the stage.' },
    });
}

const copyOf = (stage: Stage, words: string): Stage => ({ ...stage, name: `${stage.name} (${words})`.slice(0, 120) });

/**
 * Settle a conflict; the version that is not kept is put on the shelf as a copy, so neither is lost.
 *
 * @returns whether the other version is now the design, and is to be worked.
 */
export async function settleConflict(keep: 'mine' | 'theirs'): Promise<boolean> {
  const { record, document, save } = sessionNow();
  if (save.kind !== 'conflict' || !record || !document) return false;
  const { current } = save;
  try {
    if (keep === 'mine') {
      await api.createStage(record.projectId, copyOf(current.document, 'other version'));
      const saved = await api.saveStage(record.id, current.revision, document, crypto.randomUUID());
      setUntracked({ record: saved, save: { kind: 'saved' } });
    } else {
      await api.createStage(record.projectId, copyOf(document, 'my version'));
      setTracked({ document: current.document, pending: {} });
      setUntracked({ record: current, save: { kind: 'saved' } });
    }
    clearDraft(record.id);
    return keep === 'theirs';
  } catch (error) {
    if (error instanceof ConflictError) setUntracked({ save: { kind: 'conflict', current: error.current } });
    else setUntracked({ save: { kind: 'conflict', current }, loadFault: undefined });
    return false;
  }
}

/**
 * Put the design of a stage that is gone on the shelf anew, in its project or, where that is gone too, in one of its own.
 *
 * @returns the address of the new stage; undefined where the server does not take it yet.
 */
export async function makeAnew(): Promise<string | undefined> {
  const { record, document } = sessionNow();
  if (!record || !document) return undefined;
  try {
    const made = await api
      .createStage(record.projectId, document)
      .catch(async (error: unknown) =>
        error instanceof ProblemError && error.problem.status === 404
          ? api.createStage(await api.createProject(record.projectName), document)
          : Promise.reject(error instanceof Error ? error : new Error(String(error))),
      );
    clearDraft(record.id);
    return made.id;
  } catch (error) {
    refuse(error);
    return undefined;
  }
}
