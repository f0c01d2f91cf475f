/** Throws a sentence when the Node.js version is too old. */
export function checkNode(version?: string): void;
