import { IDENTITY, invert, trimNumber, type Box, type Matrix } from '@gable/core';
import { writeDataUrl } from '../codec/data-url';
import type { NewPicture } from '../codec/contract';
import { PIXEL } from '../css/lengths';
import type { Element } from '../xml/located';
import { escapeXml } from '../xml/splice';

/**
 * A plain picture as an `image` (SVG 2 §12.3), upright on the page.
 * @param to from the units of the place that it stands in to CSS pixels of the page
 */
export function plainImage(
  root: Element,
  to: Matrix,
  { image, alt }: Pick<NewPicture, 'image' | 'alt'>,
  box: Box,
): string {
  const prefix = root.name.slice(0, root.name.length - root.local.length);
  const even = to[0] > 0 && to[0] === to[3] && to[1] === 0 && to[2] === 0;
  const [k, , , , e, f] = even ? to : IDENTITY;
  const back = even
    ? ''
    : ` transform="matrix(${invert(to)
        .map((v) => trimNumber(v, 9))
        .join(' ')})"`;
  const n = (v: number): string => trimNumber(v, 6);
  const units = (points: number, offset: number): string => n((points / PIXEL - offset) / k);
  const words = alt ? ` role="img" aria-label="${escapeXml(alt)}"` : '';
  return (
    `<${prefix}image x="${units(box.x, e)}" y="${units(box.y, f)}" width="${n(box.width / PIXEL / k)}" ` +
    `height="${n(box.height / PIXEL / k)}" preserveAspectRatio="none"${back} href="${writeDataUrl(image.bytes, `image/${image.type}`)}"${words}/>`
  );
}
