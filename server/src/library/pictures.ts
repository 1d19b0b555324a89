import type { LibraryPicture } from '@gable/contract';
import { Op } from 'sequelize';
import type { AppContext } from '../context';
import { Picture } from '../db/models';
import { pictureCache, type SmallPicture } from '../http/picture-cache';
import { notFound } from '../http/problems';
import type { Made } from '../tasks/task';

/** A hidden one is sent to nobody. */
export const toJson = (p: Picture): LibraryPicture => ({
  sha256: p.sha256,
  name: p.name,
  kind: p.kind as LibraryPicture['kind'],
  type: p.type,
  size: { width: p.width, height: p.height },
  orientation: p.orientation,
  ...(p.video && { video: p.video }),
});

/** Keeps a picture's bytes, once for each content. @throws GableError for what is no picture, or too large a one */
export async function keepPicture(
  context: AppContext,
  file: Made,
  name: string,
  kind: 'own' | 'stock' = 'own',
  words = '',
): Promise<Picture> {
  const facts = await context.tasks.run('keepPicture', { file, name });
  const bytes = { ...file, pieces: context.spool.pieces(file, 1024 * 1024) };
  return context.sequelize.transaction(async (transaction) => {
    const { sha256 } = file;
    await context.blobs.put(bytes, { kind: 'picture', id: sha256 }, transaction);
    const [picture, created] = await Picture.findOrCreate({
      where: { sha256 },
      defaults: { sha256, kind, name, words, ...facts, usedAt: new Date() },
      transaction,
    });
    if (!created) {
      const shown = picture.kind === 'hidden' ? { kind, name } : {};
      await picture.update({ usedAt: new Date(), ...shown, ...(kind === 'stock' && { words }) }, { transaction });
    }
    return picture;
  });
}

/** Keeps a video with the picture that is seen of it before it plays. @throws GableError `not-a-video` */
export async function keepVideo(
  context: AppContext,
  picture: Picture,
  { file, name }: { file: Made; name: string },
): Promise<Picture> {
  const video = await context.tasks.run('keepVideo', { file, name });
  const { sha256 } = file;
  const owner = { kind: 'picture', id: picture.sha256 } as const;
  return context.sequelize.transaction(async (transaction) => {
    await context.blobs.put({ ...file, pieces: context.spool.pieces(file, 1024 * 1024) }, owner, transaction);
    const before = picture.video?.sha256;
    if (before !== undefined && before !== sha256) await context.blobs.letGo(before, owner, transaction);
    return picture.update({ video }, { transaction });
  });
}

/** Pictures that every word is found in, by name or by the words they are known by; one's own first, the latest first. */
export function searchPictures(query: string): Promise<Picture[]> {
  const words = query.split(/\s+/).filter(Boolean);
  return Picture.findAll({
    where: {
      kind: { [Op.ne]: 'hidden' },
      [Op.and]: words.map((w) => {
        const like = { [Op.iLike]: `%${w.replace(/[\\%_]/g, '\\$&')}%` };
        return { [Op.or]: [{ name: like }, { words: like }] };
      }),
    },
    order: [
      ['kind', 'ASC'],
      ['usedAt', 'DESC'],
      ['name', 'ASC'],
    ],
    limit: 200,
  });
}

/** @throws GableError `not-found` */
export async function findPicture(sha256: string): Promise<Picture> {
  const picture = /^[0-9a-f]{64}$/.test(sha256) ? await Picture.findByPk(sha256) : null;
  if (!picture) throw notFound('picture');
  return picture;
}

/** A copy of a picture for the screen. @param side its longer side, in pixels */
export const proxyOf = (context: AppContext, { sha256 }: Picture, side: number): Promise<SmallPicture> =>
  pictureCache.get(`${sha256}/${side}`, async () => {
    const source = { kept: await context.blobs.ref(sha256) };
    const { type, made } = await context.tasks.run('proxy', { source, side });
    return { type, data: await context.spool.take(made) };
  });

/** Takes a picture off the list. Works that show it go on showing it; when no work does, it is gone. */
export async function hidePicture({ sequelize, blobs }: AppContext, picture: Picture): Promise<void> {
  await sequelize.transaction(async (transaction) => {
    await picture.update({ kind: 'hidden' }, { transaction });
    await blobs.release('picture', [picture.sha256], transaction);
  });
}
