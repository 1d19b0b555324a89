import { readFile } from 'node:fs/promises';
import type { BlobReader } from '../db/blob-reader';
import type { FontReader } from '../db/font-reader';
import type { Spool } from './spool';
import type { TaskContext } from './task';

/** What tasks work with, wherever they run. */
export function contextOf(
  blobs: Pick<BlobReader, 'read' | 'readAll' | 'pieces'>,
  { spool, fonts }: { spool: Spool; fonts: FontReader },
  progress: TaskContext['progress'] = () => undefined,
): TaskContext {
  return {
    progress,
    fonts: (families, packed) => fonts.files(families, packed),
    blob: (sha256) => blobs.readAll(sha256),
    pieces: (sha256) => blobs.pieces(sha256),
    async read(ref) {
      if ('file' in ref) return readFile(ref.file);
      return ref.range ? blobs.read(ref.sha256, ref.range.from, ref.range.to) : blobs.readAll(ref.sha256);
    },
    made: (pieces) => spool.write(pieces instanceof Uint8Array ? [pieces] : pieces),
  };
}
