import { GableError, statusOf, type Facts } from '@gable/core';
import type { ErrorRequestHandler, Response } from 'express';
import { randomUUID } from 'node:crypto';
import { ConnectionError, EmptyResultError, TimeoutError } from 'sequelize';
import { ZodError } from 'zod';

/** Seconds after which it is worth trying again. */
const RETRY_AFTER = 5;

export const notFound = (what: string): GableError =>
  new GableError('not-found', `This ${what} does not exist.`, 'It may have been removed; go back to the shelf.');

/** RFC 9457: one shape for every error. */
function send(
  res: Response,
  status: number,
  body: { code: string; title: string; remedy: string; facts?: Facts },
): void {
  const { code, title, remedy, facts } = body;
  res
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: `urn:gable:${code}`, title, status, detail: remedy, code, facts: facts ?? {} }));
}

/** Renders whatever deep code throws. Unknown errors are logged and told without their insides. */
export const problems: ErrorRequestHandler = (error: unknown, _req, res, next) => {
  if (res.headersSent) {
    next(error);
    return;
  }
  if (error instanceof GableError) {
    const status = statusOf(error.code);
    if (status === 503) res.set('Retry-After', String(RETRY_AFTER));
    send(res, status, {
      code: error.code,
      title: error.message,
      remedy: error.remedy,
      facts: error.facts,
    });
    return;
  }
  if (error instanceof ZodError) {
    const issue = error.issues[0];
    send(res, 400, {
      code: 'bad-request',
      title: `The request is not right at “${issue?.path.join('.') ?? ''}”: ${issue?.message ?? ''}.`,
      remedy: 'Reload the page and try again.',
    });
    return;
  }
  const { type, status } = (error ?? {}) as { type?: string; status?: number };
  if (type === 'entity.too.large') {
    send(res, 413, {
      code: 'too-large',
      title: 'The request is too large.',
      remedy: 'Do less at a time.',
    });
    return;
  }
  if (type === 'entity.parse.failed' || type === 'request.aborted' || type === 'request.size.invalid') {
    send(res, 400, { code: 'bad-request', title: 'The request was cut off.', remedy: 'Try again.' });
    return;
  }
  // What Express and its parsers refuse: percent-encoding, encodings, charsets, methods.
  if (status !== undefined && status >= 400 && status < 500) {
    const code = status === 415 ? 'unsupported-encoding' : 'bad-request';
    send(res, status, { code, title: 'The request cannot be understood.', remedy: 'Reload the page and try again.' });
    return;
  }
  if (error instanceof EmptyResultError) {
    const { code, message, remedy } = notFound('work');
    send(res, 404, { code, title: message, remedy });
    return;
  }
  if (error instanceof ConnectionError || error instanceof TimeoutError || isAway(error)) {
    res.set('Retry-After', String(RETRY_AFTER));
    send(res, 503, {
      code: 'database-away',
      title: 'The database does not answer.',
      remedy: 'Wait a moment, then try again; nothing was half-saved.',
    });
    return;
  }
  if ((error as { original?: { code?: string } } | null)?.original?.code === '53100') {
    send(res, 507, {
      code: 'no-space',
      title: 'There is no room left on the disk.',
      remedy: 'Make room, then try again; nothing was half-saved.',
    });
    return;
  }
  const id = logError(error);
  send(res, 500, {
    code: 'internal',
    title: 'Something went wrong on the server.',
    remedy: `Try again. If it happens again, look for ${id} in the server’s output.`,
    facts: { id },
  });
};

/** Classes of PostgreSQL's errors for a server that stops, starts, or was lost (Appendix A of its manual: 08, 57P). */
function isAway(error: unknown): boolean {
  const { code, original } = (error ?? {}) as { code?: string; original?: { code?: string } };
  const own = original?.code ?? code ?? '';
  return (
    /^(08|57P)|^(ECONNREFUSED|ECONNRESET|EPIPE)$/.test(own) ||
    (error instanceof Error && /Connection terminated/.test(error.message))
  );
}

/** Notes an error under an id, with where it came from and without its message, which may hold people's texts. @returns the id */
export function logError(error: unknown): string {
  const id = randomUUID().slice(0, 8);
  const { name, stack = '' } = error instanceof Error ? error : { name: typeof error };
  const code = (error as { original?: { code?: string } } | null)?.original?.code;
  const where = stack.split('\n').filter((line) => /^\s+at /.test(line));
  console.error([`Error ${id}: ${name}${code ? ` (${code})` : ''}`, ...where].join('\n'));
  return id;
}
