import { GableError } from '@gable/core';
import { Client } from 'pg';
import { to as copyTo } from 'pg-copy-streams';

/** Bytes are kept in rows of 2 MB, named by their SHA-256. */
export const CHUNK = 2 * 1024 * 1024;

/** A connection to send what a query yields down a stream, and what gives it back. */
export type Connect = () => Promise<{ client: Pick<Client, 'query'>; release(error?: unknown): void }>;

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
    // A reader that stops in the middle leaves a connection that is still sending.
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

export const missing = (): GableError =>
  new GableError('missing-blob', 'This file is no longer here.', 'Open it again.');
