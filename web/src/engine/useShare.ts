import { proxy, type Remote } from 'comlink';
import { useState } from 'react';
import type { Survey } from './survey';
import type { Asked } from './useInquiry';
import { useSurvey } from './useSurvey';

/** A survey that tells how far it is, and can be stopped. */
export interface Shared<Q, T> {
  readonly asked: Asked<Q, T>;
  /** Of the present question, 0 to 1. */
  readonly share: number;
  readonly working: boolean;
  readonly stopped: boolean;
  readonly stop: () => void;
  readonly goOn: () => void;
}

/**
 * Ask a survey that takes long and tells the share that is done; its answer comes whole.
 *
 * @param question as for `useSurvey`, the same object while nothing of it changes.
 */
export function useShare<Q extends object, T>(
  question: Q | undefined,
  ask: (survey: Remote<Survey>, question: Q, tell: (share: number) => void) => Promise<T>,
): Shared<Q, T> {
  const [told, setTold] = useState<{ readonly of: Q; readonly share: number }>();
  const [halted, setHalted] = useState<Q>();
  const stopped = question !== undefined && halted === question;
  const asked = useSurvey<Q, T>(stopped ? undefined : question, (survey, of, alive) =>
    ask(
      survey,
      of,
      proxy((share: number) => {
        alive();
        setTold({ of, share });
      }),
    ),
  );
  return {
    asked,
    share: told !== undefined && told.of === question ? told.share : 0,
    working: asked.working && !stopped,
    stopped,
    stop: () => setHalted(question),
    goOn: () => setHalted(undefined),
  };
}
