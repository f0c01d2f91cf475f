import { pathKey, stageField } from '@yundro/core';
import { api, OfflineError, ProblemError } from '../api/client';
import { clearDraft, keepTexts, readDraft, readTexts, type KeptText } from './draft';
import { readNumber } from './editing';
import { forgetSaving, noteUnsaved } from './saving';
import {
  emptySession,
  sessionNow,
  setUntracked,
  useHistory,
  useSession,
  type LoadFault,
  type Pending,
} from './stageSession';
import { work } from './working';

/** A text that was kept from an earlier visit, as it stands beside the design: nothing of it is taken before it is meant again. */
function restored({ path, text, meant }: KeptText): Pending {
  const read = stageField(path) ? readNumber(path, text, false) : { value: undefined };
  if (meant && 'fault' in read) return { path, text, value: undefined, fault: read.fault };
  return {
    path,
    text,
    value: undefined,
    fault: {
      sentence: 'This text was not taken before the page was left: press Enter here to take it, Escape to drop it.',
    },
  };
}

const keptTexts = (): readonly KeptText[] => {
  const { pending, typing } = sessionNow();
  const at = typing && pathKey(typing.path);
  const kept = Object.entries(pending).flatMap(([key, { path, text }]) =>
    key === at ? [] : [{ path, text, meant: true }],
  );
  return typing ? [...kept, { path: typing.path, text: typing.text, meant: false }] : kept;
};

// Whatever is typed survives a reload, whether the stage could take it or not.
useSession.subscribe((session, before) => {
  const same = session.pending === before.pending && session.typing === before.typing;
  if (session.document && session.id !== undefined && session.id === before.id && !same)
    keepTexts(session.id, keptTexts());
});

function faultOf(error: unknown): LoadFault {
  if (error instanceof OfflineError || (error instanceof ProblemError && error.passing))
    return { kind: 'unreachable', sentence: error.message };
  if (error instanceof ProblemError && error.problem.status === 404)
    return { kind: 'missing', sentence: error.message };
  return {
    kind: 'unreadable',
    sentence: error instanceof Error ? error.message : 'The stage could not be opened.',
  };
}

/** Open a stage: from the server, with edits and texts that this browser kept from an earlier visit on top. */
export async function openStage(id: string): Promise<void> {
  forgetSaving();
  setUntracked({ ...emptySession, id });
  useHistory.getState().clear();
  let record;
  try {
    record = await api.stage(id);
  } catch (error) {
    if (sessionNow().id === id) setUntracked({ loadFault: faultOf(error) });
    return;
  }
  // Another was opened meanwhile.
  if (sessionNow().id !== id) return;
  const draft = readDraft(id);
  const unsaved = draft && JSON.stringify(draft.document) !== JSON.stringify(record.document);
  const pending = Object.fromEntries(readTexts(id).map((text) => [pathKey(text.path), restored(text)]));
  setUntracked({ record, document: unsaved ? draft.document : record.document, pending });
  if (unsaved && draft.revision !== record.revision) setUntracked({ save: { kind: 'conflict', current: record } });
  else if (unsaved) noteUnsaved();
  else clearDraft(id);
  useHistory.getState().clear();
  await work(false);
}

/** Open the stage once more, where it could not be. */
export async function retryOpen(id: string): Promise<void> {
  if (sessionNow().loadFault !== undefined) await openStage(id);
}
