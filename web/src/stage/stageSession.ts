import {
  PINNABLE,
  problemSentence,
  problemsSentence,
  stageFromDocument,
  type Pinnable,
  type Stage,
  type StageRecord,
  pathKey,
  valueAt,
  withValue,
  type StagePath,
} from '@yundro/core';
import { temporal } from 'zundo';
import { create } from 'zustand';
import { api, ConflictError, OfflineError, ProblemError } from '../api/client';
import type { Worked } from '../engine/engine.worker';
import { engine } from '../engine/engineClient';
import { setEditing } from '../engine/useSurvey';
import { clearDraft, keepDraft, readDraft } from './draft';

/** How the copy on this screen stands to the one in the database. */
export type SaveState =
  | { readonly kind: 'saved' }
  | { readonly kind: 'waiting' | 'saving' }
  /** Not reachable: tried again until it is. */
  | { readonly kind: 'unreachable'; readonly sentence: string }
  | { readonly kind: 'refused'; readonly sentence: string }
  | { readonly kind: 'conflict'; readonly current: StageRecord };

/** What a field holds: a number, or the word of a choice. */
export type FieldValue = number | string;

/** A text in a field that the stage cannot take yet, with the reason: kept until it is mended or withdrawn. */
export interface Pending {
  readonly path: StagePath;
  readonly text: string;
  readonly value: FieldValue | undefined;
  readonly sentence: string;
}

interface Session {
  readonly record: StageRecord | undefined;
  readonly loadFault: string | undefined;
  readonly document: Stage | undefined;
  readonly pending: Readonly<Record<string, Pending>>;
  readonly save: SaveState;
  readonly worked: Worked | undefined;
  /** Whether the engine is behind the document. */
  readonly stale: boolean;
}

/** Pause after the last edit before it is saved, ms. */
const SAVE_DELAY = 500;
const RETRY_DELAY = 2000;

const empty: Session = {
  record: undefined,
  loadFault: undefined,
  document: undefined,
  pending: {},
  save: { kind: 'saved' },
  worked: undefined,
  stale: false,
};

export const useSession = create<Session>()(
  temporal(() => empty, {
    partialize: ({ document, pending }) => ({ document, pending }),
    equality: (a, b) => a.document === b.document && a.pending === b.pending,
    limit: 500,
  }),
);

export const useHistory = useSession.temporal;

const set = (part: Partial<Session>): void => {
  useSession.setState(part);
};
const get = (): Session => useSession.getState();

/** Change the session without a step of undo: what the engine or the server brings, not the designer. */
function setUntracked(part: Partial<Session>): void {
  const history = useHistory.getState();
  const tracking = history.isTracking;
  history.pause();
  set(part);
  if (tracking) history.resume();
}

// ---- working -------------------------------------------------------------------------------------------------------

let workNumber = 0;

/** Have the engine work the present document; the answer of an overtaken request is dropped. */
async function work(rechoose: boolean): Promise<void> {
  const { document } = get();
  if (!document) return;
  workNumber += 1;
  const mine = workNumber;
  setUntracked({ stale: true });
  setEditing(true);
  const worked = await engine.work(document, rechoose).finally(() => {
    if (mine === workNumber) setEditing(false);
  });
  if (mine !== workNumber || get().document !== document) return;
  const changed = JSON.stringify(worked.stage) !== JSON.stringify(document);
  setUntracked({ worked, stale: false, ...(changed && { document: worked.stage }) });
  if (changed) noteUnsaved();
}

// ---- opening -------------------------------------------------------------------------------------------------------

/** Open a stage: from the server, with edits that this browser kept from an earlier visit on top. */
export async function openStage(id: string): Promise<void> {
  clearTimeout(saveTimer);
  setUntracked(empty);
  useHistory.getState().clear();
  try {
    const record = await api.stage(id);
    const draft = readDraft(id);
    const unsaved = draft && JSON.stringify(draft.document) !== JSON.stringify(record.document);
    setUntracked({ record, document: unsaved ? draft.document : record.document });
    if (unsaved && draft.revision !== record.revision) setUntracked({ save: { kind: 'conflict', current: record } });
    else if (unsaved) noteUnsaved();
    else clearDraft(id);
    useHistory.getState().clear();
    await work(false);
  } catch (error) {
    setUntracked({
      loadFault:
        error instanceof ProblemError || error instanceof OfflineError
          ? error.message
          : 'The stage could not be opened.',
    });
  }
}

/** Whether opening failed in a way that may pass. */
export async function retryOpen(id: string): Promise<void> {
  if (get().loadFault !== undefined) await openStage(id);
}

// ---- editing -------------------------------------------------------------------------------------------------------

/** The pinnable value a place belongs to: editing it pins it. */
export function pinnableOf(path: StagePath): Pinnable | undefined {
  const key = pathKey(path);
  return PINNABLE.find((place) => key === place || key.startsWith(`${place}.`));
}

/** Take over an edited stage: what is not pinned is chosen anew, as any value may bear on it. */
function apply(next: Stage, pending: Session['pending'] = get().pending): void {
  set({ document: next, pending });
  noteUnsaved();
  void work(true);
}

/** A value to put at a place; undefined empties it. */
interface Edit {
  readonly path: StagePath;
  readonly value: FieldValue | undefined;
}

/**
 * Take over what was typed into a field. Values that do not fit yet stay in `pending`, and are tried again with every
 * later edit: raising a minimum above the maximum is no dead end, the maximum can follow.
 *
 * @param also further edits that go with this one, such as the sign of the output with the topology.
 */
export function editField(
  path: StagePath,
  text: string,
  value: FieldValue | undefined,
  sentence: string | undefined,
  also: readonly Edit[] = [],
): void {
  const { document, pending } = get();
  if (!document) return;
  const key = pathKey(path);
  const others = Object.fromEntries(Object.entries(pending).filter(([other]) => other !== key));
  if (sentence !== undefined) {
    set({ pending: { ...others, [key]: { path, text, value: undefined, sentence } } });
    return;
  }
  const pin = pinnableOf(path);
  const pinned = pin && !document.pinned.includes(pin) ? [...document.pinned, pin] : document.pinned;
  const wanted: readonly Edit[] = [
    { path, value },
    ...also,
    ...Object.values(others).flatMap((other) =>
      other.value === undefined ? [] : [{ path: other.path, value: other.value }],
    ),
  ];
  const attempt = (edits: readonly Edit[]) =>
    stageFromDocument(
      edits.reduce<unknown>((doc, edit) => withValue(doc, edit.path, edit.value), { ...document, pinned }),
    );
  const together = attempt(wanted);
  if (together.ok) {
    const readable = Object.fromEntries(Object.entries(others).filter(([, other]) => other.value === undefined));
    apply(together.value, readable);
    return;
  }
  const alone = attempt([{ path, value }, ...also]);
  if (alone.ok) {
    apply(alone.value, others);
    return;
  }
  const [problem] = alone.problems;
  const reason = problem ? problemSentence(problem) : 'This value does not fit.';
  set({
    pending: {
      ...others,
      [key]: {
        path,
        text,
        value,
        sentence: `${reason.replace(/^At [^:]+: (.)/, (_, first: string) => first.toUpperCase())} It is kept, and taken as soon as it fits.`,
      },
    },
  });
}

/**
 * Put a whole part at a place, or take it away with `undefined`: a bank, a filter, a coupling. The place is pinned where it can
 * be, for the designer has decided.
 *
 * @returns why the stage cannot take it; undefined when it did.
 */
export function putPart(path: StagePath, value: unknown): string | undefined {
  const { document } = get();
  if (!document) return undefined;
  const pin = pinnableOf(path);
  const pinned = pin && !document.pinned.includes(pin) ? [...document.pinned, pin] : document.pinned;
  const read = stageFromDocument(withValue({ ...document, pinned }, path, value));
  if (!read.ok) return problemsSentence(read.problems);
  useHistory.getState().resume();
  apply(read.value);
  return undefined;
}

/** Withdraw a text that does not fit: the field shows the stage's value again. */
export function withdraw(path: StagePath): void {
  const key = pathKey(path);
  const { pending } = get();
  if (key in pending) set({ pending: Object.fromEntries(Object.entries(pending).filter(([other]) => other !== key)) });
}

/** Pin or free a design value; what is freed is chosen anew at once. */
export function setPinned(place: Pinnable, pinned: boolean): void {
  const { document } = get();
  if (!document) return;
  const others = document.pinned.filter((one) => one !== place);
  apply({ ...document, pinned: pinned ? [...others, place] : others });
}

/** While a field has the focus its edits are one step of undo. */
export function beginFieldEdit(): void {
  useHistory.getState().resume();
}

/** After the first edit of a field: later ones join its step. */
export function joinFieldEdits(): void {
  useHistory.getState().pause();
}

export function undo(): void {
  useHistory.getState().resume();
  useHistory.getState().undo();
  noteUnsaved();
  void work(false);
}

export function redo(): void {
  useHistory.getState().resume();
  useHistory.getState().redo();
  noteUnsaved();
  void work(false);
}

// ---- saving --------------------------------------------------------------------------------------------------------

let saveTimer: ReturnType<typeof setTimeout> | undefined;
let saving = false;

function noteUnsaved(): void {
  const { record, document, save } = get();
  if (!record || !document) return;
  keepDraft(record.id, { revision: record.revision, document });
  if (save.kind === 'conflict') return;
  if (save.kind !== 'unreachable') setUntracked({ save: { kind: 'waiting' } });
  schedule(SAVE_DELAY);
}

function schedule(delay: number): void {
  clearTimeout(saveTimer);
  saveTimer = setTimeout(() => void saveNow(), delay);
}

/** Save at once what waits to be saved. */
export async function saveNow(): Promise<void> {
  clearTimeout(saveTimer);
  const { record, document, save } = get();
  if (!record || !document || save.kind === 'conflict') return;
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
  saving = true;
  try {
    const saved = await api.saveStage(record.id, record.revision, document);
    if (get().record?.id !== record.id) return;
    const upToDate = get().document === document;
    setUntracked({ record: saved, save: { kind: upToDate ? 'saved' : 'waiting' } });
    if (upToDate) clearDraft(record.id);
    else noteUnsaved();
  } catch (error) {
    if (get().record?.id !== record.id) return;
    if (error instanceof ConflictError) setUntracked({ save: { kind: 'conflict', current: error.current } });
    else if (error instanceof OfflineError || (error instanceof ProblemError && error.passing)) {
      setUntracked({ save: { kind: 'unreachable', sentence: error.message } });
      schedule(RETRY_DELAY);
    } else
      setUntracked({
        save: { kind: 'refused', sentence: error instanceof Error ? error.message : 'The server refused the stage.' },
      });
  } finally {
    saving = false;
  }
}

/** Settle a conflict; the version that is not kept is put on the shelf as a copy, so neither is lost. */
export async function settleConflict(keep: 'mine' | 'theirs'): Promise<void> {
  const { record, document, save } = get();
  if (save.kind !== 'conflict' || !record || !document) return;
  const { current } = save;
  const copyOf = (stage: Stage, words: string): Stage => ({ ...stage, name: `${stage.name} (${words})`.slice(0, 120) });
  try {
    if (keep === 'mine') {
      await api.createStage(record.projectId, copyOf(current.document, 'other version'));
      const saved = await api.saveStage(record.id, current.revision, document);
      setUntracked({ record: saved, save: { kind: 'saved' } });
    } else {
      await api.createStage(record.projectId, copyOf(document, 'my version'));
      set({ document: current.document, pending: {} });
      setUntracked({ record: current, save: { kind: 'saved' } });
      void work(false);
    }
    clearDraft(record.id);
  } catch (error) {
    if (error instanceof ConflictError) setUntracked({ save: { kind: 'conflict', current: error.current } });
    else setUntracked({ save: { kind: 'conflict', current }, loadFault: undefined });
  }
}

/** The number at a place of the open stage. */
export function numberAt(stage: Stage, path: StagePath): number | undefined {
  const value = valueAt(stage, path);
  return typeof value === 'number' ? value : undefined;
}
