import { frameToCss, frameToSvg, tonePixels, type Frame, type Size } from '@gable/core';
import sharp from 'sharp';
import { decode, PNG } from './render';

/** The picture's own bytes as an address; kinds that browsers do not show are written as PNG. */
async function embed(frame: Frame, bytes: Uint8Array): Promise<{ href: string; transparent: boolean }> {
  const swap = frame.tone?.given?.swap;
  if (swap) {
    // No filter swaps one colour for another: that is done in a copy.
    const { data, width, height } = tonePixels(await decode(bytes), { given: { swap } }, { x: 0, y: 0 });
    const png = await sharp(data, { raw: { width, height, channels: 4 } })
      .png(PNG)
      .toBuffer();
    return { href: `data:image/png;base64,${png.toString('base64')}`, transparent: true };
  }
  const { format, hasAlpha = false } = await sharp(bytes).metadata();
  const known = format === 'jpeg' || format === 'png' || format === 'webp' || format === 'gif';
  const data = known ? Buffer.from(bytes) : await sharp(bytes).png().toBuffer();
  return { href: `data:image/${known ? format : 'png'};base64,${data.toString('base64')}`, transparent: hasAlpha };
}

/** The frame as a drawing that holds the whole picture. */
export async function renderSvg(frame: Frame, size: Size, bytes: Uint8Array): Promise<string> {
  return frameToSvg(frame, { ...(await embed(frame, bytes)), size });
}

/** The frame as a page of its own: the figure and its style, ready to be copied out. */
export async function renderHtml(frame: Frame, size: Size, bytes: Uint8Array): Promise<string> {
  const { href } = await embed(frame, bytes);
  const { html, css } = frameToCss(frame, { src: href, size });
  return `<!doctype html>\n<meta charset="utf-8">\n<title>Framed picture</title>\n<style>\n${css}\n</style>\n${html}\n`;
}
