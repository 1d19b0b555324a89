import { CENTRED, type Frame } from '@gable/core';
import type { OpenedFile, Swap } from '@gable/formats';
import sharp from 'sharp';

/**
 * The document as its pages are shown: each picture is a clear stand-in as many pixels wide as its number says, in a plain
 * box of the frame's size, so that whoever lays out the pages can tell which is which without their data.
 */
export async function plainPages(file: OpenedFile, frames: readonly Frame[]): Promise<Uint8Array> {
  const now = new Map(frames.map((f) => [f.n, f]));
  const swaps = new Map<number, Swap>();
  const plain: Frame[] = [];
  for (const picture of file.pictures) {
    if (picture.problem && !picture.problem.code.match(/undrawable|broken|too-many/)) continue;
    const { box, flow, turn } = now.get(picture.n) ?? picture.frame;
    plain.push({
      ...picture.frame,
      box,
      flow: picture.freeable ? flow : picture.frame.flow,
      turn,
      shape: { name: 'rectangle', knobs: {} },
      placement: { ...CENTRED, fit: 'stretch' },
      outline: null,
      shadow: null,
    });
    const size = { width: picture.n, height: 1 };
    const bytes = await sharp({ create: { ...size, channels: 4, background: '#0000' } })
      .png()
      .toBuffer();
    swaps.set(picture.n, { bytes, type: 'png', size });
  }
  return file.save(plain, swaps);
}
