import { fieldFault, nameOf, pathKey, type StagePath } from '@yundro/core';
import { useEffect } from 'react';
import { sessionNow, type Fault } from '../stage/stageSession';

/** The labels of the fields that have been on the screen, by their places: what a sentence calls them. */
const labels = new Map<string, string>();

/** Says under which label a place stands on the screen. */
export function useLabel(path: StagePath, label: string): void {
  const key = pathKey(path);
  useEffect(() => {
    labels.set(key, label);
  }, [key, label]);
}

const labelOf = (path: StagePath): string | undefined => labels.get(pathKey(path));

/** What a place is called on the screen. */
export const labelled = (path: StagePath): string => nameOf(path, { labelOf });

/** Why a text is not the design, in the words of the screen. */
export function faultSentence(path: StagePath, fault: Fault): string {
  if ('sentence' in fault) return fault.sentence;
  const { typing, pending, document } = sessionNow();
  const textOf = (place: StagePath): string | undefined => {
    const key = pathKey(place);
    return typing && pathKey(typing.path) === key ? typing.text : pending[key]?.text;
  };
  return fieldFault(fault.problem, path, { labelOf, textOf, document });
}
