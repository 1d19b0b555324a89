import { frameToCss, frameToSvg, tonePixels, type Frame, type Size } from '@gable/core';
import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { PNG } from './canvas';
import { decode, unreadable } from './decode';

/** A picture as browsers show it: its own bytes, or a PNG of kinds that they do not know. */
async function shownBytes(
  frame: Frame,
  bytes: Uint8Array,
): Promise<{ type: string; data: Uint8Array; transparent: boolean }> {
  const swap = frame.tone?.given?.swap;
  if (swap) {
    // No filter swaps one colour for another: that is done in a copy.
    const { data, width, height } = tonePixels(await decode(bytes), { given: { swap } }, { x: 0, y: 0 });
    const png = await sharp(data, { raw: { width, height, channels: 4 } })
      .png(PNG)
      .toBuffer();
    return { type: 'png', data: png, transparent: true };
  }
  try {
    const { format, hasAlpha = false } = await sharp(bytes).metadata();
    const known = format === 'jpeg' || format === 'png' || format === 'webp' || format === 'gif';
    return known
      ? { type: format, data: bytes, transparent: hasAlpha }
      : { type: 'png', data: await sharp(bytes).png().toBuffer(), transparent: hasAlpha };
  } catch (cause) {
    throw unreadable(cause);
  }
}

/** Bytes that become base64 at once; three of them are four characters. */
const PIECE = 3 * 256 * 1024;

/** Markup with data in the place of each mark that stands for it, piece by piece: a large picture is never one text. */
function* filled(markup: string, mark: string, type: string, data: Uint8Array): Generator<Uint8Array> {
  const parts = markup.split(mark);
  for (const [i, part] of parts.entries()) {
    if (i > 0) {
      yield Buffer.from(`data:image/${type};base64,`);
      for (let at = 0; at < data.length; at += PIECE) {
        const { buffer, byteOffset } = data.subarray(at, at + PIECE);
        const length = Math.min(PIECE, data.length - at);
        yield Buffer.from(Buffer.from(buffer as ArrayBuffer, byteOffset, length).toString('base64'));
      }
    }
    yield Buffer.from(part);
  }
}

/** The frame as a drawing that holds the whole picture, in pieces. @throws GableError `broken-picture` */
export async function* svgPieces(frame: Frame, size: Size, bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  const { type, data, transparent } = await shownBytes(frame, bytes);
  const mark = randomUUID();
  yield* filled(frameToSvg(frame, { href: mark, transparent, size }), mark, type, data);
}

/** The frame as a page of its own: the figure and its style, ready to be copied out, in pieces. @throws GableError `broken-picture` */
export async function* htmlPieces(frame: Frame, size: Size, bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  const { type, data } = await shownBytes(frame, bytes);
  const mark = randomUUID();
  const { html, css } = frameToCss(frame, { src: mark, size });
  const page = `<!doctype html>\n<meta charset="utf-8">\n<title>Framed picture</title>\n<style>\n${css}\n</style>\n${html}\n`;
  yield* filled(page, mark, type, data);
}

/** All pieces as one. */
export async function joined(pieces: AsyncIterable<Uint8Array>): Promise<Buffer> {
  const all: Uint8Array[] = [];
  for await (const piece of pieces) all.push(piece);
  return Buffer.concat(all);
}
