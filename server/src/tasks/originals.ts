import { GableError, type Frame } from '@gable/core';
import type { Original } from '@gable/render';
import type { Source } from '@gable/formats';
import type { TaskContext } from './task';

/** The picture that a frame shows: the file's own, or a kept one, which is read when it is asked for. */
export function originalsOf(
  file: Source | null,
  { blob }: Pick<TaskContext, 'blob'>,
): (frame: Frame) => Promise<Original> {
  return async ({ n, source }) => {
    if (!source && file) return { bytes: file.pictureBytes(n), size: file.pictures.find((p) => p.n === n)!.size };
    if (!source)
      throw new GableError('missing-picture', `Picture ${n} is an empty frame.`, 'Put a picture into it.', { n });
    const bytes = await blob(source.sha256).catch((cause: unknown) => {
      if (!(cause instanceof GableError)) throw cause;
      throw new GableError(
        'missing-picture',
        `The picture “${source.name}” is gone.`,
        'Undo the replacement of this picture.',
        { n },
        { cause },
      );
    });
    return { bytes, size: source.size };
  };
}
