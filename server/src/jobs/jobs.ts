import { GableError, type Frame, type Size } from '@gable/core';
import { fateOf, saveBaked, storable, type Fate, type Original } from '@gable/cli/bake';
import { makeProof, type OnPage, type ProofPage, type ProofPair, type ProofSide } from '@gable/cli/proof';
import { makeSet, type SetWish } from '@gable/cli/set';
import { slim, type Slimmed } from '@gable/cli/slim';
import {
  LIMITS,
  MISFITS,
  openFile,
  type MarginPicture,
  type OpenedFile,
  type OpenedPicture,
  type Sheet,
  type SlimWish,
} from '@gable/formats';
import sharp from 'sharp';
import { pageOf } from './pages';
import type { Opened } from '../db/models';

/** Kept pictures' data by digest. */
export type Sources = Readonly<Record<string, Uint8Array>>;

/** How a frame will be written, and what for. */
export interface FrameFate {
  n: number;
  fate: Fate;
  reasons: string[];
}

/** Says how far a long job is, and tells it to stop. */
export interface Watch {
  progress: (done: number, total: number) => void;
  signal: AbortSignal;
}

/** Work too heavy for the thread that answers requests. */
export interface Jobs {
  open(bytes: Uint8Array): Promise<Opened>;
  save(bytes: Uint8Array, frames: Frame[], sources: Sources, watch?: Watch): Promise<Uint8Array>;
  /** A file with fewer pixels, or without private data. */
  slim(bytes: Uint8Array, wish: SlimWish, watch?: Watch): Promise<Slimmed>;
  /** Every frame as pictures, zipped; `bytes` is null for a work that began with pictures. */
  set(bytes: Uint8Array | null, frames: Frame[], sources: Sources, wish: SetWish, watch?: Watch): Promise<Uint8Array>;
  /** Frames before and after, as one PDF. */
  proof(bytes: Uint8Array | null, wish: ProofWish, sources: Sources, watch?: Watch): Promise<Uint8Array>;
  /** What will be native, and what painted into pixels. */
  fates(bytes: Uint8Array, frames: Frame[]): Promise<FrameFate[]>;
  /** A page as HTML, or the document with a small stand-in for each picture: for showing its pages. */
  pages(bytes: Uint8Array, frames: Frame[], page: number): Promise<Uint8Array>;
  /** The document with a picture in its header or footer, and the parts that now begin with it. */
  margin(bytes: Uint8Array, wish: MarginWish): Promise<{ bytes: Uint8Array; parts: string[] }>;
  /** A drawing without its pictures, or what lies behind a slide, as a PNG; null where there is none. */
  ground(bytes: Uint8Array, page: number): Promise<Uint8Array | null>;
  /** A picture that is not a part of its own in the file. */
  picture(bytes: Uint8Array, n: number): Promise<Uint8Array>;
  close(): Promise<void>;
}

export function openJob(bytes: Uint8Array): Opened {
  const { format, signed, pages, pictures, sheets } = openFile(bytes);
  return { format, signed, pages, pictures, sheets };
}

type Progress = Watch['progress'];

export function saveJob(
  bytes: Uint8Array,
  frames: Frame[],
  sources: Sources,
  progress?: Progress,
): Promise<Uint8Array> {
  const file = openFile(bytes);
  return saveBaked(file, frames, originalsOf(file, sources), progress);
}

export const slimJob = slim;

export const setJob = (
  bytes: Uint8Array | null,
  frames: Frame[],
  sources: Sources,
  wish: SetWish,
  progress?: Progress,
): Promise<Uint8Array> => makeSet(frames, originalsOf(bytes && openFile(bytes), sources), wish, progress);

/** A page as a browser has laid it out, without its pictures: how it looks, and where frames stand on it. */
export interface ShotWish {
  ground: Uint8Array;
  /** In points, as all that follows. */
  width: number;
  height: number;
  frames: { n: number; x: number; y: number; k: number }[];
}

/** A sheet of frames before and after. */
export interface ProofWish {
  title: string;
  pairs: ProofPair[];
  /** The pages with changed frames, where only a browser can lay them out. */
  shots?: { caption: string; before: ShotWish; after: ShotWish }[];
}

export async function proofJob(
  bytes: Uint8Array | null,
  { title, pairs, shots }: ProofWish,
  sources: Sources,
  progress?: Progress,
): Promise<Uint8Array> {
  const file = bytes && openFile(bytes);
  const pages = !file || !bytes ? [] : shots ? shotPages(file, pairs, shots) : await proofPages(file, bytes, pairs);
  return makeProof(title, pairs, originalsOf(file, sources), progress, pages);
}

/** The pictures of a file that can be shown. */
function shownIn(file: OpenedFile, changed: ReadonlyMap<number, Frame>): OpenedPicture[] {
  return file.pictures.filter((p) => changed.get(p.n)?.source ?? (!p.problem && p.media?.drawable));
}

function shotPages(file: OpenedFile, pairs: readonly ProofPair[], shots: NonNullable<ProofWish['shots']>): ProofPage[] {
  const changed = new Map(pairs.map((p) => [p.after.n, p.after]));
  const shown = new Map(shownIn(file, changed).map((p) => [p.n, p]));
  const side = (
    { ground, width, height, frames }: ShotWish,
    frameOf: (p: OpenedPicture) => Frame | null,
  ): ProofSide => ({
    sheet: { width, height, background: '#ffffff', pieces: [] },
    ground,
    frames: frames.flatMap(({ n, x, y, k }) => {
      const p = shown.get(n);
      const frame = p && frameOf(p);
      return frame ? [{ frame, x, y, k }] : [];
    }),
  });
  return shots.map(({ caption, before, after }) => ({
    caption,
    before: side(before, (p) => (p.problem ? null : p.frame)),
    after: side(after, (p) => changed.get(p.n) ?? p.frame),
  }));
}

/** The pages with changed frames, where they have a fixed size: slides, drawings and sheets. */
async function proofPages(file: OpenedFile, bytes: Uint8Array, pairs: readonly ProofPair[]): Promise<ProofPage[]> {
  const changed = new Map(pairs.map((p) => [p.after.n, p.after]));
  const shown = shownIn(file, changed);
  const pages = new Set(shown.filter((p) => changed.has(p.n)).flatMap((p) => p.where.page ?? []));
  const grounds = new Map<number, Uint8Array | null>();
  for (const page of pages)
    if (file.format === 'svg' || file.sheets[page - 1]?.backdrop) grounds.set(page, await groundOf(bytes, page));
  return [...pages]
    .sort((a, b) => a - b)
    .flatMap((page): ProofPage[] => {
      const ground = grounds.get(page) ?? null;
      const whole = file.sheets[page - 1];
      if (!whole) return [];
      const on = shown.filter((p) => p.where.page === page);
      const placed = (frame: Frame): OnPage => {
        const { x, y } = file.pictures[frame.n - 1]!.origin ?? { x: 0, y: 0 };
        return { frame, x: frame.box.x + x, y: frame.box.y + y, k: 1 };
      };
      const after = on.map((p) => placed(changed.get(p.n) ?? p.frame));
      const tops = after.filter((f) => changed.has(f.frame.n)).map((f) => f.y);
      const { sheet, top } = partOf(whole, Math.min(...tops));
      const within = (frames: OnPage[]): OnPage[] =>
        frames.map((f) => ({ ...f, y: f.y - top })).filter((f) => f.y + f.frame.box.height > 0 && f.y < sheet.height);
      const name = file.sheets.length > 1 ? `page ${page}` : 'the page';
      const before = on.filter((p) => !p.problem).map((p) => placed(p.frame));
      return [
        {
          caption: `${sheet === whole ? 'The whole' : 'A part'} of ${name}`,
          before: { sheet, ground, frames: within(before) },
          after: { sheet, ground, frames: within(after) },
        },
      ];
    });
}

/** A picture behind a page that cannot be painted is left out. */
const groundOf = (bytes: Uint8Array, page: number): Promise<Uint8Array | null> =>
  groundJob(bytes, page).catch((error: unknown) => {
    if (error instanceof GableError) return null;
    throw error;
  });

/** A page may be so many times as high as wide in the proof: of a longer one the part with the first change is shown. */
const TALLEST = 1.4;

function partOf(sheet: Sheet, first: number): { sheet: Sheet; top: number } {
  const height = TALLEST * sheet.width;
  if (sheet.height <= height) return { sheet, top: 0 };
  const top = Math.max(0, Math.min(first - 0.1 * height, sheet.height - height));
  const pieces = sheet.pieces
    .map((p) => ({ ...p, box: { ...p.box, y: p.box.y - top } }))
    .filter((p) => p.box.y >= 0 && p.box.y + p.box.height <= height);
  const y = sheet.lines?.y.map((v) => v - top).filter((v) => v >= 0 && v <= height) ?? [];
  return { sheet: { ...sheet, height, pieces, ...(sheet.lines && { lines: { ...sheet.lines, y } }) }, top };
}

/** The picture that a frame shows: the file's own, or a kept one. */
function originalsOf(file: OpenedFile | null, sources: Sources): (frame: Frame) => Original {
  return ({ n, source }) => {
    if (!source && file) return { bytes: file.pictureBytes(n), size: file.pictures[n - 1]!.size };
    if (!source)
      throw new GableError('missing-picture', `Picture ${n} is an empty frame.`, 'Put a picture into it.', { n });
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
  };
}

export function fatesJob(bytes: Uint8Array, frames: Frame[]): FrameFate[] {
  const file = openFile(bytes);
  return frames.map((f) => {
    const misfits = file.misfits(f);
    return { n: f.n, fate: fateOf(misfits), reasons: misfits.map((m) => MISFITS[m]) };
  });
}

export const pagesJob = (bytes: Uint8Array, frames: Frame[], page: number): Promise<Uint8Array> =>
  pageOf(openFile(bytes), frames, page);

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
export async function groundJob(bytes: Uint8Array, page: number): Promise<Uint8Array | null> {
  const file = openFile(bytes);
  const ground = file.bare?.() ?? file.backdrop?.(page);
  if (!ground) return null;
  try {
    return await sharp(ground, { limitInputPixels: LIMITS.megapixels * 1e6, density: 96 })
      .resize(GROUND, GROUND, { fit: 'inside' })
      .png()
      .toBuffer();
  } catch (cause) {
    throw new GableError(
      'bad-svg',
      'What lies behind the frames cannot be painted.',
      'Work on in close-up.',
      {},
      { cause },
    );
  }
}

/** Without a thread that can be ended, a job stops where it says how far it is. */
const watched =
  ({ progress, signal }: Watch): Progress =>
  (done, total) => {
    signal.throwIfAborted();
    progress(done, total);
  };

/** The same without threads: for tests, and for a look from a debugger. */
export const inProcess: Jobs = {
  open: (bytes) => Promise.resolve().then(() => openJob(bytes)),
  save: (bytes, frames, sources, watch) =>
    Promise.resolve().then(() => saveJob(bytes, frames, sources, watch && watched(watch))),
  slim: (bytes, wish, watch) => slimJob(bytes, wish, watch && watched(watch)),
  set: (bytes, frames, sources, wish, watch) =>
    Promise.resolve().then(() => setJob(bytes, frames, sources, wish, watch && watched(watch))),
  proof: (bytes, wish, sources, watch) =>
    Promise.resolve().then(() => proofJob(bytes, wish, sources, watch && watched(watch))),
  fates: (bytes, frames) => Promise.resolve().then(() => fatesJob(bytes, frames)),
  pages: (bytes, frames, page) => Promise.resolve().then(() => pagesJob(bytes, frames, page)),
  margin: (bytes, wish) => marginJob(bytes, wish),
  ground: (bytes, page) => groundJob(bytes, page),
  picture: (bytes, n) => Promise.resolve().then(() => pictureJob(bytes, n)),
  close: () => Promise.resolve(),
};
