import { createHash } from 'node:crypto';
import type { Client } from 'pg';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import type { BytesRef } from '../tasks/task';
import { BlobReader, CHUNK, missing, type Connect } from './blob-reader';

/** A connection of Sequelize's pool. */
export const pooled =
  (sequelize: Sequelize): Connect =>
  async () => {
    const manager = sequelize.connectionManager;
    const connection = await manager.getConnection({ type: 'read' } as never);
    const { pool } = manager as unknown as { pool: { destroy(connection: unknown): void } };
    return {
      client: connection as unknown as Client,
      release: (error) => (error ? pool.destroy(connection) : manager.releaseConnection(connection)),
    };
  };

/** Who keeps a blob: a work (its file, and every picture that its frames show or showed), the library, a long job, a font. */
export interface BlobOwner {
  kind: 'work' | 'picture' | 'job' | 'font';
  id: string;
}

/** Bytes to keep, whole or in pieces, under a digest that is known. */
export interface Bytes {
  sha256: string;
  size: number;
  pieces: Iterable<Uint8Array> | AsyncIterable<Uint8Array>;
}

export const bytesOf = (bytes: Uint8Array): Bytes => ({
  sha256: createHash('sha256').update(bytes).digest('hex'),
  size: bytes.length,
  pieces: [bytes],
});

/** Keeps bytes as long as something refers to them (`blob_refs`); what nobody refers to any more is gone at once. */
export class BlobStore extends BlobReader {
  constructor(private readonly sequelize: Sequelize) {
    super(pooled(sequelize));
  }

  /** Stores bytes within a transaction, for an owner; a blob that is there already is left alone. @returns its name */
  async put({ sha256, size, pieces }: Bytes, owner: BlobOwner, transaction: Transaction): Promise<string> {
    for (;;) {
      const made = await this.sequelize.query(
        'INSERT INTO blobs (sha256, size) VALUES ($1, $2) ON CONFLICT DO NOTHING RETURNING sha256',
        { bind: [sha256, size], type: QueryTypes.SELECT, transaction },
      );
      if (made.length > 0) {
        let seq = 0;
        for await (const bytes of rechunked(pieces))
          await this.sequelize.query('INSERT INTO blob_chunks (sha256, seq, bytes) VALUES ($1, $2, $3)', {
            bind: [sha256, seq++, bytes],
            type: QueryTypes.INSERT,
            transaction,
          });
        break;
      }
      // Somebody may be removing it at this moment: then it is stored anew.
      const held = await this.sequelize.query('SELECT 1 FROM blobs WHERE sha256 = $1 FOR KEY SHARE', {
        bind: [sha256],
        type: QueryTypes.SELECT,
        transaction,
      });
      if (held.length > 0) break;
    }
    await this.keep([sha256], owner, transaction);
    return sha256;
  }

  /** Notes that an owner needs blobs, which must be there. @throws GableError `missing-blob` */
  async keep(digests: readonly string[], { kind, id }: BlobOwner, transaction: Transaction): Promise<void> {
    if (digests.length === 0) return;
    const wanted = [...new Set(digests)];
    const held = await this.sequelize.query('SELECT sha256 FROM blobs WHERE sha256 = ANY($1) FOR KEY SHARE', {
      bind: [wanted],
      type: QueryTypes.SELECT,
      transaction,
    });
    if (held.length < wanted.length) throw missing();
    await this.sequelize.query(
      `INSERT INTO blob_refs (sha256, kind, owner) SELECT unnest($1::text[]), $2, $3 ON CONFLICT DO NOTHING`,
      { bind: [wanted, kind, id], type: QueryTypes.INSERT, transaction },
    );
  }

  /** Owners are gone: so is what only they needed. */
  async release(kind: BlobOwner['kind'], ids: readonly string[], transaction: Transaction): Promise<void> {
    if (ids.length === 0) return;
    const freed = await this.sequelize.query<{ sha256: string }>(
      'DELETE FROM blob_refs WHERE kind = $1 AND owner = ANY($2) RETURNING sha256',
      { bind: [kind, [...ids]], type: QueryTypes.SELECT, transaction },
    );
    await this.removeUnused(freed, transaction);
  }

  /** An owner does not need a blob any more. */
  async letGo(sha256: string, { kind, id }: BlobOwner, transaction: Transaction): Promise<void> {
    await this.sequelize.query('DELETE FROM blob_refs WHERE sha256 = $1 AND kind = $2 AND owner = $3', {
      bind: [sha256, kind, id],
      type: QueryTypes.DELETE,
      transaction,
    });
    await this.removeUnused([{ sha256 }], transaction);
  }

  private async removeUnused(freed: readonly { sha256: string }[], transaction: Transaction): Promise<void> {
    await this.sequelize.query(
      `DELETE FROM blobs b WHERE b.sha256 = ANY($1)
       AND NOT EXISTS (SELECT 1 FROM blob_refs r WHERE r.sha256 = b.sha256)`,
      { bind: [[...new Set(freed.map((r) => r.sha256))]], type: QueryTypes.DELETE, transaction },
    );
  }

  /** A blob as a task reads it. @throws GableError `missing-blob` */
  async ref(sha256: string): Promise<BytesRef & { sha256: string }> {
    const [row] = await this.sequelize.query<{ size: number }>('SELECT size FROM blobs WHERE sha256 = $1', {
      bind: [sha256],
      type: QueryTypes.SELECT,
    });
    if (!row) throw missing();
    return { sha256, size: row.size };
  }
}

/** Pieces of any length as rows of the same length, the last one shorter. */
async function* rechunked(pieces: Bytes['pieces']): AsyncGenerator<Buffer> {
  let parts: Uint8Array[] = [];
  let length = 0;
  for await (const piece of pieces)
    for (let at = 0; at < piece.length;) {
      const part = piece.subarray(at, at + CHUNK - length);
      parts.push(part);
      length += part.length;
      at += part.length;
      if (length === CHUNK) {
        yield Buffer.concat(parts);
        [parts, length] = [[], 0];
      }
    }
  if (length > 0) yield Buffer.concat(parts);
}
