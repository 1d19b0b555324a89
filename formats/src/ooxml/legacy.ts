import {
  CENTRED,
  clamp,
  FULL_SEAT,
  POINTS,
  toEmu,
  turnOf,
  type Crop,
  type Frame,
  type Size,
  type Unit,
} from '@gable/core';
import { placementOf, boxOf } from '../sane';
import { attributeOf, child, parseXml, type Element } from '../xml/located';
import { escapeXml, Splice } from '../xml/splice';
import { isStrict, NS } from './names';
import { isPicture, siteOf, type ReadPicture, type Site } from './read-picture';
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

const A = 'http://schemas.openxmlformats.org/drawingml/2006';
const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

/**
 * The picture as DrawingML, in the place of its `w:pict`: first as it is, then with what differs.
 * @param rid relationship of the data it shows from now on
 */
export function writeLegacy(splice: Splice, legacy: Legacy, read: ReadPicture, next: Frame, rid: string | null): void {
  const { pict } = legacy;
  const prefix = pict.name.slice(0, pict.name.length - pict.local.length);
  const text = drawingOf({ ...read.frame, flow: next.flow }, rid ?? idOf(legacy.image) ?? '', pict, prefix);
  const root = parseXml(text, 'picture');
  const pic = find(root);
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

function find(e: Element): Element | undefined {
  if (isPicture(e)) return e;
  for (const c of e.children) {
    const found = find(c);
    if (found) return found;
  }
  return undefined;
}

/** A plain drawing (§20.4.2.8, inline; §20.4.2.3, anchor) with all names bound in place. */
function drawingOf(frame: Frame, rid: string, pict: Element, w: string): string {
  const [cx, cy] = [toEmu(frame.box.width), toEmu(frame.box.height)];
  const id = 900_000 + frame.n;
  const strict = isStrict(pict.uri);
  const base = strict ? 'http://purl.oclc.org/ooxml/drawingml' : A;
  const relationships = strict ? 'http://purl.oclc.org/ooxml/officeDocument/relationships' : R;
  const word = `${base}/wordprocessingDrawing`;
  const names = `xmlns:wp="${word}" xmlns:a="${base}/main" xmlns:pic="${base}/picture" xmlns:r="${relationships}"`;
  const own = w === '' ? ` xmlns="${pict.uri}"` : ` xmlns:${w.slice(0, -1)}="${pict.uri}"`;
  const inner =
    `<wp:docPr id="${id}" name="Picture ${frame.n}" descr="${escapeXml(frame.alt)}"/><wp:cNvGraphicFramePr/>` +
    `<a:graphic><a:graphicData uri="${base}/picture"><pic:pic><pic:nvPicPr><pic:cNvPr id="${id}" name="Picture ${frame.n}"/><pic:cNvPicPr/></pic:nvPicPr>` +
    `<pic:blipFill><a:blip r:embed="${escapeXml(rid)}"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill>` +
    `<pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${cx}" cy="${cy}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic>`;
  const extent = `<wp:extent cx="${cx}" cy="${cy}"/><wp:effectExtent l="0" t="0" r="0" b="0"/>`;
  const at = (axis: string, from: string, offset: number): string =>
    `<wp:${axis} relativeFrom="${from}"><wp:posOffset>${toEmu(offset)}</wp:posOffset></wp:${axis}>`;
  const holder =
    frame.flow === 'inline'
      ? `<wp:inline distT="0" distB="0" distL="0" distR="0">${extent}${inner}</wp:inline>`
      : `<wp:anchor distT="0" distB="0" distL="114300" distR="114300" simplePos="0" relativeHeight="251658240" behindDoc="0" locked="0" layoutInCell="1" allowOverlap="1"><wp:simplePos x="0" y="0"/>` +
        `${at('positionH', 'column', frame.box.x)}${at('positionV', 'paragraph', frame.box.y)}${extent}<wp:wrapSquare wrapText="bothSides"/>${inner}</wp:anchor>`;
  return `<${w}drawing${own} ${names}>${holder}</${w}drawing>`;
}
