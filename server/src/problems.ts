import { GableError, type Facts } from '@gable/core';
import type { ErrorRequestHandler, Response } from 'express';
import { ZodError } from 'zod';

/** HTTP status by error code; what is not listed is a file that cannot be used (422). */
const STATUS: Record<string, number> = {
  'not-found': 404,
  'no-such-picture': 404,
  'stale-revision': 409,
  'too-large': 413,
  'has-file': 409,
  'not-ready': 409,
  'no-file': 409,
  'bad-request': 400,
  'wrong-host': 403,
  'wrong-origin': 403,
  'no-space': 507,
};

export const notFound = (what: string): GableError =>
  new GableError('not-found', `There is no such ${what}.`, 'It may have been removed; go back to the Shelf.');

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
    send(res, STATUS[error.code] ?? 422, {
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
  const type = (error as { type?: string } | null)?.type;
  if (type === 'entity.too.large') {
    send(res, 413, {
      code: 'too-large',
      title: 'The file is too large: documents can have 300 MB, pictures 100 MB, silhouettes 20 MB.',
      remedy: 'Split it, or make its pictures smaller first.',
    });
    return;
  }
  if (type === 'entity.parse.failed' || type === 'request.aborted' || type === 'request.size.invalid') {
    send(res, 400, { code: 'bad-request', title: 'The request did not arrive whole.', remedy: 'Try again.' });
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
  console.error(error);
  send(res, 500, {
    code: 'internal',
    title: 'Something went wrong on the server.',
    remedy: 'Try again. If it happens again, look at the server’s output.',
  });
};
