import {
  CENTRED,
  documentOfPictures,
  equal,
  frameMatrix,
  frameOfBlock,
  invert,
  isVeil,
  linesOf,
  multiply,
  svgParts,
  trimNumber,
  wordsIn,
  type Frame,
  type FramedItem,
  type Matrix,
  type Size,
  type Text,
  type TypeContext,
} from '@gable/core';
import { readTransform } from '@gable/core/silhouette';
import { memberOf } from '../codec/arrange';
import type { AroundOnPage, Opened, ReplacementImage, Veils } from '../codec/contract';
import { readDataUrl, writeDataUrl } from '../codec/data-url';
import { PIXEL } from '../css/lengths';
import { decodeItem, encodeItem, ITEM_NAMESPACE } from '../metadata/items';
import { encodeVeil, VEIL_ATTRIBUTE } from '../metadata/veils';
import { child, type Element } from '../xml/located';
import { escapeText, escapeXml, Splice } from '../xml/splice';
import { readHeader } from '../raster/header';
import { advanceOf } from './advance';
import type { Drawing } from './drawing';
import { hrefOf, imagesIn } from './fills';
import { place } from './read-image';
import { TIE_ATTRIBUTES } from './ties';
import { outerOf } from './viewport';
import { fresh } from './write-image';

/** A drawing that words and blocks are put into. */
interface Drawn {
  text: string;
  root: Element;
  writing: Writing;
  /** Names that are taken. */
  taken: Set<string>;
  file: Pick<Opened, 'pictures' | 'sheets'>;
  elementOf(id: string): Element | undefined;
}

/** Puts words and blocks among what lies in a drawing: paths, and lines of text (SVG 2 §11.2). */
export function putAround(
  { text, root, writing, taken, file, elementOf }: Drawn,
  { around, veils }: { around: readonly AroundOnPage[]; veils: Veils },
): string {
  const splice = new Splice(text);
  const document = documentOfPictures(file.pictures, file);
  for (const { index, items } of around) {
    const xml = items
      .map((item) => {
        const veil = veils.get(item.id);
        return itemMarkup(item, writing, { id: fresh(taken), veil: veil && veilPicture(veil) });
      })
      .join('');
    const next = elementOf(document.pages[0]?.items[index] ?? '');
    if (next) splice.before(memberOf(root, next), xml);
    else splice.append(root, xml);
  }
  return splice.apply();
}

const n = (v: number): string => trimNumber(v, 4);

/** What a style sheet of the drawing, or what is round it, may say of shapes and words is said here. */
const PLAIN = 'stroke-dasharray:none;letter-spacing:0;word-spacing:0';

/** Looks of our own as styles: those of style sheets come before attributes (SVG 2 §6.6). */
const styled = (markup: string): string =>
  markup.replace(
    /<(path|rect|use|image|g|stop)((?: [\w:-]+="[^"]*")*)(\/?)>/g,
    (_, tag: string, all: string, end: string) => {
      const looks: string[] = [];
      const left = all.replace(
        / (fill|fill-[a-z]+|stroke|stroke-[a-z]+|opacity|stop-[a-z]+|mask|clip-path|filter)="([^"]*)"/g,
        (_a, name: string, value: string) => {
          looks.push(`${name}:${value}`);
          return '';
        },
      );
      return `<${tag}${left}${looks.length > 0 ? ` style="${looks.join(';')}"` : ''}${end}>`;
    },
  );

/** How a drawing is written: its own units, and what its elements are called. */
export interface Writing {
  /** From its units to pixels of the page. */
  page: Matrix;
  /** Has it style sheets, which come before attributes? */
  sheets: boolean;
  prefix: string;
}

/**
 * An item as a group: its matrix takes points of the item's box to the units of the drawing. What it is stands beside it.
 * @param more attributes that it has besides
 */
export function itemMarkup(
  item: FramedItem,
  { page, sheets, prefix }: Writing,
  { id, veil, more = '' }: { id: string; veil: VeilPicture | undefined; more?: string },
): string {
  const { turn, flip, text, alt } = item;
  const { box } = item.at;
  const frame = frameOfBlock(item, { box, turn, flip });
  const { defs, shadow, content, outline } = svgParts(frame, null, id);
  const fill = veil && isVeil(item.fill) ? item.fill : null;
  const picture = fill ? veilMarkup(frame, veil!, `${id}-veil`) : '';
  const told = fill ? ` ${VEIL_ATTRIBUTE}="${escapeXml(encodeVeil(fill))}"` : '';
  const matrix = (m: Matrix): string => `matrix(${m.map((v) => trimNumber(v, 8)).join(' ')})`;
  const onPage = multiply(invert(page), multiply([1 / PIXEL, 0, 0, 1 / PIXEL, 0, 0], frameMatrix(frame)));
  const markup = `${defs && `<defs>${defs}</defs>`}${shadow}${content}${picture}${outline}`;
  const shape = `<g${told}>${sheets ? styled(markup) : markup}</g>`;
  // Words are turned with their shape, and never mirrored.
  const upright = frameMatrix({ ...frame, flip: { horizontal: false, vertical: false } });
  const own =
    flip.horizontal || flip.vertical ? ` transform="${matrix(multiply(invert(frameMatrix(frame)), upright))}"` : '';
  const words = text ? `<g${own}>${linesText(wordsIn(box, item, text), box)}</g>` : '';
  const title = alt ? `<title>${escapeText(alt)}</title>` : '';
  const plain = `${title}${item.fill || item.outline || item.shadow ? shape : ''}${words}`;
  const inside = prefix === '' ? plain : plain.replace(/<(\/?)(?=[A-Za-z])/g, `<$1${prefix}`);
  const [g, metadata] = [`${prefix}g`, `${prefix}metadata`];
  const known = `<item xmlns="${ITEM_NAMESPACE}">${escapeText(encodeItem(item, inside))}</item>`;
  return `<${g} id="${id}" style="${PLAIN}" transform="${matrix(onPage)}"${more}><${metadata}>${known}</${metadata}>${inside}</${g}>`;
}

/** What an element has that was written so, but for its place and its ties. */
const ATTRIBUTES = new Set(['id', 'style', 'transform', ...TIE_ATTRIBUTES]);

/** Does it stand in the outermost element, or in groups that say nothing of what is in them? */
const isPlainPlace = ({ parent }: Element): boolean =>
  !parent?.parent ||
  (parent.local === 'g' && Object.keys(parent.attributes).every((name) => name === 'id') && isPlainPlace(parent));

/** The item that a group was written for, where it stands now; null for what was changed since. */
export function itemWritten(e: Element, { text, page }: Pick<Drawing, 'text' | 'page'>, id: string): FramedItem | null {
  const metadata = child(e, 'metadata');
  const known = metadata?.children.find((c) => c.uri === ITEM_NAMESPACE);
  if (!metadata || !known || !isPlainPlace(e) || e.attributes['style'] !== PLAIN) return null;
  if (Object.keys(e.attributes).some((name) => !ATTRIBUTES.has(name))) return null;
  const item = decodeItem(known.text, text.slice(metadata.end, e.closeStart), id);
  if (!item) return null;
  const { turn, flip } = item;
  const { box } = item.at;
  const placed = place(
    multiply(outerOf(e, page), readTransform(e.attributes['transform'])),
    frameOfBlock(item, { box, turn, flip }),
  );
  // Scaled elsewhere, its letters have other sizes.
  const isScaled = !equal([placed.box.width, placed.box.height], [box.width, box.height], 0.01);
  return isScaled ? null : { ...item, at: { on: 'page', box: placed.box }, turn: placed.turn, flip: placed.flip };
}

/** A group that was written for an item, for the item as it is now: under its name, and with its ties. */
export function itemAnew(
  e: Element,
  item: FramedItem,
  { writing, veil }: { writing: Writing; veil: VeilPicture | undefined },
): string {
  const { id = '', ...attributes } = e.attributes;
  const ties = Object.entries(attributes).filter(([name]) => TIE_ATTRIBUTES.has(name));
  const more = ties.map(([name, value]) => ` ${name}="${escapeXml(value)}"`).join('');
  return itemMarkup(item, writing, { id, veil: veil ?? (isVeil(item.fill) ? veilIn(e) : undefined), more });
}

/** The picture that a veil came to when it was written. */
function veilIn(e: Element): VeilPicture | undefined {
  const image = imagesIn(e)[0];
  const href = image && hrefOf(image);
  const pixels = href === undefined ? undefined : readHeader(readDataUrl(href) ?? new Uint8Array())?.pixels;
  return href !== undefined && pixels ? { href, size: pixels } : undefined;
}

/** What lies beneath a veil, as the drawing names it. Its size in pixels. */
export interface VeilPicture {
  href: string;
  size: Size;
}
export const veilPicture = (image: ReplacementImage): VeilPicture => ({
  href: writeDataUrl(image.bytes, `image/${image.type}`),
  size: image.size,
});

/** What lies beneath a veil, painted, in its shape: it covers the paint, which says what the veil is. */
function veilMarkup(frame: Frame, { href, size }: VeilPicture, id: string): string {
  const bare: Frame = { ...frame, ...{ backing: null, outline: null, shadow: null } };
  const picture = { href, size, transparent: true };
  const { defs, content } = svgParts({ ...bare, placement: { ...CENTRED, fit: 'stretch' } }, picture, id);
  return `${defs && `<defs>${defs}</defs>`}${content}`;
}

const ANCHOR = { start: 'start', centre: 'middle', end: 'end', justify: 'start' } as const;
/** The share of a line that lies above its baseline: common practice. */
const ASCENT = 0.79;

/** Lines are broken by the widths of a plain sans serif: each is set by the reader's own font, about its own end or middle. */
const widths = (): Pick<TypeContext, 'font' | 'measureText'> => {
  const context = {
    font: '',
    measureText(text: string): { width: number } {
      const size = Number(/([\d.]+)px/.exec(context.font)?.[1] ?? 12);
      const heavy = /\b[6-9]00\b/.test(context.font) ? 1.06 : 1;
      return { width: [...text].reduce((sum, c) => sum + advanceOf(c), 0) * size * heavy };
    },
  };
  return context;
};

function linesText(text: Text, { width, height }: FramedItem['at']['box']): string {
  const { inset, anchor } = text;
  const room = width - inset.left - inset.right;
  const lines = linesOf(widths(), text, room);
  const all = lines.reduce((sum, l) => sum + l.above + l.height, 0);
  const space = height - inset.top - inset.bottom - all;
  let y = inset.top + (anchor === 'top' ? 0 : anchor === 'middle' ? space / 2 : space);
  return lines
    .map(({ pieces, align, left, above, height: high, bullet }) => {
      y += above;
      const base = y + high * ASCENT;
      y += high;
      const x = align === 'centre' ? inset.left + room / 2 : align === 'end' ? width - inset.right : inset.left + left;
      const first = pieces[0];
      const mark = bullet && first ? [{ ...first, text: `${bullet.text} ` }] : [];
      const spans = [...mark, ...pieces].map(({ run, text: words }) => spanText(run, words)).join('');
      return (
        spans &&
        `<text xml:space="preserve" x="${n(x)}" y="${n(base)}" style="text-anchor:${ANCHOR[align]};stroke:none">${spans}</text>`
      );
    })
    .join('');
}

function spanText(run: Text['paragraphs'][number]['runs'][number], words: string): string {
  const { font, size, weight, italic, underline, paint } = run;
  const ink = paint.kind === 'solid' ? paint : paint.stops[0]!;
  const style = [
    `font-family:${font ? `'${font.replace(/['"\\;]/g, '')}', ` : ''}sans-serif`,
    `font-size:${n(size)}px`,
    `font-weight:${weight}`,
    `font-style:${italic ? 'italic' : 'normal'}`,
    `fill:${ink.colour}`,
    ...(ink.opacity < 1 ? [`fill-opacity:${n(ink.opacity)}`] : []),
    ...(underline ? ['text-decoration:underline'] : []),
  ].join(';');
  return `<tspan style="${escapeXml(style)}">${escapeText(words)}</tspan>`;
}
