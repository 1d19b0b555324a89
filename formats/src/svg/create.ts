import { trimNumber, type Box, type Matrix } from '@gable/core';
import { writeDataUrl } from '../codec/data-url';
import type { NewPicture } from '../codec/contract';
import { PIXEL } from '../css/lengths';
import type { Element } from '../xml/located';
import { escapeXml } from '../xml/splice';

/**
 * A plain picture as an `image` of the outermost element (SVG 2 §12.3).
 * @param page from user units to CSS pixels
 */
export function plainImage(
  root: Element,
  [k, , , , e, f]: Matrix,
  { image, alt }: Pick<NewPicture, 'image' | 'alt'>,
  box: Box,
): string {
  const prefix = root.name.slice(0, root.name.length - root.local.length);
  const n = (v: number): string => trimNumber(v, 6);
  const units = (points: number, offset: number): string => n((points / PIXEL - offset) / k);
  const words = alt ? ` role="img" aria-label="${escapeXml(alt)}"` : '';
  return (
    `<${prefix}image x="${units(box.x, e)}" y="${units(box.y, f)}" width="${n(box.width / PIXEL / k)}" ` +
    `height="${n(box.height / PIXEL / k)}" preserveAspectRatio="none" href="${writeDataUrl(image.bytes, image.type)}"${words}/>`
  );
}
