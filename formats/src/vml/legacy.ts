import {
  type Box,
  CENTRED,
  clamp,
  type Crop,
  equal,
  type Frame,
  FULL_SEAT,
  type Given,
  POINTS,
  type Size,
  type Tone,
  trimNumber,
  turnOf,
  type Unit,
  withinBounds,
} from '@gable/core';
import { placementFromFileCrop, normaliseBox } from '../codec/normalise';
import { attributeOf, child, parseXml, type Element } from '../xml/located';
import { Splice } from '../xml/splice';
import { isStrict, NS } from '../ooxml/names';
import { plainDrawing } from '../word/plain-drawing';
import { firstPicture, siteOf } from '../drawingml/read-picture';
import type { ReadPicture, Site } from '../drawingml/site';
import { integer } from '../drawingml/values';
import { writePicture } from '../drawingml/write-picture';

/**
 * Pictures in the older drawing markup, VML (ISO/IEC 29500-4 §14.1): read and shown as they are, and turned into DrawingML
 * when they are framed, since VML cannot crop to a shape.
 */
const VML = 'urn:schemas-microsoft-com:vml';

export interface Legacy {
  /** `w:pict`, all of which is replaced. */
  pict: Element;
  shape: Element;
  image: Element;
  /** The coordinates of the groups it is in; null for a picture that stands alone. */
  group: Units | null;
}

/** Units of a group's coordinates in points, and where they count from (ISO/IEC 29500-4 §14.1.2.7, group). */
interface Units {
  scale: { x: number; y: number };
  origin: { x: number; y: number };
}

/** The pictures of a `w:pict`: one that stands alone, or those in its groups; none of text boxes. */
export function legaciesOf(pict: Element): Legacy[] {
  if (pict.local !== 'pict' || !NS.word.has(pict.uri)) return [];
  const shapes = pict.children.filter((c) => c.uri === VML && c.local !== 'shapetype');
  const [shape] = shapes;
  if (!shape || shapes.length > 1) return [];
  if (shape.local === 'group') return grouped(pict, shape, null);
  const image = child(shape, 'imagedata');
  return !image || child(shape, 'textbox') ? [] : [{ pict, shape, image, group: null }];
}

function grouped(pict: Element, group: Element, outer: Units | null): Legacy[] {
  const units = unitsOf(group, outer);
  if (!units) return [];
  return group.children.flatMap((shape): Legacy[] => {
    if (shape.uri !== VML) return [];
    if (shape.local === 'group') return grouped(pict, shape, units);
    const image =
      /^(shape|rect)$/.test(shape.local) && !child(shape, 'textbox') ? child(shape, 'imagedata') : undefined;
    return image ? [{ pict, shape, image, group: units }] : [];
  });
}

/** What a group's coordinates are; null for a group without a size. */
function unitsOf(group: Element, outer: Units | null): Units | null {
  const pair = (name: string, usual: number): [number, number] => {
    const [x, y] = (group.attributes[name] ?? '').split(',').map((v) => Number(v.trim() || usual));
    return [Number.isFinite(x) ? x! : usual, Number.isFinite(y) ? y! : usual];
  };
  const [width, height] = pair('coordsize', 1000);
  const [left, top] = pair('coordorigin', 0);
  const box = boxIn(group, outer);
  const scale = { x: box.width / width, y: box.height / height };
  if (!(scale.x > 0) || !(scale.y > 0)) return null;
  return { scale, origin: { x: box.x - left * scale.x, y: box.y - top * scale.y } };
}

/** A shape's box in points, from what its group counts from; lengths of its own where it is in none. */
function boxIn(shape: Element, group: Units | null): Box {
  const style = styleOf(shape);
  if (!group) {
    const floating = style.get('position') === 'absolute';
    return {
      x: floating ? lengthOf(style.get('margin-left')) : 0,
      y: floating ? lengthOf(style.get('margin-top')) : 0,
      width: lengthOf(style.get('width')),
      height: lengthOf(style.get('height')),
    };
  }
  const { scale, origin } = group;
  const units = (name: string): number => integer(style.get(name));
  return {
    x: origin.x + units('left') * scale.x,
    y: origin.y + units('top') * scale.y,
    width: units('width') * scale.x,
    height: units('height') * scale.y,
  };
}

/** Where a picture's data and surroundings are told from; it is never written to. */
export const legacySite = ({ pict, shape, image, group }: Legacy, part: string): Site & { holder: Element } => ({
  part,
  pic: shape,
  holder: pict,
  spPr: undefined,
  // The relationship's id is an attribute of the image, as it is of a blip.
  blipFill: { ...shape, children: [{ ...image, local: 'blip', attributes: { 'r:embed': idOf(image) ?? '' } }] },
  group: group && { x: 1, y: 1 },
  strict: isStrict(pict.uri),
});

const idOf = (image: Element): string | undefined => attributeOf(image, 'id') ?? attributeOf(image, 'relid');

/** Declarations of a VML `style` attribute (ISO/IEC 29500-4 §14.1.2.19). */
function styleOf(e: Element): Map<string, string> {
  const pairs = (e.attributes['style'] ?? '').split(';').map((d) => d.split(':').map((v) => v.trim()));
  return new Map(pairs.flatMap(([k, v]) => (k && v ? [[k.toLowerCase(), v] as const] : [])));
}

function lengthOf(text: string | undefined): number {
  const m = /^(-?\d*\.?\d+)(pt|in|cm|mm|px)?$/i.exec(text ?? '');
  // Without a unit a length counts in pixels.
  return m ? Number(m[1]) * POINTS[(m[2]?.toLowerCase() ?? 'px') as Unit] : 0;
}

/** A share: in 65,536ths with an `f`, or as a plain number (§14.1.2.11, cropleft). */
function fraction(text: string | undefined): number {
  const m = /^(-?\d*\.?\d+)(f|%)?$/.exec(text ?? '');
  return m ? Number(m[1]) / (m[2] === 'f' ? 65_536 : m[2] === '%' ? 100 : 1) : 0;
}

/** @param pixels stored size; null when unknown */
export function readLegacy({ shape, image, group }: Legacy, n: number, pixels: Size | null): ReadPicture {
  const style = styleOf(shape);
  const { x, y, width, height } = normaliseBox(boxIn(shape, group));
  const box = { width, height };
  const crop: Crop = {
    left: fraction(image.attributes['cropleft']),
    top: fraction(image.attributes['croptop']),
    right: fraction(image.attributes['cropright']),
    bottom: fraction(image.attributes['cropbottom']),
  };
  const size = pixels ?? box;
  const floating = !!group || style.get('position') === 'absolute';
  const flip = style.get('flip') ?? '';
  const frame = withinBounds({
    n,
    flow: floating ? 'floating' : 'inline',
    box: { x, y, ...box },
    turn: turnOf(integer(style.get('rotation'))),
    flip: { horizontal: flip.includes('x'), vertical: flip.includes('y') },
    seat: FULL_SEAT,
    shape: shapeOf(shape, box),
    placement: placementFromFileCrop(crop, box, size),
    backing: null,
    outline: outlineOf(shape),
    shadow: null,
    alt: shape.attributes['alt'] ?? '',
  });
  const tone = toneOf(image);
  if (tone) frame.tone = tone;
  return { frame, native: frame, crop, size };
}

/** How an image is recoloured (ISO/IEC 29500-4 §14.1.2.11: gain, blacklevel, grayscale, bilevel, chromakey; from memory). */
function toneOf({ attributes: a }: Element): Tone | undefined {
  const is = (name: string): boolean => /^(t|true|1)$/.test(a[name] ?? '');
  const given: Given = {};
  const key = /^#[0-9a-f]{6}$/i.exec(a['chromakey'] ?? '')?.[0].toLowerCase();
  if (key) given.swap = { from: key, to: key, opacity: 0 };
  const gain = a['gain'] === undefined ? 1 : Math.max(0, fraction(a['gain']));
  if (gain !== 1) given.contrast = gain < 1 ? gain - 1 : 1 - 1 / gain;
  const level = clamp(fraction(a['blacklevel']), -1, 1);
  if (level !== 0) given.lift = level;
  if (is('bilevel')) given.threshold = 0.5;
  const tone: Tone = {};
  if (is('grayscale')) tone.colour = { amount: 0, warmth: 0, tint: 0, only: null };
  if (Object.keys(given).length > 0) tone.given = given;
  return Object.keys(tone).length > 0 ? tone : undefined;
}

function shapeOf(shape: Element, { width, height }: Size): Frame['shape'] {
  if (shape.local === 'oval') return { name: Math.abs(width - height) < 0.01 ? 'circle' : 'ellipse', knobs: {} };
  if (shape.local === 'roundrect')
    return { name: 'rounded', knobs: { radius: clamp(fraction(shape.attributes['arcsize'] ?? '0.2'), 0, 0.5) } };
  return { name: 'rectangle', knobs: {} };
}

/** A line that the shape says it has; one that only its type may have is left out of account. */
function outlineOf({ attributes: a }: Element): Frame['outline'] {
  if (!/^(t|true|1)$/.test(a['stroked'] ?? '')) return null;
  const colour = /#[0-9a-f]{6}/i.exec(a['strokecolor'] ?? '')?.[0].toLowerCase() ?? '#000000';
  const weight = clamp(lengthOf(a['strokeweight']) || 0.75, 0.1, 1584);
  return {
    paint: { kind: 'solid', colour, opacity: 1 },
    weight,
    side: 'on',
    dash: 'solid',
    join: 'mitre',
    cap: 'butt',
  };
}

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
    box,
    flow: next.flow,
    rid: rid ?? idOf(legacy.image) ?? '',
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
