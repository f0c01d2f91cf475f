import { stageFromDocument, type Stage, type StagePath } from '@yundro/core';

/** Edits not yet saved, kept in this browser so that closing the tab or a dead server loses nothing. */
export interface Draft {
  /** The revision the edits began from. */
  readonly revision: number;
  readonly document: Stage;
}

/** A text in a field that is not the design. */
export interface KeptText {
  readonly path: StagePath;
  readonly text: string;
  /** Whether it was meant (given by Enter or by leaving the field), or still being typed. */
  readonly meant: boolean;
}

const draftKey = (id: string): string => `yundro.unsaved.${id}`;
const textsKey = (id: string): string => `yundro.texts.${id}`;

function keep(key: string, value: unknown): void {
  try {
    localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // A full or forbidden store costs only this second safety net; the save to the server goes on.
  }
}

function read(key: string): unknown {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null');
  } catch {
    return undefined;
  }
}

export const keepDraft = (id: string, draft: Draft): void => keep(draftKey(id), draft);

export const clearDraft = (id: string): void => localStorage.removeItem(draftKey(id));

export function readDraft(id: string): Draft | undefined {
  const kept = read(draftKey(id)) as { revision?: unknown; document?: unknown } | null | undefined;
  const document = stageFromDocument(kept?.document);
  return typeof kept?.revision === 'number' && document.ok
    ? { revision: kept.revision, document: document.value }
    : undefined;
}

/** Keep the texts of a stage's fields that are not the design; an empty list forgets them. */
export function keepTexts(id: string, texts: readonly KeptText[]): void {
  if (texts.length > 0) keep(textsKey(id), texts);
  else localStorage.removeItem(textsKey(id));
}

const isText = (one: unknown): one is KeptText => {
  const { path, text, meant } = (one ?? {}) as Partial<Record<keyof KeptText, unknown>>;
  const steps = Array.isArray(path) && path.every((step) => typeof step === 'string' || typeof step === 'number');
  return steps && typeof text === 'string' && typeof meant === 'boolean';
};

export function readTexts(id: string): readonly KeptText[] {
  const kept = read(textsKey(id));
  return Array.isArray(kept) ? kept.filter(isText) : [];
}
