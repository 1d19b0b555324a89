import { CENTRED, fileRoom, GableError, itemIdOf, type Frame, type ItemId } from '@gable/core';
import { openFile, withFrames, type ReplacementImage, type Source } from '@gable/formats';
import sharp from 'sharp';

/**
 * A page of a file for showing it with frames on it: HTML where the file's kind has it, else the document with stand-ins.
 * @param frames those that have changed
 * @throws GableError `no-such-page`
 */
export async function pageOf(file: Source, frames: readonly Frame[], page: number): Promise<Uint8Array> {
  if (!file.markup) return plainPages(file, frames);
  // Only room is made for the frames: what the file cannot say of them need not be said.
  const plain = frames.map((f): Frame => {
    const { source, ...rest } = f;
    void source;
    return rest;
  });
  const wished = withFrames(file, plain);
  const fidelity = file.fidelity(wished);
  const pictures = new Map(file.pictures.map((p) => [p.n, p]));
  const roomy = plain.map((f): Frame => {
    const picture = pictures.get(f.n)!;
    const { frame, freeable } = picture;
    return (fidelity.get(itemIdOf(picture))?.unsupported ?? []).length === 0
      ? f
      : {
          ...frame,
          box: fileRoom(f).box,
          turn: f.turn,
          flow: freeable ? f.flow : frame.flow,
          ...(f.anchor && { anchor: f.anchor }),
        };
  });
  const html = openFile(file.write(withFrames(file, roomy)), { known: file.known }).markup!(page);
  if (html === null)
    throw new GableError('no-such-page', `There is no page ${page} in this file.`, `It has ${file.pages}.`, { page });
  return new TextEncoder().encode(html);
}

/**
 * The document as its pages are shown: each picture is a clear stand-in as many pixels wide as its number says, in a plain
 * box of the room that the file makes for it, so that the layout can tell them apart without their data.
 */
export async function plainPages(file: Source, frames: readonly Frame[]): Promise<Uint8Array> {
  const now = new Map(frames.map((f) => [f.n, f]));
  const images = new Map<ItemId, ReplacementImage>();
  const plain: Frame[] = [];
  for (const picture of file.pictures) {
    if (picture.problem && !picture.problem.code.match(/undrawable|broken|too-many/)) continue;
    const frame = now.get(picture.n) ?? picture.frame;
    const { flow, turn, anchor } = frame;
    const { box } = fileRoom(frame);
    plain.push({
      ...picture.frame,
      box,
      flow: picture.freeable ? flow : picture.frame.flow,
      ...(anchor && { anchor }),
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
    images.set(itemIdOf(picture), { bytes, type: 'png', size });
  }
  return file.write(withFrames(file, plain), images);
}
