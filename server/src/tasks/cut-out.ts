import type { CutOut } from '@gable/contract';
import type { BrushStroke, Face, Size } from '@gable/core';
import {
  cutOut as cut,
  FINE_SIDE,
  FIRST_SIDE,
  maskFromPng,
  maskToPng,
  outlineOfMask,
  type Models,
} from '@gable/render/cut-out';
import { readPicture, weighSource, type PictureSource } from './picture-source';
import { task } from './task';

/** What a look came to: its mask as a PNG in Base64, and what it learnt. */
export interface Seen extends Pick<CutOut, 'mask'> {
  models?: Models | undefined;
}

interface Wish {
  source: PictureSource;
  size: Size;
  faces: readonly Face[];
  strokes: readonly BrushStroke[];
  /** What a look before it came to. */
  before?: Seen | undefined;
  fine: boolean;
}

/** The subject of a picture without its background. */
export const cutOut = task({
  lane: 'look',
  seconds: 60,
  // Pixels, their neighbours and the flow between them, at 1,024 by 1,024.
  weigh: ({ source }) => weighSource(source) + 300 * 1024 * 1024,
  async run({ source, size, faces, strokes, before, fine }: Wish, context): Promise<CutOut & Seen> {
    const bytes = await readPicture(source, context);
    const earlier = before && {
      ...(await maskFromPng(Buffer.from(before.mask, 'base64'))),
      ...(before.models && { models: before.models }),
    };
    const mask = await cut(bytes, size, { faces, strokes, before: earlier }, fine ? FINE_SIDE : FIRST_SIDE);
    const png = await maskToPng(mask);
    return { mask: png.toString('base64'), outline: await outlineOfMask(mask, 'Subject'), models: mask.models };
  },
});
