import { documentOfPictures, frameOfBlock, GableError, trimNumber, type FramedItem, type Text } from '@gable/core';
import { memberOf } from '../codec/arrange';
import type { Around, Opened } from '../codec/contract';
import { toNative } from '../equivalents/offset-outline';
import type { Element } from '../xml/located';
import { escapeText, escapeXml, type Splice } from '../xml/splice';
import { writeGeometry } from './enhanced-geometry';
import { isBehindShapes } from './insert';
import { is, writeLength, type Names, Names as NamesOf } from './names';
import { placeAttributes, shadowProperties, strokeProperties, type StyleWriter } from './write-frame';

type Paragraph = Text['paragraphs'][number];
type Run = Paragraph['runs'][number];
type Properties = readonly (readonly [string, string])[];

const PART = 'content.xml';

/** What words and blocks are put into. */
interface Pages {
  splice: Splice;
  styles: StyleWriter;
  /** `office:presentation` or `office:drawing` */
  body: Element;
  file: Pick<Opened, 'pictures' | 'sheets' | 'layers' | 'stories'>;
  elementOf(id: string): Element | undefined;
}

/** Puts words and blocks on pages, among what lies there: custom shapes with words (ODF 1.2 Part 1 §10.6.1, draw:custom-shape). */
export function putAround({ splice, styles, body, file, elementOf }: Pages, around: readonly Around[]): void {
  const pages = body.children.filter((e) => is(e, 'draw', 'page'));
  const document = documentOfPictures(file.pictures, file);
  for (const { page, index, items } of around) {
    const at = pages[page - 1]!;
    const n = new NamesOf(at);
    const xml = items.map((item) => newShape(n, item, styles)).join('');
    const next = elementOf(document.pages[page - 1]?.items[index] ?? '');
    const before = next ? memberOf(at, next) : at.children.find(isBehindShapes);
    if (before) splice.before(before, xml);
    else splice.append(at, xml);
  }
}

const attributes = (n: Names, properties: Properties): string =>
  properties.map(([name, value]) => ` ${n.of(name)}="${escapeXml(value)}"`).join('');

/** An automatic style with properties of one kind. */
const styleOf = (styles: StyleWriter, family: 'graphic' | 'paragraph' | 'text', properties: Properties): string =>
  styles.style(
    PART,
    (name, n) =>
      `<${n.of('style:style')}${n.declare('style', 'draw', 'svg', 'fo')} ${n.of('style:name')}="${name}" ${n.of('style:family')}="${family}">` +
      `<${n.of(`style:${family}-properties`)}${attributes(n, properties)}/></${n.of('style:style')}>`,
  );

function newShape(n: Names, item: FramedItem, styles: StyleWriter): string {
  const { fill, text, alt, shadow, turn, flip } = item;
  const done = toNative(frameOfBlock(item, { box: item.at.box, turn, flip }), item.at.box, false);
  const paint = fill?.kind === 'paint' ? fill.paint : null;
  if (paint && paint.kind !== 'solid')
    throw new GableError(
      'cannot-write',
      'A block in a gradient cannot be written into this kind of file.',
      'Give it one colour.',
      {
        id: item.id,
      },
    );
  const style = styleOf(styles, 'graphic', [
    ...(paint
      ? ([
          ['draw:fill', 'solid'],
          ['draw:fill-color', paint.colour],
          ['draw:opacity', `${trimNumber(paint.opacity * 100, 3)}%`],
        ] as const)
      : ([['draw:fill', 'none']] as const)),
    ...strokeProperties(done.frame.outline, styles),
    ...shadowProperties(shadow),
    ...(text ? wordsProperties(text) : []),
  ]);
  const words = text?.paragraphs.map((p) => paragraphText(n, p, styles)).join('') ?? '';
  const described = alt ? `<${n.of('svg:desc')}${n.declare('svg')}>${escapeText(alt)}</${n.of('svg:desc')}>` : '';
  const tag = n.of('draw:custom-shape');
  const name = item.name ? ` ${n.of('draw:name')}="${escapeXml(item.name)}"` : '';
  return (
    `<${tag}${n.declare('draw', 'svg', 'text')} ${n.of('draw:style-name')}="${style}"${name}${placeAttributes(n, done.frame)}>` +
    `${described}${words}${writeGeometry(done, n)}</${tag}>`
  );
}

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

const ALIGN: Record<Paragraph['align'], string> = { start: 'start', centre: 'center', end: 'end', justify: 'justify' };

function paragraphText(n: Names, { align, runs, bullet, indent, spacing }: Paragraph, styles: StyleWriter): string {
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

function runText(n: Names, { text, font, size, weight, italic, underline, paint }: Run, styles: StyleWriter): string {
  const { colour } = paint.kind === 'solid' ? paint : paint.stops[0]!;
  const style = styleOf(styles, 'text', [
    ['fo:color', colour],
    ['fo:font-size', `${trimNumber(size, 3)}pt`],
    ...(font ? ([['fo:font-family', `'${font.replaceAll("'", '')}'`]] as const) : []),
    ['fo:font-weight', weight >= 600 ? 'bold' : 'normal'],
    ['fo:font-style', italic ? 'italic' : 'normal'],
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
