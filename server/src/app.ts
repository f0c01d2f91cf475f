import { join } from 'node:path';
import compression from 'compression';
import express, { type ErrorRequestHandler, type Express } from 'express';
import expressStaticGzip from 'express-static-gzip';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { healthSchema, RUN_TEXT_LIMIT, STAGE_TEXT_LIMIT, stageJsonSchema } from '@yundro/core';
import { answer } from './answers.js';
import type { Bench } from './bench/bench.js';
import { BenchStore } from './bench/benchStore.js';
import { BoardStore } from './boardStore.js';
import { ApiError, CATALOGUE, type ProblemType } from './catalogue.js';
import { isReachable, saysDiskFull, saysUnreachable, type Database } from './database.js';
import { hostCheck, sameOrigin } from './guards.js';
import { PartStore } from './partStore.js';
import { benchRoutes } from './routes/bench.js';
import { boardRoutes } from './routes/board.js';
import { partRoutes } from './routes/parts.js';
import { projectRoutes } from './routes/projects.js';
import { stageRoutes } from './routes/stages.js';
import { StageStore } from './stageStore.js';
import type { Summaries } from './summary/summaries.js';

export interface AppOptions {
  readonly database: Database;
  readonly logger: Logger;
  readonly summaries: Summaries;
  readonly bench: Bench;
  /** Host names served beside the loopback ones. */
  readonly allowedHosts?: readonly string[];
  /** Folder of the built interface; left out, only the API is served. */
  readonly webFolder?: string;
}

/** The Express application: the API under /api, and the interface everywhere else. */
export function createApp({ database, logger, summaries, bench, allowedHosts = [], webFolder }: AppOptions): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(pinoHttp({ logger, autoLogging: { ignore: (request) => !request.url.startsWith('/api') } }));
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          styleSrc: ["'self'"],
          // Set formulas carry widths and heights in style attributes.
          styleSrcAttr: ["'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'", 'data:'],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      // Served over plain HTTP on loopback: a promise of HTTPS would lock the designer out.
      strictTransportSecurity: false,
    }),
  );
  app.use(hostCheck(allowedHosts));
  app.use(compression());

  const api = express.Router();
  const store = new StageStore(database);
  api.use(sameOrigin);
  api.use((_request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    next();
  });
  // A run of the bench holds pictures too.
  api.use(/^\/(runs\/|stages\/[^/]+\/runs$)/, express.json({ limit: RUN_TEXT_LIMIT, strict: true }));
  api.use(express.json({ limit: STAGE_TEXT_LIMIT, strict: true }));
  api.get('/health', async (_request, response) => {
    const reachable = await isReachable(database);
    answer(
      response,
      healthSchema,
      reachable ? { status: 'ok', database: 'reachable' } : { status: 'degraded', database: 'unreachable' },
      reachable ? 200 : 503,
    );
  });
  api.get('/stage-schema', (_request, response) => {
    response.json(stageJsonSchema());
  });
  api.use('/projects', projectRoutes(store, summaries));
  const boards = new BoardStore(database);
  api.use('/stages', stageRoutes(store, boards));
  api.use(boardRoutes(boards, store));
  api.use(benchRoutes(new BenchStore(database), bench, store));
  api.use('/parts', partRoutes(new PartStore(database)));
  api.use((request) => {
    throw new ApiError('not-found', `There is nothing at ${request.method} ${request.originalUrl}.`);
  });
  app.use('/api', api);

  if (webFolder !== undefined) {
    // Their names change with their content.
    app.use(
      '/assets',
      expressStaticGzip(join(webFolder, 'assets'), {
        enableBrotli: true,
        orderPreference: ['br'],
        index: false,
        serveStatic: { immutable: true, maxAge: '1y' },
      }),
    );
    app.use('/assets', () => {
      throw new ApiError('not-found', 'There is no such file; Yundro may have been renewed since the page was opened.');
    });
    app.use(express.static(webFolder, { index: false, maxAge: '1h' }));
    app.get('/{*splat}', (request, response) => {
      response.setHeader('Cache-Control', 'no-cache');
      // The shelf is asked for while its page is still being loaded.
      if (request.path === '/') response.setHeader('Link', '</api/projects>; rel=preload; as=fetch; crossorigin');
      response.sendFile(join(webFolder, 'index.html'));
    });
  }
  app.use(problemAnswers(logger));
  return app;
}

/** Bytes that the reader of a body takes. */
const limitOf = (error: unknown): number =>
  error instanceof Error && 'limit' in error && typeof error.limit === 'number' ? error.limit : STAGE_TEXT_LIMIT;

/** What went wrong, as one of the catalogue's problems. */
function asApiError(error: unknown): ApiError | undefined {
  if (error instanceof ApiError) return error;
  if (saysUnreachable(error)) {
    return new ApiError(
      'database-unreachable',
      'The database is not answering; what you typed is kept here and is saved when it is back.',
    );
  }
  if (saysDiskFull(error)) {
    return new ApiError(
      'disk-full',
      'The disk is full: free some space; what you typed is kept here and is saved when there is room.',
    );
  }
  const type = error instanceof Error && 'type' in error ? error.type : undefined;
  if (type === 'entity.too.large')
    return new ApiError('too-large', `A request may hold at most ${String(limitOf(error) / 1e6)} MB.`);
  if (type === 'entity.parse.failed') return new ApiError('not-json', 'The body of the request is not complete JSON.');
  const status = error instanceof Error && 'status' in error ? error.status : undefined;
  if (error instanceof URIError) {
    return new ApiError('invalid-request', 'The address holds a percent sign that begins no character.');
  }
  // Whatever else the layers below call a fault of the request: an unknown encoding, a broken gzip body, one that was cut off.
  if (typeof status === 'number' && status >= 400 && status < 500) {
    return new ApiError('invalid-request', 'The request cannot be read: its address, headers or body are broken.');
  }
  return undefined;
}

function problemAnswers(logger: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const known = asApiError(error);
    if (!known) logger.error({ err: error, requestId: request.id }, 'a request failed inside');
    const { type, detail, members } =
      known ??
      new ApiError(
        'internal-failure',
        `Something went wrong inside; the log has it under request ${JSON.stringify(request.id)}.`,
      );
    const { status, title } = CATALOGUE[type satisfies ProblemType];
    response
      .status(status)
      .type('application/problem+json')
      .send(JSON.stringify({ type: `/problems/${type}`, title, status, detail, ...members }));
  };
}
