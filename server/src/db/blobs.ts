import { createHash } from 'node:crypto';
import { cast, col, Op, QueryTypes, where, type Sequelize, type Transaction } from 'sequelize';
import { Blob, BlobChunk, Errand, Picture, Work } from './models';

/** Bytes in rows of 2 MB, named by their SHA-256: the same file is kept once. */
export const CHUNK = 2 * 1024 * 1024;

export class BlobStore {
  constructor(private readonly sequelize: Sequelize) {}

  /** Stores bytes within a transaction; a blob that is there already is left alone. @returns its name */
  async put(bytes: Buffer, transaction: Transaction): Promise<string> {
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const [, created] = await Blob.findOrCreate({
      where: { sha256 },
      defaults: { sha256, size: bytes.length },
      transaction,
    });
    if (!created) return sha256;
    for (let seq = 0; seq * CHUNK < bytes.length; seq++)
      await BlobChunk.create({ sha256, seq, bytes: bytes.subarray(seq * CHUNK, (seq + 1) * CHUNK) }, { transaction });
    return sha256;
  }

  /** Reads `from` up to, not including, `to`; only the rows that hold them are fetched. */
  async read(sha256: string, from: number, to: number): Promise<Buffer> {
    const first = Math.floor(from / CHUNK);
    const rows = await this.sequelize.query<{ seq: number; bytes: Buffer }>(
      'SELECT seq, bytes FROM blob_chunks WHERE sha256 = $1 AND seq BETWEEN $2 AND $3 ORDER BY seq',
      { bind: [sha256, first, Math.max(first, Math.ceil(to / CHUNK) - 1)], type: QueryTypes.SELECT },
    );
    return Buffer.concat(rows.map((r) => r.bytes)).subarray(from - first * CHUNK, to - first * CHUNK);
  }

  async readAll(sha256: string): Promise<Buffer> {
    const blob = await Blob.findByPk(sha256, { rejectOnEmpty: true });
    return this.read(sha256, 0, blob.size);
  }

  /** Removes a blob that no work, no kept picture and no long job refers to any more. */
  async release(sha256: string, transaction: Transaction): Promise<void> {
    // One after the other: a transaction has one connection.
    const users = [
      await Work.count({ where: { sha256 }, transaction }),
      await Picture.count({ where: { sha256 }, transaction }),
      await Errand.count({ where: { [Op.or]: [{ made: sha256 }, { sha256 }] }, transaction }),
      // Pages of a proof sheet, as JSON is written (two sheets can have the same page).
      await Errand.count({
        where: where(cast(col('wish'), 'text'), Op.like, `%"ground": "${sha256}"%`),
        transaction,
      }),
    ];
    if (users.every((n) => n === 0)) await Blob.destroy({ where: { sha256 }, transaction });
  }
}
