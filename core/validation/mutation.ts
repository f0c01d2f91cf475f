/** What `npm run mutate` found last, for docs/validation.md: to be brought up to date when it is run. */
export const MUTATION: readonly string[] = [
  '## Lines changed on purpose',
  '',
  '`npm run mutate` changes lines of the core one at a time and runs the tests of their own folder, the fast ones, alone: a figure is a',
  'lower bound of what all tests together find. Figures so far: `smallsignal/predictedStep.ts`, 47 of 58 changes noticed (81 %) where',
  '30 were before; what is left are limits met exactly (`>` for `>=`), how long a step is followed, and reasons that other code gives',
  'first. The stretch of `steady/solveCircuit.ts` in the sample, 17 of 66 (26 %): it is guarded by the validations and by the sweep over',
  'every topology, which run for minutes and are left out here. The other folders of the sample have not been run to their end.',
];
