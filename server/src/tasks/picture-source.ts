import { inflateUpTo, openFile } from '@gable/formats';
import type { BytesRef, TaskContext } from './task';

/** Where a picture's bytes are: a part of a file as it is packed there, a picture that is no part of its own, or a kept one. */
export type PictureSource =
  { packed: BytesRef; name: string; method: number; size: number } | { file: BytesRef; n: number } | { kept: BytesRef };

export async function readPicture(source: PictureSource, { read }: Pick<TaskContext, 'read'>): Promise<Uint8Array> {
  if ('kept' in source) return read(source.kept);
  if ('file' in source) return openFile(await read(source.file)).pictureBytes(source.n);
  return inflateUpTo(await read(source.packed), source, source.size);
}

/** Bytes that are read for it. */
export const weighSource = (source: PictureSource): number =>
  'kept' in source ? source.kept.size : 'file' in source ? source.file.size * 4 : source.size + source.packed.size;
