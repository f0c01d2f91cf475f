import type { Remote } from 'comlink';
import type { Running } from './inquiry';
import type { Survey } from './survey';
import { WorkerLine, WorkerNotStarted, type WorkerLike } from './workerLine';

/** What is asked of a survey worker. */
export type Ask<Q, T> = (survey: Remote<Survey>, question: Q, alive: () => void) => Promise<T>;

/** Most workers that wait for the next question: warm, as their code has run before. */
const MOST_IDLE = 3;

/** How often a worker is started again that could not be: the network may have been away for a moment. */
const FURTHER_STARTS = 2;

/** Workers for questions that may take long: one each, so that giving a question up can end it in the middle of its work. */
export class SurveyPool {
  private readonly idle: WorkerLine<Survey>[] = [];

  constructor(
    private readonly start: () => WorkerLike,
    /** When a question may begin, ms from now. */
    private readonly pause: () => number = () => 0,
    /** Time before a worker that could not be started is tried once more, ms. */
    private readonly patience = 1000,
  ) {}

  /** Begin a question in a worker of its own. */
  begin<Q, T>(question: Q, ask: Ask<Q, T>): Running<T> {
    let line: WorkerLine<Survey> | undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let stopped = false;
    const result = new Promise<T>((resolve, reject) => {
      const attempt = (left: number): void => {
        const hired = this.idle.pop() ?? new WorkerLine<Survey>(this.start());
        line = hired;
        hired
          .ask((survey, alive) => ask(survey, question, alive))
          .then(
            (value) => {
              if (!stopped) this.release(hired);
              resolve(value);
            },
            (error: unknown) => {
              // What state a worker is in that failed, nobody knows.
              hired.end();
              if (error instanceof WorkerNotStarted && left > 0 && !stopped)
                timer = setTimeout(() => attempt(left - 1), this.patience);
              else reject(error instanceof Error ? error : new Error(String(error)));
            },
          )
          .finally(() => {
            if (line === hired) line = undefined;
          });
      };
      timer = setTimeout(() => attempt(FURTHER_STARTS), Math.max(0, this.pause()));
    });
    const stop = (): void => {
      stopped = true;
      clearTimeout(timer);
      // In the middle of its work it cannot be told to stop, only ended.
      line?.end();
    };
    return { result, stop };
  }

  private release(line: WorkerLine<Survey>): void {
    if (this.idle.length < MOST_IDLE) this.idle.push(line);
    else line.end();
  }
}
