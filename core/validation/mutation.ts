/** What `npm run mutate` found last in its sample, for docs/validation.md: to be brought up to date when it is run. */
export const MUTATION: readonly string[] = ['## Lines changed on purpose', ''];
