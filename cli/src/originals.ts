import type { Source } from '@gable/formats';
import type { Original } from '@gable/render';

/** The picture of a frame as its file holds it. @throws GableError as `pictureBytes` does */
export const originalsOf =
  (file: Source) =>
  ({ n }: { n: number }): Original => ({ bytes: file.pictureBytes(n), size: file.pictures[n - 1]!.size });
