/** What of the engine is asked for by one press, and fetched with the first. */
export { cautionsOf, hotLoops, workingOf } from '@yundro/core';
