import { frameToCss, frameToSvg, type Frame, type Size } from '@gable/core';
import sharp from 'sharp';

/** The picture's own bytes as an address; kinds that browsers do not show are written as PNG. */
async function embed(bytes: Uint8Array): Promise<{ href: string; transparent: boolean }> {
  const { format, hasAlpha = false } = await sharp(bytes).metadata();
  const known = format === 'jpeg' || format === 'png' || format === 'webp' || format === 'gif';
  const data = known ? Buffer.from(bytes) : await sharp(bytes).png().toBuffer();
  return { href: `data:image/${known ? format : 'png'};base64,${data.toString('base64')}`, transparent: hasAlpha };
}

/** The frame as a drawing that holds the whole picture. */
export async function renderSvg(frame: Frame, size: Size, bytes: Uint8Array): Promise<string> {
  return frameToSvg(frame, { ...(await embed(bytes)), size });
}

/** The frame as a page of its own: the figure and its style, ready to be copied out. */
export async function renderHtml(frame: Frame, size: Size, bytes: Uint8Array): Promise<string> {
  const { href } = await embed(bytes);
  const { html, css } = frameToCss(frame, { src: href, size });
  return `<!doctype html>\n<meta charset="utf-8">\n<title>Framed picture</title>\n<style>\n${css}\n</style>\n${html}\n`;
}
