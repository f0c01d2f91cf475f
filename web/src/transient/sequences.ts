import type { SequenceStep } from '@yundro/core';
import { create } from 'zustand';

/** A step with a name to tell it by while it is edited. */
export interface NamedStep extends SequenceStep {
  readonly id: string;
}

const KEY = 'yundro-sequences';

function kept(): Readonly<Record<string, readonly NamedStep[]>> {
  try {
    const read: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}');
    return typeof read === 'object' && read !== null ? (read as Record<string, readonly NamedStep[]>) : {};
  } catch {
    // Nothing kept, or storage forbidden.
    return {};
  }
}

/** Sequences by stage, kept in the browser: they are the designer's, not part of the stage file. */
const useStore = create<Readonly<Record<string, readonly NamedStep[]>>>()(() => kept());
const NONE: readonly NamedStep[] = [];

export const useSequence = (stage: string): readonly NamedStep[] => useStore((byStage) => byStage[stage] ?? NONE);

export function setSequence(stage: string, steps: readonly NamedStep[]): void {
  useStore.setState({ [stage]: steps });
  try {
    localStorage.setItem(KEY, JSON.stringify(useStore.getState()));
  } catch {
    // The sequence then lasts as long as the page.
  }
}

export const namedStep = (step: SequenceStep): NamedStep => ({ ...step, id: crypto.randomUUID() });
