import type { ExportFormat } from '@gable/contract';
import { deriveView, paintedBounds, type Frame, type Size } from '@gable/core';
import { encode, htmlPieces, outputTypeOf, renderFrame, svgPieces } from '@gable/render';
import { readPicture, weighSource, type PictureSource } from './picture-source';
import { task, weighPixels, type Made } from './task';

/** What is wanted of a framed picture. */
export interface ExportWish {
  frame: Frame;
  size: Size;
  format: ExportFormat;
  /** Pixels to the inch of the result; or its width in pixels; or neither for as many as the picture has. */
  ppi?: number | undefined;
  width?: number | undefined;
}

/** Where a picture has fewer pixels than this here, the result is drawn finer than it: lines and edges stay sharp. */
const LEAST_PPI = 150;

/** As fine as the picture is in this frame. */
function naturalPpi(frame: Frame, size: Size): number {
  const view = deriveView(frame.placement, frame.box, size);
  return Math.min(1200, Math.max(LEAST_PPI, 72 / Math.max(1e-6, Math.min(view.scale.x, view.scale.y))));
}

/** Sums for the weight only: the outline is not worked out here, which can take long. */
function scaleOf({ frame, size, ppi, width }: ExportWish): number {
  return width ? width / frame.box.width : (ppi ?? naturalPpi(frame, size)) / 72;
}

/** A framed picture as a file of its own. */
export const exportFrame = task({
  lane: 'paint',
  seconds: 120,
  alone: true,
  weigh: (wish: ExportWish & { source: PictureSource }) =>
    weighSource(wish.source) +
    weighPixels(
      Math.min(20_000, wish.frame.box.width * scaleOf(wish)),
      Math.min(20_000, wish.frame.box.height * scaleOf(wish)),
    ),
  async run({ source, ...wish }: ExportWish & { source: PictureSource }, context): Promise<Made> {
    const { frame, size, format } = wish;
    const bytes = await readPicture(source, context);
    if (format === 'svg') return context.made(svgPieces(frame, size, bytes));
    if (format === 'html') return context.made(htmlPieces(frame, size, bytes));
    const ppi = wish.width ? (wish.width / paintedBounds(frame).width) * 72 : (wish.ppi ?? naturalPpi(frame, size));
    const pixels = await renderFrame(frame, size, bytes, ppi / 72);
    return context.made(await encode(pixels, outputTypeOf(format), ppi));
  },
});
