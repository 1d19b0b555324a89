import type { Changes } from '@gable/core';
import { randomUUID } from 'node:crypto';
import type { AppContext } from '../context';
import { bytesOf, type Bytes } from '../db/blobs';
import { Work, type Opened } from '../db/models';
import type { BytesRef, Made } from '../tasks/task';
import { keepSources, shownBy } from './sources';

/** What is said of a work beside its file. */
type More = Partial<Pick<Work, 'demo' | 'begun'>>;

/** Opens a file and keeps it as a work: all of it, or nothing. */
export async function createWork(context: AppContext, bytes: Buffer, name: string, more: More = {}): Promise<Work> {
  const made = await context.spool.write([bytes]);
  try {
    return await keepUpload(context, bytesOf(bytes), name, await openUpload(context, made), more);
  } finally {
    await context.spool.remove(made);
  }
}

export const openUpload = (context: AppContext, file: BytesRef): Promise<Opened> => context.tasks.run('open', { file });

/** Bytes of a spooled file, to be kept. */
export const spooled = (context: AppContext, made: Made): Bytes => ({
  ...made,
  pieces: context.spool.pieces(made, 1024 * 1024),
});

export function keepUpload(
  context: AppContext,
  bytes: Bytes,
  name: string,
  opened: Opened,
  more: More & { changes?: Changes } = {},
): Promise<Work> {
  return context.sequelize.transaction(async (transaction) => {
    const id = randomUUID();
    const sha256 = await context.blobs.put(bytes, { kind: 'work', id }, transaction);
    await keepSources(context, id, shownBy(Object.values(more.changes?.items ?? {})), transaction);
    return Work.create({ id, name, sha256, opened, ...more }, { transaction });
  });
}
