import { stageFromDocument, type Stage } from '@yundro/core';

/** Edits not yet saved, kept in this browser so that closing the tab or a dead server loses nothing. */
export interface Draft {
  /** The revision the edits began from. */
  readonly revision: number;
  readonly document: Stage;
}

const key = (id: string): string => `yundro.unsaved.${id}`;

export function keepDraft(id: string, draft: Draft): void {
  try {
    localStorage.setItem(key(id), JSON.stringify(draft));
  } catch {
    // A full or forbidden store costs only this second safety net; the save to the server goes on.
  }
}

export function clearDraft(id: string): void {
  localStorage.removeItem(key(id));
}

export function readDraft(id: string): Draft | undefined {
  try {
    const kept = JSON.parse(localStorage.getItem(key(id)) ?? 'null') as {
      revision?: unknown;
      document?: unknown;
    } | null;
    const document = stageFromDocument(kept?.document);
    return typeof kept?.revision === 'number' && document.ok
      ? { revision: kept.revision, document: document.value }
      : undefined;
  } catch {
    return undefined;
  }
}
