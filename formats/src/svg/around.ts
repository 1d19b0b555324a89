import {
  CENTRED,
  documentOfPictures,
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
  type Text,
  type TypeContext,
} from '@gable/core';
import { memberOf } from '../codec/arrange';
import type { AroundOnPage, Opened, ReplacementImage, Veils } from '../codec/contract';
import { writeDataUrl } from '../codec/data-url';
import { PIXEL } from '../css/lengths';
import { encodeVeil, VEIL_ATTRIBUTE } from '../metadata/veils';
import type { Element } from '../xml/located';
import { escapeText, escapeXml, Splice } from '../xml/splice';
import { advanceOf } from './advance';
import { fresh } from './write-image';

/** A drawing that words and blocks are put into. */
interface Drawn {
  text: string;
  root: Element;
  page: Matrix;
  /** Has it style sheets, which come before attributes? */
  sheets: boolean;
  /** Names that are taken. */
  taken: Set<string>;
  file: Pick<Opened, 'pictures' | 'sheets'>;
  elementOf(id: string): Element | undefined;
}

/** Puts words and blocks among what lies in a drawing: paths, and lines of text (SVG 2 §11.2). */
export function putAround(
  { text, root, page, sheets, taken, file, elementOf }: Drawn,
  { around, veils }: { around: readonly AroundOnPage[]; veils: Veils },
): string {
  const splice = new Splice(text);
  const document = documentOfPictures(file.pictures, file);
  const prefix = root.name.slice(0, root.name.length - root.local.length);
  for (const { index, items } of around) {
    const xml = items.map((item) => groupOf(item, { page, sheets, veil: veils.get(item.id) }, fresh(taken))).join('');
    const named = prefix === '' ? xml : xml.replace(/<(\/?)(?=[A-Za-z])/g, `<$1${prefix}`);
    const next = elementOf(document.pages[0]?.items[index] ?? '');
    if (next) splice.before(memberOf(root, next), named);
    else splice.append(root, named);
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

function groupOf(
  item: FramedItem,
  { page, sheets, veil }: Pick<Drawn, 'page' | 'sheets'> & { veil: ReplacementImage | undefined },
  id: string,
): string {
  const { turn, flip, text, alt } = item;
  const { box } = item.at;
  const frame = frameOfBlock(item, { box, turn, flip });
  const { defs, shadow, content, outline } = svgParts(frame, null, id);
  const fill = veil && isVeil(item.fill) ? item.fill : null;
  const picture = fill ? veilMarkup(frame, veil!, `${id}-veil`) : '';
  const told = fill ? ` ${VEIL_ATTRIBUTE}="${escapeXml(encodeVeil(fill))}"` : '';
  const onPage = (m: Matrix): string =>
    multiply(invert(page), multiply([1 / PIXEL, 0, 0, 1 / PIXEL, 0, 0], m))
      .map((v) => trimNumber(v, 8))
      .join(' ');
  const markup = `${defs && `<defs>${defs}</defs>`}${shadow}${content}${picture}${outline}`;
  const shape = `<g${told} transform="matrix(${onPage(frameMatrix(frame))})">${sheets ? styled(markup) : markup}</g>`;
  // Words are turned with their shape, and never mirrored.
  const upright = frameMatrix({ ...frame, flip: { horizontal: false, vertical: false } });
  const words = text ? `<g transform="matrix(${onPage(upright)})">${linesText(wordsIn(box, item, text), box)}</g>` : '';
  const title = alt ? `<title>${escapeText(alt)}</title>` : '';
  return `<g id="${id}" style="${PLAIN}">${title}${item.fill || item.outline || item.shadow ? shape : ''}${words}</g>`;
}

/** What lies beneath a veil, painted, in its shape: it covers the paint, which says what the veil is. */
function veilMarkup(frame: Frame, { bytes, type, size }: ReplacementImage, id: string): string {
  const bare: Frame = { ...frame, ...{ backing: null, outline: null, shadow: null } };
  const picture = { href: writeDataUrl(bytes, `image/${type}`), size, transparent: true };
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
