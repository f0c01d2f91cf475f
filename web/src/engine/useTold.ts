import { proxy } from 'comlink';
import type { Remote } from 'comlink';
import { useState } from 'react';
import { stillShown } from './stillShown';
import type { Survey } from './survey';
import { useSurvey } from './useSurvey';

/** What a survey has told of so far, and how it stands. */
export interface Told<Q, T> {
  /** Of the question, or of the one before while nothing of it is known; undefined where nothing is. */
  readonly value: T | undefined;
  /** The question it answers. */
  readonly of: Q | undefined;
  /** What is still shown, in words, where it is not of the present question. */
  readonly stale: string | undefined;
  readonly working: boolean;
  readonly stopped: boolean;
  readonly failure: { readonly sentence: string } | undefined;
  readonly retry: () => void;
  /** Ends the work; what was told stays. */
  readonly stop: () => void;
  readonly goOn: () => void;
}

/**
 * Ask a survey that takes long and tells of what there is as it comes.
 *
 * @param question as for `useSurvey`, the same object while nothing of it changes.
 * @param ask the answer is the last that is told of.
 */
export function useTold<Q extends object, T>(
  question: Q | undefined,
  ask: (survey: Remote<Survey>, question: Q, tell: (sofar: T) => void) => Promise<T>,
): Told<Q, T> {
  const [told, setTold] = useState<{ readonly of: Q; readonly value: T }>();
  const [halted, setHalted] = useState<Q>();
  const stopped = question !== undefined && halted === question;
  const { answer, working, failure, retry } = useSurvey<Q, T>(stopped ? undefined : question, (survey, of, alive) =>
    ask(
      survey,
      of,
      proxy((value: T) => {
        alive();
        setTold({ of, value });
      }),
    ),
  );
  const answered = answer && { of: answer.question, value: answer.value };
  const present = [answered, told].find((one) => one !== undefined && one.of === question);
  const shown = present ?? told ?? answered;
  return {
    value: shown?.value,
    of: shown?.of,
    stale: present || !shown || !question ? undefined : stillShown(shown.of, question),
    working: working && !stopped,
    stopped,
    failure,
    retry,
    stop: () => setHalted(question),
    goOn: () => setHalted(undefined),
  };
}
