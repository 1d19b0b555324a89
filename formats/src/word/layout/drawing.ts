import { type ItemId, fileRoom, textBoxOf, trimNumber, type FloatPlace, type Frame } from '@gable/core';
import { laidMarkup } from '../../codec/laid';
import { likenessMarkup } from '../../codec/likeness';
import { readAnchor, readOffset, readPolygon } from '../../drawingml/text-anchor';
import { isPicture, readLook, siteOf, WORD_SHAPE } from '../../drawingml/read-picture';
import { blockItem, wordColour } from '../../drawingml/read-shape';
import type { Theme } from '../../drawingml/colour';
import { measure, integer } from '../../drawingml/values';
import { plateMarkup, shapeMarkup } from '../../flow/shape-markup';
import { NS } from '../../ooxml/names';
import { attributeOf, child, descend, type Element } from '../../xml/located';
import { escapeXml } from '../../xml/splice';
import { boxIn, styleOf } from '../../vml/find';

/** A picture of the text: its number and its frame. */
export interface TextPicture {
  n: number;
  frame: Frame;
}

/** What drawings are laid out with. */
export interface DrawingContext {
  part: string;
  pictures: ReadonlyMap<Element, TextPicture>;
  /** Names of shapes and text boxes. */
  own: ReadonlyMap<Element, ItemId>;
  theme: () => Theme;
  /** A picture of the part by its relationship; null for one that cannot be shown. */
  likeness(rid: string): Uint8Array | null;
  /** The blocks in a text box. */
  blocks(holder: Element): string;
}

const n = (v: number): string => trimNumber(v, 3);
const EMU = 12_700;

/** The markup of what is drawn in a text: `w:drawing` (ISO/IEC 29500-1 §17.3.3.9), `w:pict` and `w:object`. */
export function drawnMarkup(e: Element, context: DrawingContext): string {
  if (e.local === 'drawing') return e.children.map((holder) => ofHolder(holder, context)).join('');
  return legacyMarkup(e, context);
}

function ofHolder(holder: Element, context: DrawingContext): string {
  if (!NS.wordDrawing.has(holder.uri) || !/^(inline|anchor)$/.test(holder.local)) return '';
  const extent = child(holder, 'extent');
  const data = descend(holder, 'graphic', 'graphicData');
  const [content] = data?.children ?? [];
  const picture = content && pictureIn(content, context);
  const room = picture && fileRoom(picture.frame).box;
  const width = room?.width ?? measure(extent?.attributes['cx']) ?? 0;
  const height = room?.height ?? measure(extent?.attributes['cy']) ?? 0;
  if (!(width > 0) || !(height > 0)) return '';
  const inner = content ? contentOf(content, { width, height }, context) : '';
  const box = `width:${n(width)}pt;height:${n(height)}pt`;
  const named = picture && content && !isGroup(content) ? ` data-picture="${picture.n}"` : '';
  if (holder.local === 'inline') return `<span class="inline" style="${box}"${named}>${inner}</span>`;
  const outline = readPolygon(holder);
  const place: FloatPlace = {
    x: room?.x ?? readOffset(holder, 'x'),
    y: room?.y ?? readOffset(holder, 'y'),
    width,
    height,
    anchor: readAnchor(holder)!,
    order: Number(holder.attributes['relativeHeight']) || 0,
    ...(outline && { outline }),
  };
  const added = laidMarkup(child(holder, 'docPr')?.attributes['name'], place.anchor.behind);
  return `<span class="float" style="${box}" data-float="${escapeXml(JSON.stringify(place))}"${named}${added}>${inner}</span>`;
}

const isGroup = (e: Element): boolean => /^(wgp|grpSp|wpc)$/.test(e.local);

/** The picture that a drawing is, by any of its branches. */
const pictureIn = (e: Element, { pictures }: DrawingContext): TextPicture | undefined =>
  isGroup(e) ? undefined : (pictures.get(e) ?? undefined);

/** What is in a drawing, as large as its box says. */
function contentOf(e: Element, size: { width: number; height: number }, context: DrawingContext): string {
  if (context.pictures.has(e) && e.local === 'pic') return '';
  if (e.local === 'wsp' && e.uri === WORD_SHAPE) return shapeOf(e, context, size);
  if (isGroup(e)) return groupOf(e, size, context);
  if (e.local === 'pic') return plateMarkup('Picture', size.width, size.height);
  return plateMarkup(plateName(e), size.width, size.height);
}

function plateName(e: Element): string {
  if (/chart/i.test(e.local)) return 'Chart';
  if (/relIds|dataModel/i.test(e.local)) return 'Diagram';
  return 'Object';
}

/** A shape with its words ([MS-DOCX] wps:wsp). */
function shapeOf(e: Element, context: DrawingContext, size: { width: number; height: number }): string {
  const site = siteOf(e, context.part);
  if (!site) return '';
  const picture = isPicture(e);
  const item = blockItem(site, 'shape', { theme: context.theme, text: null });
  const form =
    item.kind === 'framed' && !picture
      ? shapeMarkup({ ...item, at: { ...item.at, box: { ...item.at.box, ...size } } })
      : '';
  const look = readLook(site, context.theme);
  const content = descend(e, 'txbx', 'txbxContent');
  const bodyPr = child(e, 'bodyPr');
  const room = item.kind === 'framed' ? textBoxOf(size, item) : { x: 0, y: 0, ...size };
  const inset = (name: string, usual: number, more: number): string =>
    n((measure(bodyPr?.attributes[name]) ?? usual) + more);
  const align = { ctr: 'center', b: 'flex-end' }[bodyPr?.attributes['anchor'] ?? ''] ?? 'flex-start';
  // Insets where nothing is said: 0.1 and 0.05 inches (§21.1.2.1.1, bodyPr).
  const [right, bottom] = [size.width - room.x - room.width, size.height - room.y - room.height];
  const padding = `${inset('tIns', 3.6, room.y)}pt ${inset('rIns', 7.2, right)}pt ${inset('bIns', 3.6, bottom)}pt ${inset('lIns', 7.2, room.x)}pt`;
  const colour = wordColour(site, context.theme);
  const words = content
    ? `<span class="words" style="padding:${padding};justify-content:${align}${colour ? `;color:${colour}` : ''}"><span data-box>${context.blocks(content)}</span></span>`
    : '';
  const turn = look.turn !== 0 && form ? `;transform:rotate(${n(look.turn)}deg)` : '';
  const id = context.own.get(e);
  const own = id === undefined ? '' : ` data-own="${id}"`;
  return form || words ? `<span class="drawn" style="inset:0${turn}"${own}>${form}${words}</span>` : '';
}

/** A group: what is in it in its own coordinates (§20.1.7.5, CT_GroupTransform2D). */
function groupOf(e: Element, size: { width: number; height: number }, context: DrawingContext): string {
  const xfrm = descend(e, 'grpSpPr', 'xfrm');
  const of = (name: string, key: string): number => integer(child(xfrm, name)?.attributes[key]);
  const [inWidth, inHeight] = [of('chExt', 'cx') || of('ext', 'cx'), of('chExt', 'cy') || of('ext', 'cy')];
  const kx = inWidth > 0 ? size.width / inWidth : 1 / EMU;
  const ky = inHeight > 0 ? size.height / inHeight : 1 / EMU;
  const [left, top] = [of('chOff', 'x'), of('chOff', 'y')];
  return e.children
    .map((c) => branchOf(c))
    .map((c) => {
      if (!c || !/^(wsp|pic|grpSp|graphicFrame|cxnSp)$/.test(c.local)) return '';
      const own = descend(c, c.local === 'grpSp' ? 'grpSpPr' : 'spPr', 'xfrm') ?? child(c, 'xfrm');
      const at = (name: string, key: string): number => integer(child(own, name)?.attributes[key]);
      const box = {
        x: (at('off', 'x') - left) * kx,
        y: (at('off', 'y') - top) * ky,
        width: at('ext', 'cx') * kx,
        height: at('ext', 'cy') * ky,
      };
      const picture = context.pictures.get(c);
      const inner = contentOf(c, box, context);
      const style = `left:${n(box.x)}pt;top:${n(box.y)}pt;width:${n(box.width)}pt;height:${n(box.height)}pt`;
      return `<span class="drawn" style="${style}"${picture ? ` data-picture="${picture.n}"` : ''}>${inner}</span>`;
    })
    .join('');
}

/** The branch of alternate content that is meant (ISO/IEC 29500-3 §7.6): the first, whose markup is known here. */
export const branchOf = (e: Element): Element | undefined =>
  e.local === 'AlternateContent' && NS.compatibility.has(e.uri) ? e.children[0]?.children[0] : e;

/** The older markup, VML (ISO/IEC 29500-4 §14.1): a picture, a box of words, or a plain shape, in its line or beside the text. */
function legacyMarkup(e: Element, context: DrawingContext): string {
  const shape = e.children.find((c) => c.local !== 'shapetype' && styleOf(c).has('width'));
  if (!shape) return '';
  const box = boxIn(shape, null);
  if (!(box.width > 0) || !(box.height > 0)) return '';
  const style = styleOf(shape);
  const picture = context.pictures.get(shape);
  const colour = (name: string): string | undefined =>
    /^#[0-9a-f]{3,6}$|^[a-z]+$/i.exec(shape.attributes[name]?.split(' ')[0] ?? '')?.[0];
  const content = descend(shape, 'textbox', 'txbxContent');
  const size = `width:${n(box.width)}pt;height:${n(box.height)}pt`;
  const drawn = picture
    ? ''
    : e.local === 'object' || (!content && child(shape, 'imagedata'))
      ? (likenessMarkup(context.likeness(attributeOf(child(shape, 'imagedata'), 'id') ?? ''), 'Object') ??
        plateMarkup('Object', box.width, box.height))
      : `<span class="drawn" style="inset:0;background:${shape.attributes['filled'] === 'f' ? 'none' : (colour('fillcolor') ?? '#fff')};` +
        `border:${shape.attributes['stroked'] === 'f' ? 0 : `.75pt solid ${colour('strokecolor') ?? '#000'}`};` +
        `border-radius:${shape.local === 'oval' ? '50%' : 0}">${content ? `<span class="words" style="padding:3.6pt 7.2pt"><span data-box>${context.blocks(content)}</span></span>` : ''}</span>`;
  const named = picture ? ` data-picture="${picture.n}"` : '';
  if (style.get('position') !== 'absolute') return `<span class="inline" style="${size}"${named}>${drawn}</span>`;
  const relative = (axis: 'horizontal' | 'vertical', usual: string): string =>
    ({ page: 'page', margin: 'margin', char: 'character', line: 'line' })[
      style.get(`mso-position-${axis}-relative`) ?? ''
    ] ?? usual;
  const z = Number(style.get('z-index')) || 0;
  const wrap = child(shape, 'wrap')?.attributes['type'] ?? 'none';
  const place = {
    ...box,
    anchor: {
      from: { x: relative('horizontal', 'column'), y: relative('vertical', 'paragraph') },
      wrap: wrap === 'topAndBottom' ? 'top-bottom' : wrap === 'none' ? 'none' : 'square',
      behind: z < 0,
      distances: { top: 0, right: 9, bottom: 0, left: 9 },
    },
    order: z,
  } as FloatPlace;
  return `<span class="float" style="${size}" data-float="${escapeXml(JSON.stringify(place))}"${named}>${drawn}</span>`;
}
