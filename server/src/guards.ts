import type { RequestHandler } from 'express';
import { ApiError } from './catalogue.js';

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]', '::1']);

const hostName = (host: string): string => host.replace(/:\d+$/, '').toLowerCase();

/** Refuse requests that name a host we are not: the defence of a loopback server against rebinding. */
export function hostCheck(allowed: readonly string[]): RequestHandler {
  const names = new Set([...LOOPBACK, ...allowed.map((name) => name.toLowerCase())]);
  return (request, _response, next) => {
    const name = hostName(request.headers.host ?? '');
    if (names.has(name)) next();
    else
      next(
        new ApiError(
          'host-refused',
          `This server answers only under ${[...names].slice(0, 2).join(' and ')}, not under “${name}”.`,
        ),
      );
  };
}

/** Refuse requests that another site's page sends. Answers carry no cross-origin permission either. */
export const sameOrigin: RequestHandler = (request, _response, next) => {
  const { origin, host } = request.headers;
  const site = request.headers['sec-fetch-site'];
  const foreign =
    (origin !== undefined && origin !== `http://${host ?? ''}` && origin !== `https://${host ?? ''}`) ||
    site === 'cross-site';
  if (foreign)
    next(new ApiError('cross-origin-refused', 'Open Yundro itself; its data is not served to pages of other sites.'));
  else next();
};
