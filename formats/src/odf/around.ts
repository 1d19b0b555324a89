import {
  BESIDE_TEXT,
  equal,
  frameOfBlock,
  FULL_SEAT,
  GableError,
  isVeil,
  trimNumber,
  type FramedItem,
  type Paint,
  type Text,
} from '@gable/core';
import { memberOf } from '../codec/arrange';
import { noPicture, type AroundPicture, type AroundOnPage, type ReplacementImage, type Veils } from '../codec/contract';
import { toNative } from '../equivalents/offset-outline';
import { besideOf } from '../codec/beside-items';
import { decodeBeside, encodeBeside, ITEM_NAMESPACE, type BesideItem } from '../metadata/items';
import { encodeVeil, VEIL_NAMESPACE } from '../metadata/veils';
import { ancestor, child, type Element } from '../xml/located';
import { escapeText, escapeXml, type Splice } from '../xml/splice';
import type { Splices } from '../xml/splices';
import { writeGeometry } from './enhanced-geometry';
import { frameAlone, isBehindShapes } from './insert';
import { anchorProperties } from './anchor';
import { is, writeLength, type Names, Names as NamesOf } from './names';
import type { Part } from './found';
import { ownValue } from './own-attributes';
import type { Site } from './site';
import { placeAttributes, shadowProperties, strokeProperties, type StyleKind, type StyleWriter } from './write-frame';

type Paragraph = Text['paragraphs'][number];
type Run = Paragraph['runs'][number];
type Properties = readonly (readonly [string, string])[];

/** Where the picture that a veil comes to is kept; undefined for what is none. */
export type VeilHref = (id: string) => string | undefined;

/** Keeps the pictures of veils. */
export const hrefsOf =
  (veils: Veils, store: (image: ReplacementImage) => string): VeilHref =>
  (id) => {
    const image = veils.get(id);
    return image && store(image);
  };

/** What words and blocks are put into. */
interface Pages {
  splice: Splice;
  styles: StyleWriter;
  hrefOf: VeilHref;
  /** `office:presentation` or `office:drawing` */
  body: Element;
  /** What lies on a page by itself, from the back to the front; pages count from 1. */
  itemsOn(page: number): readonly string[];
  elementOf(id: string): Element | undefined;
}

/** Puts words and blocks on pages, among what lies there: custom shapes with words (ODF 1.2 Part 1 §10.6.1, draw:custom-shape). */
export function putAround(
  { splice, styles, hrefOf, body, itemsOn, elementOf }: Pages,
  around: readonly AroundOnPage[],
): void {
  const pages = body.children.filter((e) => is(e, 'draw', 'page'));
  for (const { page, index, items } of around) {
    const at = pages[page - 1]!;
    const n = new NamesOf(at);
    const xml = items.map((item) => newShape(n, item, { styles, hrefOf, part: 'content.xml' })).join('');
    const next = elementOf(itemsOn(page)[index] ?? '');
    const before = next ? memberOf(at, next) : at.children.find(isBehindShapes);
    if (before) splice.before(before, xml);
    else splice.append(at, xml);
  }
}

const attributes = (n: Names, properties: Properties): string =>
  properties.map(([name, value]) => ` ${n.of(name)}="${escapeXml(value)}"`).join('');

/** Where new styles go. */
interface Target {
  styles: StyleWriter;
  hrefOf: VeilHref;
  part: string;
}

/** An automatic style with properties of one kind. @param parent that it takes from */
export const styleOf = (
  { styles, part }: Pick<Target, 'styles' | 'part'>,
  family: StyleKind,
  properties: Properties,
  parent?: string,
): string =>
  styles.style(part, (name, n) => {
    const above = parent === undefined ? '' : ` ${n.of('style:parent-style-name')}="${escapeXml(parent)}"`;
    return (
      `<${n.of('style:style')}${n.declare('style', 'draw', 'svg', 'fo')} ${n.of('style:name')}="${name}" ${n.of('style:family')}="${family}"${above}>` +
      `<${n.of(`style:${family}-properties`)}${attributes(n, properties)}/></${n.of('style:style')}>`
    );
  });

/** What words and blocks are put beside. */
interface Beside {
  splices: Splices;
  styles: StyleWriter;
  hrefOf: VeilHref;
  found: readonly { site: Site }[];
}

/**
 * Puts words and blocks beside the pictures of a text, tied to the same place as these, or into their cells.
 * @throws GableError `cannot-write` for a picture in a group or in a box of words
 */
export function putBeside({ splices, styles, hrefOf, found }: Beside, around: readonly AroundPicture[]): void {
  for (const { n, before, behind } of around) {
    const { element, part } = (found[n - 1] ?? noPicture(n, found.length)).site;
    const inCell = ancestor(element, (e) => is(e, 'office', 'spreadsheet')) !== undefined;
    const group = inCell ? ancestor(element, (e) => is(e, 'draw', 'g') && !is(e.parent!, 'draw', 'g')) : undefined;
    if (!group && ancestor(element, (e) => is(e, 'draw', 'g', 'text-box')))
      throw new GableError(
        'cannot-write',
        `Nothing can stand around picture ${n}: it is in a group, or in a text box.`,
        'Undo what was added to it.',
        { n },
      );
    const whole = group ?? frameAlone(element);
    const names = new NamesOf(whole);
    const said = names.get(element, 'text:anchor-type') ?? 'paragraph';
    const inLine = said === 'as-char';
    const sheet = names.get(element, 'text:anchor-page-number');
    const tie = inCell
      ? ''
      : ` ${names.of('text:anchor-type')}="${inLine ? 'char' : said}"` +
        (sheet === undefined ? '' : ` ${names.of('text:anchor-page-number')}="${sheet}"`);
    const own = [...before, ...behind];
    // The picture that a veil comes to is made anew by whoever makes it.
    const known = !own.some((i) => hrefOf(i.id) !== undefined);
    const all = (items: readonly FramedItem[], side: BesideItem['side']): string =>
      items
        .map((item) => {
          const told = known ? encodeBeside(item, own, { of: String(n), side }) : '';
          const attribute = told && ` xmlns:gable-item="${ITEM_NAMESPACE}" gable-item:item="${escapeXml(told)}"`;
          return newShape(names, item, { styles, hrefOf, part }, { tie, told: attribute });
        })
        .join('');
    const splice = splices.of(part);
    const [first, last] = [all(before, 'before'), all(behind, 'behind')];
    // What counts from a letter counts from the one that its picture is.
    splice.before(whole, inLine ? first + last : first);
    if (!inLine) splice.at(whole.end, last);
  }
}

/**
 * The parts of a text or a workbook without what was put beside its pictures, with the styles of that, and it.
 * @see Opened.takeBeside
 */
export function takeBeside(parts: ReadonlyMap<string, Part>, splices: Splices): AroundPicture[] {
  const taken = new Map<number, BesideItem[]>();
  for (const [part, { root, text }] of parts) {
    if (!text.includes(ITEM_NAMESPACE)) continue;
    const splice = splices.of(part);
    const gone: Element[] = [];
    const visit = (e: Element): void => {
      // In a group of a sheet it stays.
      if (is(e, 'draw', 'g')) return;
      const own = decodeBeside(ownValue(e, ITEM_NAMESPACE, 'item') ?? '', 'taken');
      if (!own) return e.children.forEach(visit);
      gone.push(e);
      splice.replace(e, '');
      taken.set(Number(own.of), [...(taken.get(Number(own.of)) ?? []), own]);
    };
    visit(root);
    const within = gone.map((e) => text.slice(e.start, e.end)).join('');
    const uses = (where: string, name: string): number => where.split(`style-name="${name}"`).length - 1;
    for (const style of child(root, 'automatic-styles')?.children ?? []) {
      const name = new NamesOf(style).get(style, 'style:name') ?? '';
      if (/^Gable\d+$/.test(name) && uses(within, name) > 0 && uses(text, name) === uses(within, name))
        splice.replace(style, '');
    }
  }
  return [...taken].map(([n, own]) => ({ n, ...besideOf(n, own) })).sort((a, b) => a.n - b.n);
}

/** @param more attributes that tie it to a text, and that tell what it is */
function newShape(
  n: Names,
  item: FramedItem,
  styles: Target,
  { tie, told: known }: { tie: string; told: string } = { tie: '', told: '' },
): string {
  const { fill, text, alt, shadow, turn, flip } = item;
  const done = toNative(frameOfBlock(item, { box: item.at.box, turn, flip }), item.at.box, false);
  const paint = oneColour(item);
  // In a text plain words stand in a frame of its own, as they do there (§10.4.3, draw:text-box).
  const veil = isVeil(fill) ? fill : null;
  const href = veil ? styles.hrefOf(item.id) : undefined;
  const isBox = tie !== '' && text !== null && href === undefined && isPlainBox(item);
  const background = isBox && paint ? ([['fo:background-color', paint.colour]] as const) : [];
  const style = styleOf(styles, 'graphic', [
    ...fillProperties(paint, href === undefined ? null : styles.styles.fillImage(href)),
    ...background,
    ...(isBox ? ([['fo:border', 'none']] as const) : strokeProperties(done.frame.outline, styles.styles)),
    ...shadowProperties(shadow),
    ...(text ? wordsProperties(text) : []),
    ...(item.at.on === 'anchor' ? anchorProperties(item.at.anchor ?? BESIDE_TEXT) : []),
  ]);
  const words = text?.paragraphs.map((p) => paragraphText(n, p, styles)).join('') ?? '';
  const described = alt ? `<${n.of('svg:desc')}${n.declare('svg')}>${escapeText(alt)}</${n.of('svg:desc')}>` : '';
  const tag = n.of(isBox ? 'draw:frame' : 'draw:custom-shape');
  const name = item.name ? ` ${n.of('draw:name')}="${escapeXml(item.name)}"` : '';
  // That it is one is told beside its picture.
  const told =
    veil && href !== undefined
      ? ` xmlns:gable-veil="${VEIL_NAMESPACE}" gable-veil:veil="${escapeXml(encodeVeil(veil))}"`
      : '';
  const box = n.of('draw:text-box');
  const inner = isBox ? `<${box}>${words}</${box}>${described}` : `${described}${words}${writeGeometry(done, n)}`;
  return (
    `<${tag}${n.declare('draw', 'svg', 'text')} ${n.of('draw:style-name')}="${style}"${name}${tie}${told}${known}${placeAttributes(n, done.frame)}>` +
    `${inner}</${tag}>`
  );
}

/** The colour that an item is filled with; null where it is not. @throws GableError `cannot-write` for a gradient */
export function oneColour({ id, fill }: FramedItem): Extract<Paint, { kind: 'solid' }> | null {
  if (fill?.kind !== 'paint') return null;
  if (fill.paint.kind === 'solid') return fill.paint;
  throw new GableError(
    'cannot-write',
    'A block in a gradient cannot be written into this kind of file.',
    'Give it one colour.',
    { id },
  );
}

/** One colour, a picture that is as large as the shape, or nothing (§20.103, draw:fill). */
export function fillProperties(paint: Extract<Paint, { kind: 'solid' }> | null, image: string | null): Properties {
  if (image !== null)
    return [
      ['draw:fill', 'bitmap'],
      ['draw:fill-image-name', image],
      ['style:repeat', 'stretch'],
    ];
  if (!paint) return [['draw:fill', 'none']];
  return [
    ['draw:fill', 'solid'],
    ['draw:fill-color', paint.colour],
    ['draw:opacity', `${trimNumber(paint.opacity * 100, 3)}%`],
  ];
}

/** A rectangle with words, and no line of its own. */
const isPlainBox = ({ shape, seat, turn, flip, outline }: FramedItem): boolean =>
  shape.name === 'rectangle' &&
  Object.keys(shape.knobs).length === 0 &&
  equal(seat, FULL_SEAT) &&
  turn === 0 &&
  !flip.horizontal &&
  !flip.vertical &&
  outline === null;

/** How words stand in a shape (§20.136, draw:textarea-vertical-align; §20.210, fo:padding): nothing grows by itself. */
const wordsProperties = ({ anchor, inset }: Text): Properties => [
  ['draw:textarea-vertical-align', anchor],
  ['draw:textarea-horizontal-align', 'justify'],
  ['draw:auto-grow-height', 'false'],
  ['draw:auto-grow-width', 'false'],
  ['fo:wrap-option', 'wrap'],
  ['fo:padding-top', writeLength(inset.top)],
  ['fo:padding-right', writeLength(inset.right)],
  ['fo:padding-bottom', writeLength(inset.bottom)],
  ['fo:padding-left', writeLength(inset.left)],
];

export const ALIGN: Record<Paragraph['align'], string> = {
  start: 'start',
  centre: 'center',
  end: 'end',
  justify: 'justify',
};

export function paragraphText(n: Names, { align, runs, bullet, indent, spacing }: Paragraph, styles: Target): string {
  const style = styleOf(styles, 'paragraph', [
    ['fo:text-align', ALIGN[align]],
    ['fo:margin-left', writeLength(indent?.left ?? 0)],
    ['fo:text-indent', writeLength(indent?.first ?? 0)],
    ['fo:margin-top', writeLength(spacing?.before ?? 0)],
    ['fo:margin-bottom', '0pt'],
    ...(spacing ? ([['fo:line-height', `${trimNumber(spacing.lines * 100, 2)}%`]] as const) : []),
  ]);
  const tag = n.of('text:p');
  const mark = bullet && runs[0] ? [{ ...runs[0], text: `${bullet} ` }] : [];
  const inner = [...mark, ...runs].map((r) => runText(n, r, styles)).join('');
  return `<${tag} ${n.of('text:style-name')}="${style}">${inner}</${tag}>`;
}

/** How a run says what it looks like, but for a line beneath it (§20.2, text-properties). */
export const RUN_LOOKS: Readonly<
  Record<'paint' | 'size' | 'font' | 'weight' | 'italic', (run: Run) => readonly [string, string]>
> = {
  paint: ({ paint }) => ['fo:color', (paint.kind === 'solid' ? paint : paint.stops[0]!).colour],
  size: ({ size }) => ['fo:font-size', `${trimNumber(size, 3)}pt`],
  font: ({ font }) => ['fo:font-family', `'${font.replaceAll("'", '')}'`],
  weight: ({ weight }) => ['fo:font-weight', weight >= 600 ? 'bold' : 'normal'],
  italic: ({ italic }) => ['fo:font-style', italic ? 'italic' : 'normal'],
};

function runText(n: Names, run: Run, styles: Target): string {
  const { text, font, underline } = run;
  const style = styleOf(styles, 'text', [
    RUN_LOOKS.paint(run),
    RUN_LOOKS.size(run),
    ...(font ? [RUN_LOOKS.font(run)] : []),
    RUN_LOOKS.weight(run),
    RUN_LOOKS.italic(run),
    ...(underline
      ? ([
          ['style:text-underline-style', 'solid'],
          ['style:text-underline-width', 'auto'],
          ['style:text-underline-color', 'font-color'],
        ] as const)
      : []),
  ]);
  // Several spaces, and one at an end, would count as one, or none (§6.1.2, white space).
  const spaced = (words: string): string => escapeText(words).replace(/^ | (?= )| $/g, () => `<${n.of('text:s')}/>`);
  const inner = text
    .split('\n')
    .map(spaced)
    .join(`<${n.of('text:line-break')}/>`);
  return `<${n.of('text:span')} ${n.of('text:style-name')}="${style}">${inner}</${n.of('text:span')}>`;
}
