/** Input that cannot be used: its message, one sentence, goes to standard error and the exit code is 2. */
export class CommandError extends Error {
  override readonly name = 'CommandError';
}
