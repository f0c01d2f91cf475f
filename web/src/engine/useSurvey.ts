import { wrap, type Remote } from 'comlink';
import { useEffect, useState } from 'react';
import { create } from 'zustand';
import type { Survey } from './survey.worker';

/** Pause after an edit was worked before a survey is begun, ms: longer than between two keys, so that typing sets none going. */
const PAUSE = 400;

/** While an edit is being worked the surveys stand still, whatever they were at: the edit has the machine to itself. */
const useEditing = create<{ readonly editing: boolean }>()(() => ({ editing: false }));
/** When the last edit was worked, ms of the page's clock. */
let lastEdit = -PAUSE;

/** Says that an edit is being worked, or no longer. */
export function setEditing(editing: boolean): void {
  lastEdit = performance.now();
  useEditing.setState({ editing });
}

/** A worker with the one proxy to it: a second would end the first's line when it is collected. */
interface Surveyor {
  readonly worker: Worker;
  readonly survey: Remote<Survey>;
}
/** Workers that have answered and wait for the next question: warm, as their code has run before. */
const idle: Surveyor[] = [];
const MOST_IDLE = 3;

function hire(): Surveyor {
  const waiting = idle.pop();
  if (waiting) return waiting;
  const worker = new Worker(new URL('./survey.worker.ts', import.meta.url), { type: 'module' });
  return { worker, survey: wrap<Survey>(worker) };
}

function release(surveyor: Surveyor): void {
  if (idle.length < MOST_IDLE) idle.push(surveyor);
  else surveyor.worker.terminate();
}

/** What a survey found, and whether a newer one is being worked. */
export interface Surveyed<T> {
  readonly found: T | undefined;
  readonly working: boolean;
}

/**
 * Ask a survey in a worker of its own, so that edits never wait for it. When the question changes, or the view is left, the
 * worker of the old one is ended in the middle of its work.
 *
 * @param ask stable while the question stays the same (`useCallback`); undefined asks nothing.
 */
export function useSurvey<T>(ask: ((survey: Remote<Survey>) => Promise<T>) | undefined): Surveyed<T> {
  const editing = useEditing((state) => state.editing);
  const [answer, setAnswer] = useState<{ readonly to: typeof ask; readonly found: T | undefined }>();
  useEffect(() => {
    if (!ask || editing || answer?.to === ask) return;
    let hired: Surveyor | undefined;
    const timer = setTimeout(
      () => {
        const surveyor = hire();
        hired = surveyor;
        const settle = (found: T | undefined): void => {
          if (hired === undefined) return;
          hired = undefined;
          release(surveyor);
          setAnswer({ to: ask, found });
        };
        ask(surveyor.survey).then(settle, () => settle(undefined));
      },
      Math.max(0, lastEdit + PAUSE - performance.now()),
    );
    return () => {
      clearTimeout(timer);
      // In the middle of its work it cannot be told to stop, only ended.
      hired?.worker.terminate();
      hired = undefined;
    };
  }, [ask, editing, answer]);
  return { found: answer?.found, working: answer?.to !== ask };
}
