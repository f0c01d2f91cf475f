import { create } from 'zustand';
import { useEffect, useState } from 'react';
import { Inquiry } from './inquiry';
import { SurveyPool, type Ask } from './surveyPool';
import { useInquiry, type Asked } from './useInquiry';

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

const pool = new SurveyPool(
  () => new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module', name: 'survey' }),
  () => lastEdit + PAUSE - performance.now(),
);

/**
 * Ask a survey in a worker of its own, so that edits never wait for it. When the question changes, or the view is left, the
 * worker of the old one is ended in the middle of its work.
 *
 * @param question the stage and all else the answer hangs on, as plain data; undefined asks nothing.
 * @param ask takes what it needs from the question it is given, not from the view: the answer bears that question's words. That of
 *   the first drawing is kept.
 */
export function useSurvey<Q, T>(question: Q | undefined, ask: Ask<Q, T>): Asked<Q, T> {
  const [inquiry] = useState(() => new Inquiry<Q, T>((asked) => pool.begin<Q, T>(asked, ask)));
  const editing = useEditing((state) => state.editing);
  useEffect(() => inquiry.hold(editing), [inquiry, editing]);
  useEffect(() => {
    // Without a network a worker cannot be loaded; what failed for that is asked again when there is one.
    const again = (): void => {
      if (inquiry.state().failure) inquiry.retry();
    };
    window.addEventListener('online', again);
    return () => window.removeEventListener('online', again);
  }, [inquiry]);
  return useInquiry(inquiry, question);
}
