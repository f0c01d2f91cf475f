import {
  apiProblemSchema,
  benchRunRowSchema,
  benchRunsSchema,
  boardRowSchema,
  conflictSchema,
  libraryPartsSchema,
  shelfSchema,
  standInsSchema,
  stageRecordSchema,
  type Addresses,
  type ApiProblem,
  type BenchRun,
  type BenchRunRow,
  type BoardNotes,
  type BoardRow,
  type Instruments,
  type LibraryPart,
  type PartKind,
  type Project,
  type Stage,
  type StageRecord,
  type StandIns,
  type StartRun,
} from '@yundro/core';

/** The server cannot be reached at all: no network, or it is not running. */
export class OfflineError extends Error {
  override readonly name = 'OfflineError';
}

/** The server answered with a problem. */
export class ProblemError extends Error {
  override readonly name = 'ProblemError';
  constructor(readonly problem: ApiProblem) {
    super(problem.detail);
  }
  /** Whether trying again later may succeed without any change. */
  get passing(): boolean {
    return this.problem.status === 503 || this.problem.status === 507;
  }
}

/** The stage was saved elsewhere since this edit began. */
export class ConflictError extends ProblemError {
  constructor(
    problem: ApiProblem,
    readonly current: StageRecord,
  ) {
    super(problem);
  }
}

async function request(method: string, path: string, body?: unknown): Promise<unknown> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
  } catch {
    throw new OfflineError('The server cannot be reached.');
  }
  if (response.status === 204) return undefined;
  const content: unknown = await response.json().catch(() => undefined);
  if (response.ok) return content;
  const conflict = conflictSchema.safeParse(content);
  if (response.status === 409 && conflict.success) throw new ConflictError(conflict.data, conflict.data.current);
  const problem = apiProblemSchema.safeParse(content);
  throw new ProblemError(
    problem.success
      ? problem.data
      : {
          type: '/problems/unreadable',
          title: 'Unreadable answer',
          status: response.status,
          detail: `The server answered with status ${String(response.status)} and nothing readable.`,
        },
  );
}

const idIn = (content: unknown): string => (content as { id: string }).id;

/** The server's API as functions. All throw OfflineError or ProblemError. */
export const api = {
  shelf: async (): Promise<readonly Project[]> => shelfSchema.parse(await request('GET', '/projects')).projects,
  createProject: async (name: string): Promise<string> => idIn(await request('POST', '/projects', { name })),
  renameProject: (id: string, name: string) => request('PATCH', `/projects/${id}`, { name }),
  deleteProject: (id: string) => request('DELETE', `/projects/${id}`),
  restoreProject: (id: string) => request('POST', `/projects/${id}/restore`),
  duplicateProject: (id: string) => request('POST', `/projects/${id}/duplicate`),
  stage: async (id: string): Promise<StageRecord> => stageRecordSchema.parse(await request('GET', `/stages/${id}`)),
  /** The document as it is stored, readable by this version or not. */
  storedDocument: async (id: string): Promise<string> =>
    `${JSON.stringify(await request('GET', `/stages/${id}/document`), null, 2)}\n`,
  createStage: async (projectId: string, document: Stage): Promise<StageRecord> =>
    stageRecordSchema.parse(await request('POST', `/projects/${projectId}/stages`, { document })),
  /** @param save names this save: sent again after a lost answer it is acknowledged, not refused by itself. */
  saveStage: async (id: string, revision: number, document: Stage, save: string): Promise<StageRecord> =>
    stageRecordSchema.parse(await request('PUT', `/stages/${id}`, { revision, document, save })),
  deleteStage: (id: string) => request('DELETE', `/stages/${id}`),
  restoreStage: (id: string) => request('POST', `/stages/${id}/restore`),
  parts: async (kind: PartKind): Promise<readonly LibraryPart[]> =>
    libraryPartsSchema.parse(await request('GET', `/parts?kind=${kind}`)).parts,
  openImport: async (): Promise<string> => idIn(await request('POST', '/parts/imports', {})),
  importRows: (id: string, kind: PartKind, parts: readonly unknown[]) =>
    request('POST', `/parts/imports/${id}/rows`, { kind, parts }),
  finishImport: async (id: string): Promise<number> =>
    ((await request('POST', `/parts/imports/${id}/finish`, {})) as { taken: number }).taken,
  giveUpImport: (id: string) => request('DELETE', `/parts/imports/${id}`),
  deletePart: (id: string) => request('DELETE', `/parts/${id}`),
  board: async (stageId: string): Promise<BoardRow> =>
    boardRowSchema.parse(await request('GET', `/stages/${stageId}/board`)),
  saveBoard: async (stageId: string, revision: number, notes: BoardNotes): Promise<BoardRow> =>
    boardRowSchema.parse(await request('PUT', `/stages/${stageId}/board`, { revision, notes })),
  runs: async (stageId: string): Promise<readonly BenchRunRow[]> =>
    benchRunsSchema.parse(await request('GET', `/stages/${stageId}/runs`)).runs,
  run: async (id: string): Promise<BenchRunRow> => benchRunRowSchema.parse(await request('GET', `/runs/${id}`)),
  createRun: async (stageId: string, run: BenchRun): Promise<BenchRunRow> =>
    benchRunRowSchema.parse(await request('POST', `/stages/${stageId}/runs`, run)),
  saveRun: async (id: string, revision: number, run: BenchRun): Promise<BenchRunRow> =>
    benchRunRowSchema.parse(await request('PUT', `/runs/${id}`, { revision, run })),
  deleteRun: (id: string) => request('DELETE', `/runs/${id}`),
  restoreRun: (id: string) => request('POST', `/runs/${id}/restore`),
  measure: async (stageId: string, asked: StartRun): Promise<BenchRunRow> =>
    benchRunRowSchema.parse(await request('POST', `/stages/${stageId}/measure`, asked)),
  pauseRun: (id: string) => request('POST', `/runs/${id}/pause`),
  resumeRun: (id: string, addresses?: Addresses) =>
    request('POST', `/runs/${id}/resume`, { ...(addresses && { addresses }) }),
  abortRun: (id: string) => request('POST', `/runs/${id}/abort`),
  standIns: async (): Promise<StandIns> => standInsSchema.parse(await request('GET', '/stand-ins')),
  setUpStandIns: async (stageId: string, seed: number, instruments: Instruments): Promise<StandIns> =>
    standInsSchema.parse(await request('POST', `/stages/${stageId}/stand-ins`, { seed, instruments })),
  putStandInsAway: () => request('DELETE', '/stand-ins'),
  duplicateStage: async (id: string): Promise<StageRecord> =>
    stageRecordSchema.parse(await request('POST', `/stages/${id}/duplicate`)),
};
