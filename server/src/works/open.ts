import { randomUUID } from 'node:crypto';
import type { AppContext } from '../context';
import { bytesOf, type Bytes } from '../db/blobs';
import { Work } from '../db/models';
import type { Upload } from '../tasks/open';
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

export const openUpload = (context: AppContext, file: BytesRef): Promise<Upload> => context.tasks.run('open', { file });

/** Bytes of a spooled file, to be kept. */
export const spooled = (context: AppContext, made: Made): Bytes => ({
  ...made,
  pieces: context.spool.pieces(made, 1024 * 1024),
});

/** @param upload what opening the bytes has found */
export async function keepUpload(
  context: AppContext,
  bytes: Bytes,
  name: string,
  { opened, own }: Upload,
  more: More = {},
): Promise<Work> {
  const file = own ? spooled(context, own.made) : bytes;
  const told = { ...more, ...(own && { changes: own.changes }) };
  try {
    return await context.sequelize.transaction(async (transaction) => {
      const id = randomUUID();
      const sha256 = await context.blobs.put(file, { kind: 'work', id }, transaction);
      await keepSources(context, id, shownBy(Object.values(own?.changes.items ?? {})), transaction);
      return Work.create({ id, name, sha256, opened, ...told }, { transaction });
    });
  } finally {
    if (own) await context.spool.remove(own.made);
  }
}
