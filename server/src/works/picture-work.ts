import type { PictureRow } from '@gable/contract';
import { documentOfPictures, GableError } from '@gable/core';
import { randomUUID } from 'node:crypto';
import type { Transaction } from 'sequelize';
import type { AppContext } from '../context';
import { Picture, Work } from '../db/models';
import { notFound } from '../http/problems';
import { layRow } from './row';
import { keepSources, shownBy } from './sources';

/** A work that begins with pictures and has no file. */
export async function createPictureWork(context: AppContext, row: PictureRow): Promise<Work> {
  return context.sequelize.transaction(async (transaction) => {
    const kept = await keptPictures(row.pictures, transaction);
    const pictures = layRow(kept, []);
    const name = row.name ?? kept.find((p) => p !== null)?.name.replace(/\.\w+$/, '') ?? 'New work';
    const opened = { format: 'pictures' as const, signed: false, pages: 1, pictures };
    const id = randomUUID();
    await keepSources(context, id, shownBy(Object.values(documentOfPictures(pictures).items)), transaction);
    return Work.create({ id, name, sha256: null, opened }, { transaction });
  });
}

export async function keptPictures(
  digests: readonly (string | null)[],
  transaction?: Transaction,
): Promise<(Picture | null)[]> {
  const wanted = [...new Set(digests.filter((d) => d !== null))];
  const options = { where: { sha256: wanted }, ...(transaction && { transaction }) };
  const found = new Map((await Picture.findAll(options)).map((p) => [p.sha256, p]));
  const lacking = wanted.find((d) => !found.has(d));
  if (lacking) throw notFound('picture');
  await Picture.update({ usedAt: new Date() }, options);
  return digests.map((d) => (d === null ? null : found.get(d)!));
}

/** Puts more pictures behind those of a work that began with pictures. @throws GableError `has-file` */
export async function addPictures(context: AppContext, id: string, row: PictureRow): Promise<Work> {
  return context.sequelize.transaction(async (transaction) => {
    const now = await Work.findByPk(id, { transaction, lock: true, rejectOnEmpty: true });
    if (now.opened.format !== 'pictures')
      throw new GableError(
        'has-file',
        'Pictures can be added only to works that began with pictures.',
        'Replace the picture of a frame instead.',
      );
    const added = layRow(await keptPictures(row.pictures, transaction), now.opened.pictures);
    await keepSources(context, id, shownBy(Object.values(documentOfPictures(added).items)), transaction);
    const opened = { ...now.opened, pictures: [...now.opened.pictures, ...added] };
    return now.update({ opened, revision: now.revision + 1 }, { transaction });
  });
}
