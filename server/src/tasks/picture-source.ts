import { inflateUpTo } from '@gable/formats';
import { openRef, type BytesRef, type FileRef, type TaskContext } from './task';

/** Where a picture's bytes are: a part of a file as it is packed there, a picture that is no part of its own, or a kept one. */
export type PictureSource =
  { packed: BytesRef; name: string; method: number; size: number } | { file: FileRef; n: number } | { kept: BytesRef };

export async function readPicture(source: PictureSource, { read }: Pick<TaskContext, 'read'>): Promise<Uint8Array> {
  if ('kept' in source) return read(source.kept);
  if ('file' in source) return (await openRef(source.file, { read })).pictureBytes(source.n);
  return inflateUpTo(await read(source.packed), source, source.size);
}

/** Bytes that are read for it. */
export const weighSource = (source: PictureSource): number =>
  'kept' in source ? source.kept.size : 'file' in source ? source.file.size * 4 : source.size + source.packed.size;
