import { GableError } from '@gable/core';
import type { Request } from 'express';
import type { Spool } from '../tasks/spool';
import type { Made } from '../tasks/task';

/**
 * Takes the body of a request into a spooled file as it comes; no more than a piece of it is ever in memory.
 * @param what said of the limit when it is passed @param remedy and of what to do then
 * @throws GableError `too-large`, `unsupported-encoding`, `incomplete-request`
 */
export async function receive(
  req: Request,
  spool: Spool,
  most: number,
  what: string,
  remedy = 'Split it, or make its pictures smaller first.',
): Promise<Made> {
  const encoding = req.headers['content-encoding'] ?? 'identity';
  if (encoding.toLowerCase() !== 'identity')
    throw new GableError(
      'unsupported-encoding',
      `The content encoding “${encoding}” is not supported.`,
      'Send the bytes as they are.',
    );
  const tooLarge = (): GableError => new GableError('too-large', `The file is too large: ${what}.`, remedy);
  if (Number(req.headers['content-length'] ?? 0) > most) throw tooLarge();
  try {
    return await spool.write(req as AsyncIterable<Buffer>, most, tooLarge);
  } catch (error) {
    if (error instanceof GableError || !req.destroyed || req.complete) throw error;
    throw new GableError('incomplete-request', 'The request was cut off.', 'Try again.', {}, { cause: error });
  }
}
