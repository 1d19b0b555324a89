import type { Frame, PictureFacts } from '@gable/core';
import type { WorkPicture } from '@gable/contract';

/** What is known of a frame's picture without looking at its pixels. */
export const factsOf = (picture: WorkPicture, frame: Frame): Pick<PictureFacts, 'pixels' | 'orientation' | 'faked'> =>
  frame.source
    ? { faked: picture.faked, pixels: frame.source.size, orientation: frame.source.orientation }
    : { faked: picture.faked, pixels: picture.media?.pixels ?? null, orientation: picture.media?.orientation ?? 1 };
