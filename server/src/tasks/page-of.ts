import { CENTRED, GableError, type Frame } from '@gable/core';
import { openFile, type OpenedFile, type ReplacementImage } from '@gable/formats';
import sharp from 'sharp';

/**
 * A page of a file for showing it with frames on it: HTML where the file's kind has it, else the document with stand-ins.
 * @param frames those that have changed
 * @throws GableError `no-such-page`
 */
export async function pageOf(file: OpenedFile, frames: readonly Frame[], page: number): Promise<Uint8Array> {
  if (!file.markup) return plainPages(file, frames);
  // Only room is made for the frames: what the file cannot say of them need not be said.
  const plain = frames.map((f): Frame => {
    const rest = { ...f };
    delete rest.source;
    const { frame, freeable } = file.pictures[f.n - 1]!;
    return file.unsupported(rest).length === 0
      ? rest
      : { ...frame, box: f.box, turn: f.turn, flow: freeable ? f.flow : frame.flow };
  });
  const html = openFile(file.save(plain)).markup!(page);
  if (html === null)
    throw new GableError('no-such-page', `There is no page ${page} in this file.`, `It has ${file.pages}.`, { page });
  return new TextEncoder().encode(html);
}

/**
 * The document as its pages are shown: each picture is a clear stand-in as many pixels wide as its number says, in a plain
 * box of the frame's size, so that whoever lays out the pages can tell which is which without their data.
 */
export async function plainPages(file: OpenedFile, frames: readonly Frame[]): Promise<Uint8Array> {
  const now = new Map(frames.map((f) => [f.n, f]));
  const swaps = new Map<number, ReplacementImage>();
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
