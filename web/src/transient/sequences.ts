import type { SequenceStep } from '@yundro/core';
import { create } from 'zustand';

/** A step with a name to tell it by while it is edited. */
export interface NamedStep extends SequenceStep {
  readonly id: string;
}

const KEY = 'yundro-sequences';

const isStep = (one: unknown): one is NamedStep => {
  if (typeof one !== 'object' || one === null) return false;
  const { id, at, what, to, within } = one as Record<string, unknown>;
  const known = what === 'load' || what === 'line' || what === 'short' || what === 'release';
  return (
    typeof id === 'string' &&
    known &&
    typeof at === 'number' &&
    typeof to === 'number' &&
    (within === undefined || typeof within === 'number')
  );
};

/** What was kept, as far as it is what this version writes. */
export function readSequences(text: string | null): Readonly<Record<string, readonly NamedStep[]>> {
  const read: unknown = JSON.parse(text ?? '{}');
  if (typeof read !== 'object' || read === null) return {};
  return Object.fromEntries(
    Object.entries(read).flatMap(([stage, steps]: [string, unknown]) =>
      Array.isArray(steps) && steps.every(isStep) ? [[stage, steps]] : [],
    ),
  );
}

function kept(): Readonly<Record<string, readonly NamedStep[]>> {
  try {
    return readSequences(localStorage.getItem(KEY));
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
