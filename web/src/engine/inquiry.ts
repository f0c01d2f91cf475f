/**
 * A question that is asked again whenever it changes, and its answers, each with the question it answers. Nothing here knows a
 * screen: a view draws the state, and what it draws bears the words of the question answered, not of the one being asked.
 */

/** An answer with its question. */
export interface Answer<Q, T> {
  readonly question: Q;
  readonly value: T;
}

/** Where an inquiry stands. */
export interface Inquired<Q, T> {
  /** The question that holds now; undefined where nothing is asked. */
  readonly question: Q | undefined;
  /** The last answer there was; to another question than the present one while that is being worked. */
  readonly answer: Answer<Q, T> | undefined;
  /** Why the present question has no answer. */
  readonly failure: { readonly question: Q; readonly sentence: string } | undefined;
  /** Whether the present question is being worked, or waits to be. */
  readonly working: boolean;
}

/** A question under way: its answer, and the way to give it up. */
export interface Running<T> {
  readonly result: Promise<T>;
  readonly stop: () => void;
}

/** Whether two questions are the same: stages and other large things by identity, small settings by what they say. */
export function sameQuestion(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  const [one, other] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const keys = Object.keys(one);
  return keys.length === Object.keys(other).length && keys.every((key) => key in other && same(one[key], other[key]));
}

/** Members with more text than this are large: a stage, a list of parts. */
const same = (a: unknown, b: unknown): boolean =>
  Object.is(a, b) || (isSmall(a) && isSmall(b) && JSON.stringify(a) === JSON.stringify(b));

/** A plain setting: a number, a word, or a flat record or list of them. */
const isSmall = (value: unknown): boolean =>
  typeof value !== 'object' ||
  value === null ||
  Object.values(value).every((member) => typeof member !== 'object' || member === null);

const NOTHING = { question: undefined, answer: undefined, failure: undefined, working: false } as const;

/** Asks one question at a time; a newer one ends the work on the one before. */
export class Inquiry<Q, T> {
  private now: Inquired<Q, T> = NOTHING;
  private running: Running<T> | undefined;
  private readonly listeners = new Set<() => void>();
  private held = false;

  /** @param begin starts the work on a question. */
  constructor(private readonly begin: (question: Q) => Running<T>) {}

  readonly state = (): Inquired<Q, T> => this.now;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };

  /** Put the question that holds now; the same question is not worked twice. */
  put(question: Q | undefined): void {
    if (sameQuestion(question, this.now.question)) return;
    this.halt();
    const answered = this.now.answer !== undefined && sameQuestion(question, this.now.answer.question);
    this.set({ question, failure: undefined, working: question !== undefined && !answered });
    if (question !== undefined && !answered) this.start(question);
  }

  /** Ask the present question once more, after a failure. */
  retry(): void {
    const { question } = this.now;
    if (question === undefined || this.running) return;
    this.set({ failure: undefined, working: true });
    this.start(question);
  }

  /** Stand still or go on: what was under way is given up and begun anew later. */
  hold(holding: boolean): void {
    if (holding === this.held) return;
    this.held = holding;
    const { question, working } = this.now;
    if (holding) this.halt();
    else if (working && question !== undefined) this.start(question);
  }

  /** Nobody looks any more: give up what is under way. */
  end(): void {
    this.halt();
    this.now = { ...this.now, question: undefined, failure: undefined, working: false };
  }

  private halt(): void {
    this.running?.stop();
    this.running = undefined;
  }

  private start(question: Q): void {
    if (this.held) return;
    const running = this.begin(question);
    this.running = running;
    running.result.then(
      (value) => {
        if (this.running !== running) return;
        this.running = undefined;
        this.set({ answer: { question, value }, failure: undefined, working: false });
      },
      (error: unknown) => {
        if (this.running !== running) return;
        this.running = undefined;
        console.error('A question of this page was not answered.', error);
        const sentence = error instanceof Error ? error.message : String(error);
        this.set({ failure: { question, sentence }, working: false });
      },
    );
  }

  private set(part: Partial<Inquired<Q, T>>): void {
    this.now = { ...this.now, ...part };
    for (const listener of this.listeners) listener();
  }
}

/** Whether what is shown answers another question than the one that holds now. */
export const isStale = <Q, T>({ question, answer }: Inquired<Q, T>): boolean =>
  answer !== undefined && question !== undefined && !sameQuestion(question, answer.question);
