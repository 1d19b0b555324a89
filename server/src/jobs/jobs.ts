import { GableError, type Frame, type Size } from '@gable/core';
import { fateOf, saveBaked, storable, type Fate } from '@gable/cli/bake';
import { LIMITS, MISFITS, openFile, type MarginPicture } from '@gable/formats';
import sharp from 'sharp';
import { plainPages } from './pages';
import type { Opened } from '../db/models';

/** Kept pictures' data by digest. */
export type Sources = Readonly<Record<string, Uint8Array>>;

/** How a frame will be written, and what for. */
export interface FrameFate {
  n: number;
  fate: Fate;
  reasons: string[];
}

/** Work too heavy for the thread that answers requests. */
export interface Jobs {
  open(bytes: Uint8Array): Promise<Opened>;
  save(bytes: Uint8Array, frames: Frame[], sources: Sources): Promise<Uint8Array>;
  /** What will be native, and what painted into pixels. */
  fates(bytes: Uint8Array, frames: Frame[]): Promise<FrameFate[]>;
  /** The document with a small stand-in for each picture: for showing its pages. */
  pages(bytes: Uint8Array, frames: Frame[]): Promise<Uint8Array>;
  /** The document with a picture in its header or footer, and the parts that now begin with it. */
  margin(bytes: Uint8Array, wish: MarginWish): Promise<{ bytes: Uint8Array; parts: string[] }>;
  /** A drawing without its pictures, as a PNG; null for files that are none. */
  ground(bytes: Uint8Array): Promise<Uint8Array | null>;
  /** A picture that is not a part of its own in the file. */
  picture(bytes: Uint8Array, n: number): Promise<Uint8Array>;
  close(): Promise<void>;
}

export function openJob(bytes: Uint8Array): Opened {
  const { format, signed, pages, pictures, sheets } = openFile(bytes);
  return { format, signed, pages, pictures, sheets };
}

export function saveJob(bytes: Uint8Array, frames: Frame[], sources: Sources): Promise<Uint8Array> {
  const file = openFile(bytes);
  return saveBaked(file, frames, ({ n, source }) => {
    if (!source) return { bytes: file.pictureBytes(n), size: file.pictures[n - 1]!.size };
    const data = sources[source.sha256];
    if (!data)
      throw new GableError(
        'missing-picture',
        `The picture “${source.name}” is gone.`,
        'Take the replacement back for this picture.',
        {
          n,
        },
      );
    return { bytes: data, size: source.size };
  });
}

export function fatesJob(bytes: Uint8Array, frames: Frame[]): FrameFate[] {
  const file = openFile(bytes);
  return frames.map((f) => {
    const misfits = file.misfits(f);
    return { n: f.n, fate: fateOf(misfits), reasons: misfits.map((m) => MISFITS[m]) };
  });
}

export const pagesJob = (bytes: Uint8Array, frames: Frame[]): Promise<Uint8Array> =>
  plainPages(openFile(bytes), frames);

export const pictureJob = (bytes: Uint8Array, n: number): Uint8Array => openFile(bytes).pictureBytes(n);

/** A picture for a margin, as it was kept. */
export type MarginWish = Omit<MarginPicture, 'picture'> & { picture: { bytes: Uint8Array; type: string; size: Size } };

export async function marginJob(
  bytes: Uint8Array,
  { picture, ...wish }: MarginWish,
): Promise<{ bytes: Uint8Array; parts: string[] }> {
  const file = openFile(bytes);
  if (!file.putInMargin)
    throw new GableError(
      'no-margin',
      'Only text documents (.docx) get pictures in their headers and footers.',
      'Put the picture on a slide or a page in the program it was made with.',
    );
  return file.putInMargin({ ...wish, picture: await storable(picture, picture.type) });
}

/** Pixels across of a drawing behind its pictures. */
const GROUND = 1600;

/** What is in the drawing is painted and never run; nothing it links to is fetched. */
export async function groundJob(bytes: Uint8Array): Promise<Uint8Array | null> {
  const bare = openFile(bytes).bare?.();
  if (!bare) return null;
  try {
    return await sharp(bare, { limitInputPixels: LIMITS.megapixels * 1e6, density: 96 })
      .resize(GROUND, GROUND, { fit: 'inside' })
      .png()
      .toBuffer();
  } catch (cause) {
    throw new GableError('bad-svg', 'The drawing cannot be painted.', 'Work on in close-up.', {}, { cause });
  }
}

/** The same without threads: for tests, and for a look from a debugger. */
export const inProcess: Jobs = {
  open: (bytes) => Promise.resolve().then(() => openJob(bytes)),
  save: (bytes, frames, sources) => Promise.resolve().then(() => saveJob(bytes, frames, sources)),
  fates: (bytes, frames) => Promise.resolve().then(() => fatesJob(bytes, frames)),
  pages: (bytes, frames) => Promise.resolve().then(() => pagesJob(bytes, frames)),
  margin: (bytes, wish) => marginJob(bytes, wish),
  ground: (bytes) => groundJob(bytes),
  picture: (bytes, n) => Promise.resolve().then(() => pictureJob(bytes, n)),
  close: () => Promise.resolve(),
};
