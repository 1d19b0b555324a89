import type { Response } from 'express';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import type { AppContext } from '../context';
import type { Made } from '../tasks/task';
import { fileName } from './file-name';

const OOXML = 'application/vnd.openxmlformats-officedocument';
const OASIS = 'application/vnd.oasis.opendocument';
/** Drawings and pages of users are handed over as plain bytes: they must never be shown as ours. */
const MEDIA_TYPES: Partial<Record<string, string>> = {
  docx: `${OOXML}.wordprocessingml.document`,
  pptx: `${OOXML}.presentationml.presentation`,
  xlsx: `${OOXML}.spreadsheetml.sheet`,
  odt: `${OASIS}.text`,
  odp: `${OASIS}.presentation`,
  ods: `${OASIS}.spreadsheet`,
  odg: `${OASIS}.graphics`,
  site: 'application/zip',
  zip: 'application/zip',
  pdf: 'application/pdf',
};

/** Headers of a file to keep. */
export const attachment = (res: Response, name: string, format: string): Response =>
  res
    .attachment(fileName(name))
    .type(MEDIA_TYPES[format] ?? 'application/octet-stream')
    .set('Cache-Control', 'no-store');

const FOREVER = 'private, max-age=31536000, immutable';

/** Sends a picture as it came, for those who show it themselves: it is never a document of our own address. */
export async function sendOriginal(context: AppContext, res: Response, made: Made): Promise<void> {
  res.type('application/octet-stream').set('Content-Disposition', 'attachment').set('Cache-Control', FOREVER);
  await sendMade(context, res, made);
}

/** Sends what a task made, piece by piece, and removes it. */
export async function sendMade(context: AppContext, res: Response, made: Made): Promise<void> {
  res.set('Content-Length', String(made.size));
  try {
    await pipeline(createReadStream(made.file), res);
  } catch (error) {
    // The client disconnected.
    if (!res.destroyed) throw error;
  } finally {
    await context.spool.remove(made);
  }
}
