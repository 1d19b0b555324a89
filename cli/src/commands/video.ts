import {
  CaptionsSchema,
  GableError,
  itemIdOf,
  parsePick,
  PLAYED,
  readCaptions,
  type Captions,
  type Frame,
  type Size,
  type Video,
} from '@gable/core';
import { CAPABILITIES, filled, withFrames } from '@gable/formats';
import { saveRasterised } from '@gable/render';
import { readVideo } from '@gable/render/video';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import { FLAG, TEXT, type Command } from '../command';
import { readWhole, openPath, writeWhole } from '../files';
import { originalsOf } from '../originals';
import { readPicture } from '../picture-file';

interface VideoOptions {
  out?: string;
  pick?: string;
  video?: string;
  captions?: string;
  language?: string;
  poster?: string;
  remove?: boolean;
  start?: string;
  end?: string;
  auto?: boolean;
  loop?: boolean;
  muted?: boolean;
  'no-controls'?: boolean;
}

function secondsOf(text: string | undefined, most: number): number | undefined {
  if (text === undefined) return undefined;
  const seconds = Number(text);
  if (seconds >= 0 && seconds <= most) return seconds;
  throw new GableError(
    'bad-call',
    `“${text}” is no moment of the video.`,
    `Give seconds from 0 to ${most.toFixed(2)}.`,
  );
}

/** The video as it is asked for. */
async function readWish(o: VideoOptions): Promise<Video> {
  if (!o.video)
    throw new GableError(
      'bad-call',
      'The video is missing.',
      'Add --video wheel.mp4, --captions wheel.vtt or --remove.',
    );
  await stat(o.video).catch((cause) => {
    throw new GableError(
      'no-such-file',
      `There is no file “${o.video}”.`,
      'Check the name and the folder.',
      {},
      { cause },
    );
  });
  const kept = await readVideo(o.video);
  const [start, end] = [secondsOf(o.start, kept.seconds), secondsOf(o.end, kept.seconds)];
  if (end !== undefined && end <= (start ?? 0))
    throw new GableError('bad-call', 'The video would end before it begins.', 'Give an --end behind --start.');
  return {
    source: { from: 'kept', ...kept },
    play: {
      ...PLAYED,
      automatic: o.auto ?? false,
      loop: o.loop ?? false,
      muted: o.muted ?? false,
      controls: !o['no-controls'],
    },
    ...(start !== undefined && start > 0 && { start }),
    ...(end !== undefined && { end }),
  };
}

/** The captions of a file, in a language. @throws GableError `not-captions`, `bad-call` for what is no language */
async function captionsIn(file: string, language = 'en'): Promise<Captions> {
  const read = CaptionsSchema.safeParse({ language, text: readCaptions(await readWhole(file), path.basename(file)) });
  if (read.success) return read.data;
  throw new GableError('bad-call', `“${language}” is no language.`, 'Name it as in --language en, or de-AT.');
}

/** A video lies as its poster does: of another ratio it would be squashed. @throws GableError `bad-ratio` */
function refuseOtherRatio(n: number, poster: Size, { source }: Video): void {
  const size = source.from === 'kept' ? source.size : poster;
  if (Math.abs(((poster.width / poster.height) * size.height) / size.width - 1) < 0.01) return;
  const of = ({ width, height }: Size): string => `${width} × ${height}`;
  throw new GableError(
    'bad-ratio',
    `The poster of picture ${n} has ${of(poster)} pixels, the video ${of(size)}: one of them would be squashed.`,
    'Add --poster with a picture of the video.',
    { n },
  );
}

/** `gable video`: pictures of a file become a video, and are what is seen of it before it plays. */
async function video(file: string, o: VideoOptions): Promise<void> {
  if (!o.out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out FILE2.');
  const captions = o.captions === undefined ? undefined : await captionsIn(o.captions, o.language);
  // Captions alone are for a video that is there.
  const isThere = captions !== undefined && !o.video && !o.remove;
  const wish = o.remove || isThere ? null : { ...(await readWish(o)), ...(captions && { captions }) };
  const opened = await openPath(file);
  if (captions && CAPABILITIES[opened.format].pages !== 'web')
    throw new GableError(
      'cannot-write',
      `Captions cannot go into this kind of file (${opened.format}).`,
      'They go with videos on web pages.',
    );
  const picked = parsePick(
    o.pick ?? '1',
    opened.pictures.map((p) => p.n),
  );
  const poster = o.poster ? await readPicture(o.poster) : null;
  const frames = picked.map((n): Frame => {
    const { frame: before, size } = opened.pictures.find((p) => p.n === n)!;
    const { video: was, ...frame } = before;
    if (isThere) {
      if (was) return { ...frame, video: { ...was, captions } };
      throw new GableError('bad-call', `Picture ${n} is no video.`, 'Add --video wheel.mp4.', { n });
    }
    if (!wish) return frame;
    refuseOtherRatio(n, poster?.original.size ?? size, wish);
    return { ...frame, video: wish, ...(poster && { source: poster.kept }) };
  });
  const next = withFrames(opened, frames);
  const fidelity = opened.fidelity(next);
  const refused = picked.find((n) => fidelity.get(itemIdOf({ n }))?.unsupported.includes('video'));
  if (refused !== undefined)
    throw new GableError(
      'cannot-write',
      `Picture ${refused} cannot be a video in this kind of file (${opened.format}).`,
      'Videos go into pictures of slides (.pptx), web pages and drawings (.svg).',
      { n: refused },
    );
  const bytes = await saveRasterised(opened, next, { original: originalsOf(opened, poster?.original) });
  await writeWhole(o.out, o.video ? filled(bytes, () => createReadStream(o.video!)) : bytes);
  const are = picked.length === 1 ? `Picture ${picked[0]} is` : `Pictures ${picked.join(', ')} are`;
  const now = isThere ? 'captioned' : wish ? 'a video now' : 'no video any more';
  console.log(`${are} ${now}; wrote ${o.out}.`);
}

export const videoCommand: Command = {
  name: 'video',
  usage: `video  FILE --out FILE2 --video wheel.mp4 [--poster wheel.jpg] [--pick 1]   pictures become a video (.mp4, .webm), and its poster
               [--start 1.5] [--end 8] [--auto] [--loop] [--muted] [--no-controls]; --remove takes it away
               [--captions wheel.vtt] [--language en]   on web pages, of a new video or of one that is there`,
  options: {
    ...{ out: TEXT, pick: TEXT, video: TEXT, poster: TEXT, start: TEXT, end: TEXT, captions: TEXT, language: TEXT },
    ...{ remove: FLAG, auto: FLAG, loop: FLAG, muted: FLAG, 'no-controls': FLAG },
  },
  takesFile: true,
  run: (file, values) => video(file, values as VideoOptions),
};
