import type { Remote } from 'comlink';
import { useState } from 'react';
import type { Engine } from './engine';
import { askEngine } from './engineClient';
import { Inquiry } from './inquiry';
import { useInquiry, type Asked } from './useInquiry';

/** A question about a stage the engine has worked: it is named by its number, so that no answer is about another. */
export interface OfWork {
  readonly work: number;
}

/**
 * Ask the engine about a stage it has worked, anew whenever another was worked or the question changed.
 *
 * @param question the number of the work and all else the answer hangs on; undefined asks nothing.
 * @param ask takes what it needs from the question it is given; that of the first drawing is kept.
 */
export function useWorked<Q extends OfWork, T>(
  question: Q | undefined,
  ask: (engine: Remote<Engine>, question: Q) => Promise<T | undefined>,
): Asked<Q, T | undefined> {
  const [inquiry] = useState(
    () =>
      new Inquiry<Q, T | undefined>((asked) => ({
        result: askEngine((engine) => ask(engine, asked)),
        stop: () => undefined,
      })),
  );
  return useInquiry(inquiry, question);
}
