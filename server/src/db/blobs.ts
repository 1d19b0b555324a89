import { createHash } from 'node:crypto';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { Client } from 'pg';
import { to as copyTo } from 'pg-copy-streams';
import { GableError } from '@gable/core';
import type { BytesRef } from '../tasks/task';

/** Bytes in rows of 2 MB, named by their SHA-256: the same file is kept once. */
export const CHUNK = 2 * 1024 * 1024;

/** A connection to send what a query yields down a stream, and what gives it back. */
export type Connect = () => Promise<{ client: Pick<Client, 'query'>; release(error?: unknown): void }>;

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

/** A connection of one's own, made when it is first needed, and again when it was lost. */
export function ownConnection(url: string): Connect {
  let client: Promise<Client> | null = null;
  const connect = async (): Promise<Client> => {
    const next = new Client({ connectionString: url });
    next.on('error', () => (client = null));
    await next.connect();
    return next;
  };
  return async () => {
    client ??= connect();
    const mine = client;
    const release = (error?: unknown): void => {
      if (!error) return;
      if (client === mine) client = null;
      void mine.then((c) => c.end()).catch(() => undefined);
    };
    try {
      return { client: await mine, release };
    } catch (error) {
      release(error);
      throw error;
    }
  };
}

/** Header of binary COPY: eleven bytes, flags, length of what extends it (PostgreSQL manual, COPY, Binary Format). */
const HEADER = 19;

/**
 * The one column of a query as the database sends it in binary, row by row. By ordinary queries `bytea` comes as hexadecimal
 * text, twice the size, and is decoded at once.
 */
async function* column(connect: Connect, query: string): AsyncGenerator<Buffer> {
  const { client, release } = await connect();
  let failed: unknown = null;
  let ended = false;
  try {
    const stream = client.query(copyTo(`COPY (${query}) TO STDOUT (FORMAT binary)`));
    let parts: Buffer[] = [];
    let have = 0;
    const take = (length: number): Buffer => {
      const all = parts.length === 1 ? parts[0]! : Buffer.concat(parts);
      parts = [all.subarray(length)];
      have -= length;
      return all.subarray(0, length);
    };
    let header = true;
    /** Of the row that is being read; null before its length is known. */
    let wanted: number | null = null;
    for await (const piece of stream as AsyncIterable<Buffer>) {
      parts.push(piece);
      have += piece.length;
      if (header && have >= HEADER) {
        take(HEADER);
        header = false;
      }
      while (!header) {
        if (wanted === null) {
          if (have < 2) break;
          // The number of columns; −1 ends the rows.
          if (parts.length > 1) parts = [Buffer.concat(parts)];
          if (parts[0]!.readInt16BE(0) < 0) break;
          if (have < 6) break;
          wanted = take(6).readInt32BE(2);
        }
        if (have < wanted) break;
        yield take(wanted);
        wanted = null;
      }
    }
    ended = true;
  } catch (error) {
    failed = error;
    throw error;
  } finally {
    // Whoever stops in the middle leaves a connection that is still sending.
    release(failed ?? (ended ? undefined : new Error('stopped')));
  }
}

/** Reads kept bytes. */
export class BlobReader {
  constructor(private readonly connect: Connect) {}

  /** Reads `from` up to, not including, `to`; only the rows that hold them are fetched. @throws GableError `missing-blob` */
  async read(sha256: string, from: number, to: number): Promise<Buffer> {
    const first = Math.floor(from / CHUNK);
    const last = Math.max(first, Math.ceil(to / CHUNK) - 1);
    const out = Buffer.allocUnsafe(to - from);
    let have = 0;
    let at = first * CHUNK;
    for await (const row of this.rows(sha256, first, last)) {
      const [begin, end] = [Math.max(0, from - at), Math.min(row.length, to - at)];
      if (end > begin) have += row.copy(out, at + begin - from, begin, end);
      at += row.length;
    }
    if (have < to - from) throw missing();
    return out;
  }

  async readAll(sha256: string): Promise<Buffer> {
    const rows: Buffer[] = [];
    for await (const row of this.rows(sha256, 0, MAX_ROW)) rows.push(row);
    if (rows.length === 0) throw missing();
    return rows.length === 1 ? rows[0]! : Buffer.concat(rows);
  }

  /** Row by row, for what is sent on. */
  pieces(sha256: string): AsyncGenerator<Buffer> {
    return this.rows(sha256, 0, MAX_ROW);
  }

  private rows(sha256: string, first: number, last: number): AsyncGenerator<Buffer> {
    // COPY takes no parameters: only a digest and two numbers are put in.
    if (!/^[0-9a-f]{64}$/.test(sha256)) throw missing();
    const rows = [first, last].map((n) => Math.trunc(n));
    return column(
      this.connect,
      `SELECT bytes FROM blob_chunks WHERE sha256 = '${sha256}' AND seq BETWEEN ${rows.join(' AND ')} ORDER BY seq`,
    );
  }
}

const MAX_ROW = 2 ** 31 - 1;

const missing = (): GableError =>
  new GableError('missing-blob', 'These bytes are no longer kept.', 'Open the file, or take the picture, again.');

/** Who keeps a blob: a work (its file, and every picture that its frames show or showed), the library, a long job. */
export interface BlobOwner {
  kind: 'work' | 'picture' | 'errand';
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
