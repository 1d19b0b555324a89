import {
  CENTRED,
  deriveView,
  FULL_SEAT,
  GableError,
  paintedBounds,
  type Frame,
  type Pixels,
  type Size,
} from '@gable/core';
import type { Feature, OpenedFile, ReplacementImage } from '@gable/formats';
import sharp from 'sharp';
import { PNG, sharpOf } from './canvas';
import { renderFrame } from './frame';

/** What only concerns the picture in its box: outline, shadow and shape stay the file's own. */
const WITHIN: ReadonlySet<Feature> = new Set(['turn', 'mirror', 'tile', 'backing', 'tone', 'outset']);
/** Painted pixels are never finer than this, in pixels to the inch: print needs no more (common practice). */
const FINEST = 400;
/** Nor coarser: a line painted into pixels must stay a line. */
const COARSEST = 150;

/** The bytes of a picture and its stored pixels. */
export interface Original {
  bytes: Uint8Array;
  size: Size;
}

/** How a frame is written: in the file's own terms, or with what those lack painted into pixels. */
export type Fidelity = 'native' | 'rasterised-fill' | 'rasterised';

export const fidelityOf = (unsupported: readonly Feature[]): Fidelity =>
  unsupported.length === 0 ? 'native' : unsupported.every((m) => WITHIN.has(m)) ? 'rasterised-fill' : 'rasterised';

/**
 * Saves frames into a file. What the format cannot say of a frame is painted into the pixels of a new picture; the original
 * stays in the file beside it.
 * @param originals the picture of a frame; asked only where its data is needed
 * @param progress how many frames are ready to be written; what it throws ends the saving
 * @param passOver hears of frames that cannot be written, and why: those pictures stay as they are. Without it one of them
 *   ends the saving
 */
export async function saveRasterised(
  file: OpenedFile,
  frames: readonly Frame[],
  originals: (frame: Frame) => Promise<Original> | Original,
  progress: (done: number, total: number) => void = () => undefined,
  passOver?: (n: number, reason: GableError) => void,
): Promise<Uint8Array> {
  let written: Frame[] = [];
  const swaps = new Map<number, ReplacementImage>();
  const taken = new Map<string, ReplacementImage>();
  const one = async (frame: Frame): Promise<void> => {
    const fidelity = fidelityOf(file.unsupported(frame));
    if (fidelity !== 'native') {
      const { frame: next, swap } = await rasterise(frame, await originals(frame), fidelity);
      written.push(next);
      swaps.set(frame.n, swap);
    } else {
      if (frame.source) {
        let swap = taken.get(frame.source.sha256);
        if (!swap) taken.set(frame.source.sha256, (swap = await storable(await originals(frame), frame.source.type)));
        swaps.set(frame.n, swap);
      }
      written.push(frame);
    }
  };
  for (const [i, frame] of frames.entries()) {
    progress(i, frames.length);
    try {
      await one(frame);
    } catch (error) {
      if (!passOver || !(error instanceof GableError) || error.code === 'no-such-picture') throw error;
      passOver(frame.n, error);
    }
  }
  progress(frames.length, frames.length);
  for (;;)
    try {
      return file.save(written, swaps);
    } catch (error) {
      const n = error instanceof GableError ? error.facts['n'] : undefined;
      if (!passOver || typeof n !== 'number' || !written.some((f) => f.n === n)) throw error;
      passOver(n, error as GableError);
      written = written.filter((f) => f.n !== n);
    }
}

/** A picture as every reader of documents can show it: other kinds become PNG. */
export async function storable({ bytes, size }: Original, type: string): Promise<ReplacementImage> {
  if (type === 'png' || type === 'jpeg' || type === 'gif') return { bytes, type, size };
  const { data, info } = await sharp(bytes).png().toBuffer({ resolveWithObject: true });
  return { bytes: data, type: 'png', size: { width: info.width, height: info.height } };
}

/** Paints a frame, or only the picture in its box, and makes a plain frame round it. */
export async function rasterise(
  frame: Frame,
  { bytes, size }: Original,
  fidelity: 'rasterised-fill' | 'rasterised',
): Promise<{ frame: Frame; swap: ReplacementImage }> {
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
  const image = sharpOf(all).extract({ left: 0, top: 0, ...pixels });
  const opaque = isOpaque(all, pixels.height);
  const swap: ReplacementImage = {
    bytes: opaque
      ? await image.flatten({ background: '#ffffff' }).jpeg({ quality: 92, chromaSubsampling: '4:4:4' }).toBuffer()
      : await image.png(PNG).toBuffer(),
    type: opaque ? 'jpeg' : 'png',
    size: pixels,
  };
  const plain: Frame = {
    ...frame,
    // The canvas ends on whole pixels, the box with them.
    placement: { ...CENTRED, fit: 'stretch' },
    backing: null,
    seat: FULL_SEAT,
  };
  delete plain.tone;
  delete plain.source;
  if (fidelity === 'rasterised-fill') return { frame: plain, swap };
  const box = { x: frame.box.x + b.x, y: frame.box.y + b.y, width: b.width, height: b.height };
  return {
    frame: { ...plain, box, shape: { name: 'rectangle', knobs: {} }, outline: null, shadow: null },
    swap,
  };
}

/** Does nothing show through? Edges that are smoothed away on the canvas's own rim do not count. */
function isOpaque({ width, data }: Pixels, rows: number): boolean {
  for (let i = 3; i < width * rows * 4; i += 4) if (data[i]! < 250) return false;
  return true;
}

/** The original of a frame that another program's picture cannot give. */
export const noOriginal = (n: number): GableError =>
  new GableError(
    'missing-picture',
    `Picture ${n} has no data that could be painted.`,
    'Take back tone, turn, backing and outside lines for this picture.',
    { n },
  );
