import {
  applyTo,
  blurSigma,
  boxMatrix,
  invert,
  changesPixels,
  deriveView,
  GableError,
  ontoPicture,
  paintedBounds,
  paintFrame,
  shownPart,
  tonePixels,
  turnOf,
  type Frame,
  type PaintPicture,
  type Pixels,
  type Point,
  type Rect,
  type Size,
} from '@gable/core';
import { LIMITS } from '@gable/formats';
import { createCanvas } from '@napi-rs/canvas';
import { surfaceOf, toCanvas } from './canvas';
import { decode, toned } from './decode';

/** Pixels that are painted at once; a larger result is painted in strips, so that no more than one is held several times. */
const STRIP = 16e6;

/**
 * Paints a frame with all that reaches beyond it (outline, shadow, turn) on a transparent ground.
 * @param bytes the picture's data, or null for a placeholder
 * @param scale device pixels per point
 * @returns RGBA, not premultiplied
 * @throws GableError `too-many-pixels`, `broken-picture`
 */
export async function renderFrame(asked: Frame, size: Size, bytes: Uint8Array | null, scale: number): Promise<Pixels> {
  const frame = onWholePixels(asked, scale);
  const b = paintedBounds(frame);
  const width = Math.max(1, Math.ceil(b.width * scale - 1e-6));
  const height = Math.max(1, Math.ceil(b.height * scale - 1e-6));
  if (!(width * height <= LIMITS.megapixels * 1e6))
    throw new GableError(
      'too-many-pixels',
      `The result would have ${Math.round((width * height) / 1e6)} megapixels.`,
      `Gable makes up to ${LIMITS.megapixels}. Choose a lower resolution.`,
    );
  const rows = Math.max(1, Math.min(height, Math.floor(STRIP / width)));
  const data = new Uint8ClampedArray(width * height * 4);
  for (let top = 0; top < height; top += rows) {
    const canvas = createCanvas(width, Math.min(rows, height - top));
    const target = { x: -b.x * scale, y: -b.y * scale - top, scale };
    if (bytes) {
      const strip = { x: b.x, y: b.y + top / scale, width: b.width, height: canvas.height / scale };
      const picture = await pictureFor(frame, size, bytes, scale, height > rows ? strip : null);
      paintFrame(surfaceOf(canvas), frame, { ...picture, size }, target);
    } else
      paintFrame(
        surfaceOf(canvas),
        { ...frame, backing: { kind: 'solid', colour: '#c9c4b8', opacity: 1 } },
        null,
        target,
      );
    data.set(canvas.getContext('2d').getImageData(0, 0, width, canvas.height).data, top * width * 4);
  }
  return { width, height, data };
}

/**
 * A rectangle with a box that grows or shrinks by less than half a pixel, so that all that is painted ends where pixels do:
 * no row or column at its edge is half covered. Other shapes, and frames that lie aslant, have no such edges.
 */
export function onWholePixels(frame: Frame, scale: number): Frame {
  const turn = turnOf(frame.turn);
  if (turn % 90 !== 0 || !STRAIGHT.has(frame.shape.name)) return frame;
  const b = paintedBounds(frame);
  const short = (length: number): number => (Math.max(1, Math.round(length * scale)) - length * scale) / scale;
  const [across, down] = [short(b.width), short(b.height)];
  const [dw, dh] = turn % 180 === 0 ? [across, down] : [down, across];
  const box = { ...frame.box, width: frame.box.width + dw, height: frame.box.height + dh };
  return box.width > 0 && box.height > 0 ? { ...frame, box } : frame;
}

const STRAIGHT: ReadonlySet<string> = new Set(['rectangle', 'square']);

/** Where the corners of a strip of the painted frame lie in its box: the frame's own turn and flip taken back. Points. */
function inBox(frame: Frame, strip: Rect): Point[] {
  const back = invert(boxMatrix(frame));
  return [strip.x, strip.x + strip.width].flatMap((x) =>
    [strip.y, strip.y + strip.height].map((y) => applyTo(back, { x, y })),
  );
}

/** The picture as a frame shows it, reduced to the device's pixels; only what lies in sight is decoded. @param strip only this much of the frame */
async function pictureFor(
  frame: Frame,
  size: Size,
  bytes: Uint8Array,
  scale: number,
  strip: Rect | null,
): Promise<Pick<PaintPicture, 'image' | 'part'>> {
  const view = deriveView(frame.placement, frame.box, size);
  // Never enlarged: a canvas does that as well.
  const whole = {
    width: Math.max(1, Math.round(Math.min(size.width, size.width * view.scale.x * scale))),
    height: Math.max(1, Math.round(Math.min(size.height, size.height * view.scale.y * scale))),
  };
  const sigma = blurSigma(frame, size, whole);
  // What a blur takes in from beside it, and what smoothing does.
  const margin = Math.ceil(3 * Math.max(sigma.x, sigma.y)) + 4;
  const shown = shownPart(frame, size);
  const seen = strip && inBox(frame, strip).map((p) => ontoPicture(view.matrix, p, size));
  const range = (of: 'x' | 'y', length: number): [number, number] => {
    const [first, last] = of === 'x' ? [shown.x, shown.x + shown.width] : [shown.y, shown.y + shown.height];
    const inStrip = seen?.map(({ u, v }) => (of === 'x' ? u : v)) ?? [first, last];
    const from = Math.max(first, Math.min(...inStrip)) * length;
    const to = Math.min(last, Math.max(...inStrip)) * length;
    return [Math.max(0, Math.floor(from) - margin), Math.min(length, Math.ceil(to) + margin)];
  };
  const [left, right] = range('x', whole.width);
  const [top, bottom] = range('y', whole.height);
  const part = { left, top, width: right - left, height: bottom - top };
  if (part.width < 1 || part.height < 1)
    return { image: createCanvas(1, 1), part: { x: 0, y: 0, width: 0, height: 0 } };
  const worth = frame.placement.fit !== 'tile' && part.width * part.height < 0.9 * whole.width * whole.height;
  if (!worth) return { image: toCanvas(toned(await decode(bytes, whole), frame, size)) };
  const pixels = await decode(bytes, whole, 'fill', part);
  return {
    image: toCanvas(changesPixels(frame.tone) ? tonePixels(pixels, frame.tone, sigma) : pixels),
    part: {
      x: left / whole.width,
      y: top / whole.height,
      width: part.width / whole.width,
      height: part.height / whole.height,
    },
  };
}
