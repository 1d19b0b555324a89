import { GableError } from '@gable/core';
import type { RequestHandler } from 'express';

const LOCAL = new Set(['localhost', '127.0.0.1', '[::1]']);

/**
 * Answers only to the names this server has, so that a foreign page cannot reach it through a name of its own, and takes
 * changes only from its own pages.
 * @param hosts further host names, without ports
 */
export function guard(hosts: readonly string[]): RequestHandler {
  const known = new Set([...LOCAL, ...hosts]);
  return (req, _res, next) => {
    const host = req.headers.host ?? '';
    if (!known.has(host.replace(/:\d+$/, '').toLowerCase()))
      throw new GableError(
        'wrong-host',
        `This server does not answer to “${host}”.`,
        'Use the address it printed when it started.',
      );
    const { origin } = req.headers;
    const reads = req.method === 'GET' || req.method === 'HEAD';
    const foreign = origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`;
    if (!reads && (foreign || req.headers['sec-fetch-site'] === 'cross-site'))
      throw new GableError(
        'wrong-origin',
        'Only Gable’s own pages may make changes.',
        'Use the address the server printed when it started.',
      );
    next();
  };
}
