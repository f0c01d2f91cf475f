/** One command of the command line. */
export interface Command {
  /** What it does, in half a line. */
  readonly summary: string;
  /** Runs it with the words after its name. Returns what goes to standard output; throws CommandError for bad input. */
  readonly run: (words: readonly string[]) => Promise<string>;
}
