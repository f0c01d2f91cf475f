/** Every problem the API can answer with: stable type, HTTP status and title. docs/api.md lists the same, by a test. */
export const CATALOGUE = {
  'invalid-request': { status: 400, title: 'The request cannot be used' },
  'not-json': { status: 400, title: 'The request is not JSON' },
  'host-refused': { status: 403, title: 'This host name is not served' },
  'cross-origin-refused': { status: 403, title: 'Requests from other sites are not served' },
  'not-found': { status: 404, title: 'There is no such thing here' },
  'bench-busy': { status: 409, title: 'The bench is at work' },
  conflict: { status: 409, title: 'The stage was changed meanwhile' },
  'unreadable-stage': { status: 422, title: 'The stored stage cannot be read' },
  'too-large': { status: 413, title: 'The request is too large' },
  'internal-failure': { status: 500, title: 'Something went wrong inside' },
  'database-unreachable': { status: 503, title: 'The database is not reachable' },
  'disk-full': { status: 507, title: 'The disk is full' },
} as const;

export type ProblemType = keyof typeof CATALOGUE;

/** A request that ends in one of the catalogue's problems. */
export class ApiError extends Error {
  override readonly name = 'ApiError';
  constructor(
    readonly type: ProblemType,
    /** One sentence for the designer. */
    readonly detail: string,
    /** Further members of the answer, such as `path` or the two versions of a conflict. */
    readonly members: Readonly<Record<string, unknown>> = {},
  ) {
    super(detail);
  }
}
