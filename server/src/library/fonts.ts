import type { AppContext } from '../context';
import { Font } from '../db/models';
import type { BytesRef } from '../tasks/task';

/**
 * Keeps a font, once.
 * @param file spooled
 * @throws GableError `bad-font`
 */
export async function keepFont(
  { blobs, sequelize, spool, tasks }: AppContext,
  file: BytesRef,
  told: { ships?: true } = {},
): Promise<Font> {
  const { facts, made } = await tasks.run('keepFont', { file });
  try {
    return await sequelize.transaction(async (transaction) => {
      const { sha256 } = made;
      const known = await Font.findOne({ where: { sha256 }, transaction });
      if (known) return known;
      const font = Font.build({ sha256, facts: { ...facts, ...told } });
      const bytes = { ...made, pieces: spool.pieces(made, 1024 * 1024) };
      await blobs.put(bytes, { kind: 'font', id: font.id }, transaction);
      return font.save({ transaction });
    });
  } finally {
    await spool.remove(made);
  }
}
