import { useEffect, useMemo, useSyncExternalStore } from 'react';
import { sameQuestion, type Inquired, type Inquiry } from './inquiry';

/** An inquiry as a view sees it. */
export interface Asked<Q, T> extends Inquired<Q, T> {
  readonly retry: () => void;
}

/** Put a view's question to an inquiry, for as long as the view lives. What it says is of this very drawing's question. */
export function useInquiry<Q, T>(inquiry: Inquiry<Q, T>, question: Q | undefined): Asked<Q, T> {
  useEffect(() => inquiry.put(question));
  useEffect(() => () => inquiry.end(), [inquiry]);
  const state = useSyncExternalStore(inquiry.subscribe, inquiry.state);
  return useMemo(() => {
    const retry = (): void => inquiry.retry();
    if (sameQuestion(state.question, question)) return { ...state, retry };
    // Drawn before the question could be put: what is there answers the one before.
    const answered = state.answer !== undefined && sameQuestion(state.answer.question, question);
    return {
      question,
      answer: state.answer,
      failure: undefined,
      working: question !== undefined && !answered,
      retry,
    };
  }, [state, question, inquiry]);
}
