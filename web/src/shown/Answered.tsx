import type { ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { isStale } from '../engine/inquiry';
import { stillShown } from '../engine/stillShown';
import type { Asked } from '../engine/useInquiry';

interface Props<Q, T> {
  readonly of: Asked<Q, T>;
  /** What stands there until the first answer. */
  readonly wait: ReactNode;
  /** What the answer is, in a word or two: for the sentence where there is none. */
  readonly what: string;
  /** Whether another part of the page says already why there is no answer, and that it is of an earlier question. */
  readonly beside?: boolean;
  /** Draws an answer; `question` is the one it answers, whose words belong to it. */
  readonly children: (value: T, question: Q) => ReactNode;
}

/** Where an answer stands: shown, dimmed while a newer question is worked, or missing with the reason and a way to try again. */
export function Answered<Q, T>({ of, wait, what, beside = false, children }: Props<Q, T>) {
  const { answer, failure, working, question, retry } = of;
  const stale = isStale(of);
  return (
    <>
      {failure !== undefined && !beside && <Failed what={what} sentence={failure.sentence} retry={retry} />}
      {answer === undefined
        ? working && wait
        : question !== undefined && (
            <div className={stale ? 'answered stale' : 'answered'} aria-busy={stale}>
              {stale && !beside && (
                <p className="stale-note" role="status">
                  Still showing {stillShown(answer.question, question)}.
                </p>
              )}
              {children(answer.value, answer.question)}
            </div>
          )}
    </>
  );
}

/** Why there is no answer, with a way to try again; the cause is in the console. */
export function Failed({
  what,
  sentence,
  retry,
}: {
  readonly what: string;
  readonly sentence: string;
  readonly retry: () => void;
}) {
  return (
    <p className="notice bad" role="alert">
      There is no {what}: {sentence.replace(/\.$/, '')}.
      <Button variant="plain" onClick={retry}>
        Try again
      </Button>
    </p>
  );
}
