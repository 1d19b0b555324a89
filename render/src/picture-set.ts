import { paintedBounds, type Frame } from '@gable/core';
import { zipSync, type Zippable } from 'fflate';
import type { Original } from './original';
import { encode, outputTypeOf } from './encode';
import { joined, svgPieces } from './markup';
import { renderFrame } from './frame';

/** How every frame is wanted: a kind of picture, and its widths in pixels (none for SVG). */
export interface SetWish {
  format: 'png' | 'webp' | 'jpg' | 'avif' | 'svg';
  widths: readonly number[];
  /** How wide the picture is on the page, for `sizes` (HTML Living Standard §4.8.4.2.2); the window's width if left out. */
  sizes?: string;
}

interface Entry {
  n: number;
  alt: string;
  files: { name: string; width: number; height: number; bytes: number }[];
  srcset: string;
}

const escape = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

/**
 * Every frame as pictures of its own, with a manifest (`manifest.json`) and the `img` elements for a page
 * (`pictures.html`, HTML Living Standard §4.8.4.2, srcset), zipped. Pictures are not packed again.
 * @param originals the picture of a frame
 */
export async function makeSet(
  frames: readonly Frame[],
  originals: (frame: Frame) => Promise<Original> | Original,
  { format, widths, sizes = '100vw' }: SetWish,
  progress: (done: number, total: number) => void = () => undefined,
): Promise<Uint8Array> {
  const zip: Zippable = {};
  const entries: Entry[] = [];
  const digits = Math.max(2, String(Math.max(0, ...frames.map((f) => f.n))).length);
  for (const [i, frame] of frames.entries()) {
    progress(i, frames.length);
    const { bytes, size } = await originals(frame);
    const base = `picture-${String(frame.n).padStart(digits, '0')}`;
    const b = paintedBounds(frame);
    const files: Entry['files'] = [];
    const add = (name: string, data: Uint8Array, width: number, height: number): void => {
      zip[name] = [data, { level: format === 'svg' ? 6 : 0 }];
      files.push({ name, width, height, bytes: data.length });
    };
    if (format === 'svg')
      add(`${base}.svg`, await joined(svgPieces(frame, size, bytes)), Math.round(b.width), Math.round(b.height));
    else
      for (const wanted of [...new Set(widths)].sort((a, c) => a - c)) {
        const scale = wanted / b.width;
        const pixels = await renderFrame(frame, size, bytes, scale);
        const data = await encode(pixels, outputTypeOf(format), scale * 72);
        add(`${base}-${wanted}w.${format}`, data, pixels.width, pixels.height);
      }
    const srcset = files.map((f) => `${f.name} ${f.width}w`).join(', ');
    entries.push({ n: frame.n, alt: frame.alt, files, srcset });
  }
  progress(frames.length, frames.length);
  const html = entries
    .map(({ alt, files, srcset }) => {
      const largest = files.at(-1)!;
      const set = files.length > 1 ? ` srcset="${escape(srcset)}" sizes="${escape(sizes)}"` : '';
      return `<img src="${largest.name}"${set} width="${largest.width}" height="${largest.height}" alt="${escape(alt)}">`;
    })
    .join('\n');
  zip['manifest.json'] = Buffer.from(`${JSON.stringify({ format, pictures: entries }, null, 2)}\n`);
  zip['pictures.html'] = Buffer.from(`<!doctype html>\n<meta charset="utf-8">\n<title>Pictures</title>\n${html}\n`);
  return zipSync(zip, { mtime: new Date(1980, 0, 1) });
}
