import type { KeptVideo } from '@gable/core';
import { readVideo } from '@gable/render/video';
import { task, type Made } from './task';

/** Reads the headers of a video. @throws GableError `not-a-video` */
export const keepVideo = task({
  lane: 'paint',
  seconds: 120,
  run: ({ file, name }: { file: Made; name: string }): Promise<KeptVideo> => readVideo(file.file, name),
});
