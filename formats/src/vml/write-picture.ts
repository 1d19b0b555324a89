import { BESIDE_TEXT, type Frame, equal, trimNumber, CENTRED } from '@gable/core';
import { firstPicture, siteOf } from '../drawingml/read-picture';
import type { ReadPicture } from '../drawingml/site';
import { integer } from '../drawingml/values';
import { writePicture } from '../drawingml/write-picture';
import { frontHeight } from '../ooxml/ids';
import { plainDrawing } from '../word/plain-drawing';
import { parseXml } from '../xml/located';
import { Splice } from '../xml/splice';
import { type Legacy, styleOf, idOf } from './find';

/** In a group a picture stays what it is: is the frame plain apart from what was read, or was it made so by painting? */
export function isPlainInGroup({ frame: was }: ReadPicture, next: Frame): boolean {
  const kept = (part: 'outline' | 'shadow' | 'backing' | 'tone' | 'shape'): boolean => equal(was[part], next[part]);
  const { placement: p } = next;
  const whole = p.fit === 'stretch' && p.turn === 0 && !p.mirror;
  return (
    (kept('outline') || !next.outline) &&
    (kept('shadow') || !next.shadow) &&
    (kept('backing') || !next.backing) &&
    (kept('tone') || !next.tone) &&
    kept('shape') &&
    next.seat.fit === 'fill' &&
    (whole || equal(was.placement, p))
  );
}

/** A picture in a group, in the group's own markup and coordinates (ISO/IEC 29500-4 §14.1.2.19, shape). */
export function writeGrouped(splice: Splice, legacy: Legacy, read: ReadPicture, next: Frame, rid: string | null): void {
  const { shape, image, group } = legacy;
  const { frame: was } = read;
  if (!group) throw new Error('A picture that stands alone is written as DrawingML.');
  const style = styleOf(shape);
  const put = (name: string, before: number, now: number): void => {
    if (Math.abs(before - now) > 1e-6) style.set(name, trimNumber(now, 0));
  };
  const { scale, origin } = group;
  put('left', integer(style.get('left')), (next.box.x - origin.x) / scale.x);
  put('top', integer(style.get('top')), (next.box.y - origin.y) / scale.y);
  put('width', integer(style.get('width')), next.box.width / scale.x);
  put('height', integer(style.get('height')), next.box.height / scale.y);
  if (was.turn !== next.turn) style.set('rotation', trimNumber(next.turn, 4));
  if (!equal(was.flip, next.flip)) {
    const flip = [next.flip.horizontal && 'x', next.flip.vertical && 'y'].filter(Boolean).join(' ');
    if (flip) style.set('flip', flip);
    else style.delete('flip');
  }
  if (!equal(was.box, next.box) || was.turn !== next.turn || !equal(was.flip, next.flip))
    splice.attribute(shape, 'style', [...style].map(([k, v]) => `${k}:${v}`).join(';'));
  if (was.tone && !next.tone)
    for (const name of ['gain', 'blacklevel', 'gamma', 'grayscale', 'bilevel', 'chromakey'])
      splice.attribute(image, name, null);
  if (was.outline && !next.outline) splice.attribute(shape, 'stroked', 'f');
  if (was.alt !== next.alt) splice.attribute(shape, 'alt', next.alt);
  if (!equal(was.placement, next.placement))
    for (const side of ['left', 'top', 'right', 'bottom']) splice.attribute(image, `crop${side}`, null);
  if (rid === null) return;
  const name = Object.keys(image.attributes).find((k) => image.attributes[k] === idOf(image) && /:(id|relid)$/.test(k));
  if (name) splice.attribute(image, name, rid);
}

/**
 * The picture as DrawingML, in the place of its `w:pict`: first as it is, then with what differs.
 * @param rid relationship of the data it shows from now on
 */
export function writeLegacy(splice: Splice, legacy: Legacy, read: ReadPicture, next: Frame, rid: string | null): void {
  const { pict } = legacy;
  const prefix = pict.name.slice(0, pict.name.length - pict.local.length);
  const { n, alt, box } = read.frame;
  const made = {
    id: 900_000 + n,
    name: `Picture ${n}`,
    alt,
    size: box,
    floats: next.flow === 'inline' ? null : { x: box.x, y: box.y, ...BESIDE_TEXT },
    rid: rid ?? idOf(legacy.image) ?? '',
    height: frontHeight(pict, n),
  };
  const text = plainDrawing(made, prefix, pict.uri);
  const root = parseXml(text, 'picture');
  const pic = firstPicture(root);
  const site = pic && siteOf(pic, '');
  if (!site) throw new Error('The drawing that was made lacks its picture.');
  const own = new Splice(text);
  // What it begins with is a plain picture: shape, line and crop are all differences.
  const plain: Frame = {
    ...read.frame,
    flow: next.flow,
    shape: { name: 'rectangle', knobs: {} },
    outline: null,
    placement: { ...CENTRED, fit: 'stretch' },
    turn: 0,
    flip: { horizontal: false, vertical: false },
  };
  delete plain.tone;
  writePicture(
    own,
    site,
    { frame: plain, native: plain, crop: { left: 0, top: 0, right: 0, bottom: 0 }, size: read.size },
    next,
  );
  splice.replace(pict, own.apply());
}
