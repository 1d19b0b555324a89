import type { Frame } from '@gable/core';
import type { Source } from '@gable/formats';
import type { Original } from '@gable/render';

/**
 * The picture of a frame as its file holds it.
 * @param other of frames that show another one @throws GableError as `pictureBytes` does
 */
export const originalsOf =
  (file: Source, other?: Original) =>
  ({ n, source }: Pick<Frame, 'n' | 'source'>): Original =>
    source && other ? other : { bytes: file.pictureBytes(n), size: file.pictures[n - 1]!.size };
