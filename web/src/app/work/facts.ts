import { equal, type Frame, type PictureFacts } from '@gable/core';
import type { WorkPicture } from '@gable/contract';

/** What is known of a frame's picture without looking at its pixels. */
export const factsOf = (
  picture: WorkPicture,
  frame: Frame,
): Pick<PictureFacts, 'pixels' | 'orientation' | 'faked' | 'placed'> => ({
  faked: picture.faked,
  placed: !equal(frame.placement, picture.frame.placement),
  ...(frame.source
    ? { pixels: frame.source.size, orientation: frame.source.orientation }
    : { pixels: picture.media?.pixels ?? null, orientation: picture.media?.orientation ?? 1 }),
});
