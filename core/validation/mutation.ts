/** What `npm run mutate` found last, for docs/validation.md: to be brought up to date when it is run. */
export const MUTATION: readonly string[] = [
  '## Lines changed on purpose',
  '',
  '`npm run mutate` changes lines of the core one at a time and runs the tests that reach them. So far one file has figures:',
  '`smallsignal/predictedStep.ts`, 47 of 58 changes noticed (81 %) where 30 were before; what is left are limits met exactly (`>`',
  'for `>=`), how long a step is followed, and reasons that other code gives first.',
];
