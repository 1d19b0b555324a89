import { CENTRED, clamp, FULL_SEAT, POINTS, turnOf, type Crop, type Frame, type Size, type Unit } from '@gable/core';
import { placementOf, boxOf } from '../sane';
import { attributeOf, child, parseXml, type Element } from '../xml/located';
import { Splice } from '../xml/splice';
import { isStrict, NS } from './names';
import { plainDrawing } from './plain-drawing';
import { firstPicture, siteOf, type ReadPicture, type Site } from './read-picture';
import { integer } from './values';
import { writePicture } from './write-picture';

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
}

/** A picture that stands alone in a `w:pict`; null for groups, text boxes and drawings without a picture. */
export function legacyOf(pict: Element): Legacy | null {
  if (pict.local !== 'pict' || !NS.word.has(pict.uri)) return null;
  const shapes = pict.children.filter((c) => c.uri === VML && c.local !== 'shapetype');
  const [shape] = shapes;
  const image = shapes.length === 1 ? child(shape, 'imagedata') : undefined;
  if (!shape || !image || child(shape, 'textbox')) return null;
  return { pict, shape, image };
}

/** Where a picture's data and surroundings are told from; it is never written to. */
export const legacySite = ({ pict, shape, image }: Legacy, part: string): Site & { holder: Element } => ({
  part,
  pic: shape,
  holder: pict,
  spPr: undefined,
  // The relationship's id is an attribute of the image, as it is of a blip.
  blipFill: { ...shape, children: [{ ...image, local: 'blip', attributes: { 'r:embed': idOf(image) ?? '' } }] },
  group: null,
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
export function readLegacy({ shape, image }: Legacy, n: number, pixels: Size | null): ReadPicture {
  const style = styleOf(shape);
  const { width, height } = boxOf({
    x: 0,
    y: 0,
    width: lengthOf(style.get('width')),
    height: lengthOf(style.get('height')),
  });
  const box = { width, height };
  const crop: Crop = {
    left: fraction(image.attributes['cropleft']),
    top: fraction(image.attributes['croptop']),
    right: fraction(image.attributes['cropright']),
    bottom: fraction(image.attributes['cropbottom']),
  };
  const size = pixels ?? box;
  const floating = style.get('position') === 'absolute';
  const flip = style.get('flip') ?? '';
  const frame: Frame = {
    n,
    flow: floating ? 'floating' : 'inline',
    box: {
      x: floating ? lengthOf(style.get('margin-left')) : 0,
      y: floating ? lengthOf(style.get('margin-top')) : 0,
      ...box,
    },
    turn: turnOf(integer(style.get('rotation'))),
    flip: { horizontal: flip.includes('x'), vertical: flip.includes('y') },
    seat: FULL_SEAT,
    shape: shapeOf(shape, box),
    placement: placementOf(crop, box, size),
    backing: null,
    outline: outlineOf(shape),
    shadow: null,
    alt: (shape.attributes['alt'] ?? '').slice(0, 10_000),
  };
  return { frame, filed: frame, crop, size };
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
  writePicture(
    own,
    site,
    { frame: plain, filed: plain, crop: { left: 0, top: 0, right: 0, bottom: 0 }, size: read.size },
    next,
  );
  splice.replace(pict, own.apply());
}
