/** The sentence for a full disk when the output of a tool says so. */
export function diskFull(output: string): Error | undefined;
