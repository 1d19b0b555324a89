import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
import { open, rm } from 'node:fs/promises';
import path from 'node:path';
import type { Made } from './task';

/** A spooled file that nobody took is removed after so long. */
const LEFT = 24 * 3600_000;

/** A folder for bytes on their way between processes: what is uploaded, and what tasks make. Files live as long as they are needed. */
export class Spool {
  constructor(readonly folder: string) {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    for (const name of readdirSync(folder)) {
      const file = path.join(folder, name);
      if (Date.now() - statSync(file).mtimeMs > LEFT) rmSync(file, { force: true });
    }
  }

  /**
   * Writes pieces into a new file as they come.
   * @param most refused beyond so many bytes
   * @throws what the pieces throw, and what `tooLarge` makes; nothing is left behind then
   */
  async write(
    pieces: Iterable<Uint8Array> | AsyncIterable<Uint8Array>,
    most = Infinity,
    tooLarge: () => Error = () => new Error('Too large.'),
  ): Promise<Made> {
    const file = path.join(this.folder, randomUUID());
    const hash = createHash('sha256');
    let size = 0;
    const out = await open(file, 'wx', 0o600);
    try {
      for await (const piece of pieces) {
        size += piece.length;
        if (size > most) throw tooLarge();
        hash.update(piece);
        await out.write(piece);
      }
    } catch (error) {
      await out.close();
      await this.remove({ file });
      throw error;
    }
    await out.close();
    return { file, size, sha256: hash.digest('hex') };
  }

  /** The bytes of a spooled file in pieces. */
  pieces({ file }: { file: string }, length: number): AsyncIterable<Buffer> {
    return createReadStream(file, { highWaterMark: length });
  }

  /** All of a small file, which is then gone. */
  async take(made: Made): Promise<Buffer> {
    const handle = await open(made.file);
    try {
      return await handle.readFile();
    } finally {
      await handle.close();
      await this.remove(made);
    }
  }

  async remove({ file }: { file: string }): Promise<void> {
    await rm(file, { force: true });
  }
}
