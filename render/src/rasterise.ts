import {
  applyAll,
  CENTRED,
  deriveView,
  equal,
  fontsIn,
  frameOfItem,
  FULL_SEAT,
  GableError,
  isPictureItem,
  itemIdOf,
  paintedBounds,
  withFrame,
  type Document,
  type Frame,
  type ItemId,
  type Operation,
  type PictureItem,
  type Source as PictureData,
} from '@gable/core';
import {
  CAPABILITIES,
  IN_THE_BOX,
  paintedOf,
  withFonts,
  type Feature,
  type FontFile,
  type Format,
  type ReplacementImage,
  type Source,
} from '@gable/formats';
import sharp from 'sharp';
import { opaqueOrClear } from './encode';
import { renderFrame } from './frame';
import type { Original } from './original';
import { isVeilItem } from './veil';

/** Painted pixels are never finer than this, in pixels to the inch: print needs no more (common practice). */
const FINEST = 400;
/** Nor coarser: a line painted into pixels must stay a line. */
const COARSEST = 150;

/** How a frame is written: in the file's own terms, or with what those lack painted into pixels. */
export type Fidelity = 'native' | 'rasterised-fill' | 'rasterised';

export const fidelityOf = (unsupported: readonly Feature[]): Fidelity => {
  const painted = paintedOf(unsupported);
  return painted.length === 0 ? 'native' : painted.every((m) => IN_THE_BOX.has(m)) ? 'rasterised-fill' : 'rasterised';
};

/** How a document is saved. */
export interface SaveOptions {
  /** The picture of a frame; asked only where its data is needed. */
  original: (frame: Frame) => Promise<Original> | Original;
  /** How many pictures are ready to be written; what it throws ends the saving. */
  progress?: ((done: number, total: number) => void) | undefined;
  /**
   * Hears of pictures that cannot be written, and why: they stay as they are in the file. Without it one of them ends the
   * saving.
   */
  passOver?: ((id: ItemId, reason: GableError) => void) | undefined;
  /** Files of the author's own fonts among these, packed too where they go to browsers, for words that are new or other ones in the file. */
  fonts?: FontsOf | undefined;
}

/**
 * Saves a document into its file. What the format cannot say of a picture is painted into the pixels of a new one; the
 * original stays in the file beside it.
 */
export async function saveRasterised(
  source: Source,
  next: Document,
  { original, progress = () => undefined, passOver, fonts }: SaveOptions,
): Promise<Uint8Array> {
  const numbers = new Map(source.pictures.map((p) => [itemIdOf(p), p.n]));
  const images = await veilsOf(source, next, original);
  const taken = new Map<string, ReplacementImage>();
  const ready = async (wished: PictureItem, unsupported: readonly Feature[]): Promise<PictureItem> => {
    const item = unsupported.includes('video') ? withoutVideo(wished) : wished;
    const frame = frameOfItem(item, numbers.get(item.id) ?? numbers.size + 1);
    const fidelity = fidelityOf(unsupported);
    if (fidelity !== 'native') {
      const painted = await rasterise(frame, await original(frame), fidelity);
      images.set(item.id, painted.image);
      return withFrame(item, painted.frame, painted.image.size);
    }
    // One that the file has already is not written again.
    const known = source.document.items[item.id];
    if (frame.source && !(known && isPictureItem(known) && equal(known.fill.source, item.fill.source))) {
      const { sha256 } = frame.source;
      const image = taken.get(sha256) ?? (await storable(await original(frame), frame.source, source.format));
      taken.set(sha256, image);
      images.set(item.id, image);
    }
    return item;
  };
  // One copy for all: a document may have thousands of items.
  const items = { ...next.items };
  // New ones that cannot be written do not come at all.
  const gone: Operation[] = [];
  const leaveOut = (id: ItemId, reason: GableError): void => {
    const item = source.document.items[id];
    if (item) items[id] = item;
    else gone.push({ op: 'remove', id });
    images.delete(id);
    passOver!(id, reason);
  };
  const all = [...source.fidelity(next)];
  for (const [i, [id, { unsupported }]] of all.entries()) {
    progress(i, all.length);
    try {
      items[id] = await ready(next.items[id] as PictureItem, unsupported);
    } catch (error) {
      if (!passOver || !(error instanceof GableError)) throw error;
      leaveOut(id, error);
    }
  }
  progress(all.length, all.length);
  const { fonts: takes, pages } = CAPABILITIES[source.format];
  const packed = pages === 'web' || source.format === 'svg';
  const embedded = takes ? await fonts?.(newFonts(source.document, next), packed) : undefined;
  for (;;)
    try {
      const bytes = source.write(applyAll({ ...next, items }, gone).document, images);
      return embedded ? withFonts(bytes, embedded) : bytes;
    } catch (error) {
      const id = error instanceof GableError ? error.facts['id'] : undefined;
      if (!passOver || typeof id !== 'string' || items[id] === source.document.items[id]) throw error;
      leaveOut(id, error as GableError);
    }
}

/** The picture of a video alone. */
function withoutVideo(item: PictureItem): PictureItem {
  const { video, ...fill } = item.fill;
  void video;
  return { ...item, fill };
}

/** Fetches files of fonts by their families. @param packed as WOFF2, too */
export type FontsOf = (families: readonly string[], packed: boolean) => Promise<readonly FontFile[]>;

/** Fonts of words that a document has and another had not. */
function newFonts(from: Document, to: Document): string[] {
  const others = Object.values(to.items).filter((i) => i !== from.items[i.id]);
  return [...new Set(others.flatMap((i) => (i.kind === 'framed' ? fontsIn(i.text) : [])))];
}

/** Pages are painted with fonts, which are loaded only where there is a veil to be painted. */
async function veilsOf(
  source: Source,
  next: Document,
  original: SaveOptions['original'],
): Promise<Map<ItemId, ReplacementImage>> {
  if (!Object.values(next.items).some(isVeilItem)) return new Map();
  const { paintedVeils } = await import('./painted-veils');
  return paintedVeils(source, next, original);
}

/** A picture as every reader of a format can show it: other kinds become PNG. */
export async function storable(
  { bytes, size }: Original,
  { type, orientation }: Pick<PictureData, 'type' | 'orientation'>,
  format: Format,
): Promise<ReplacementImage> {
  const held = [...CAPABILITIES[format].images].find((t) => t === type);
  // Browsers turn pictures as they say they are to be; of these kinds no reader of files here does.
  const isTurned = orientation > 1 && (type === 'webp' || type === 'avif');
  if (held && !isTurned) return { bytes, type: held, size };
  const { data, info } = await sharp(bytes).png().toBuffer({ resolveWithObject: true });
  return { bytes: data, type: 'png', size: { width: info.width, height: info.height } };
}

/** Paints a frame, or only the picture in its box, and makes a plain frame round it. */
export async function rasterise(
  frame: Frame,
  { bytes, size }: Original,
  fidelity: 'rasterised-fill' | 'rasterised',
): Promise<{ frame: Frame; image: ReplacementImage }> {
  const view = deriveView(frame.placement, frame.box, size);
  // As many pixels as the picture has here: no more, no fewer.
  const own = 1 / Math.min(view.scale.x, view.scale.y);
  const density = Math.min(FINEST / 72, Math.max(COARSEST / 72, own));
  const upright = { ...frame, turn: 0, flip: { horizontal: false, vertical: false } };
  const painted: Frame =
    fidelity === 'rasterised'
      ? upright
      : { ...upright, shape: { name: 'rectangle', knobs: {} }, outline: null, shadow: null, seat: FULL_SEAT };
  const b = paintedBounds(painted);
  // Whole pixels across; a part of a pixel that is left over below is cut off, or the last row would be half clear.
  const scale = Math.ceil(b.width * density) / b.width;
  const all = await renderFrame(painted, size, bytes, scale);
  const pixels = { width: all.width, height: Math.max(1, Math.floor(b.height * scale + 1e-6)) };
  const replacement = await opaqueOrClear(all, pixels);
  const plain: Frame = {
    ...frame,
    // The canvas ends on whole pixels, the box with them.
    placement: { ...CENTRED, fit: 'stretch' },
    backing: null,
    seat: FULL_SEAT,
  };
  delete plain.tone;
  delete plain.source;
  delete plain.overstep;
  if (fidelity === 'rasterised-fill') return { frame: plain, image: replacement };
  const box = { x: frame.box.x + b.x, y: frame.box.y + b.y, width: b.width, height: b.height };
  return {
    frame: { ...plain, box, shape: { name: 'rectangle', knobs: {} }, outline: null, shadow: null },
    image: replacement,
  };
}

/** The original of a frame that another program's picture cannot give. */
export const noOriginal = (n: number): GableError =>
  new GableError(
    'missing-picture',
    `Picture ${n} has no data that could be painted.`,
    'Undo tone, turn, backing and outer lines for this picture.',
    { n },
  );
