import type { Request, Response } from 'express';
import type { z } from 'zod';
import { checked, problemsSentence } from '@yundro/core';
import { ApiError } from './catalogue.js';

/** The body of a request, checked; a fault names its place. */
export function bodyOf<T>(request: Request, schema: z.ZodType<T>): T {
  const result = checked(schema, request.body as unknown);
  if (result.ok) return result.value;
  // Paths are given as in the stage file, without the envelope of the request.
  const problems = result.problems.map((problem) => ({ ...problem, path: problem.path.replace(/^document\./, '') }));
  throw new ApiError('invalid-request', problemsSentence(problems), { path: problems[0]?.path ?? '', problems });
}

/** Answer with JSON that has been checked against its schema, so that the browser never receives what it cannot read. */
export function answer<T>(response: Response, schema: z.ZodType<T>, value: NoInfer<T>, status = 200): void {
  response.status(status).json(schema.parse(value));
}

/** The id in the path of a request. Anything but a UUID is simply not found. */
export function idOf(request: Request): string {
  const id = request.params['id'];
  if (typeof id !== 'string' || !/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(id)) {
    throw new ApiError('not-found', 'There is no project or stage under this address.');
  }
  return id;
}
