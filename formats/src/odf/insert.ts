import { GableError, type Size } from '@gable/core';
import {
  noSuchBlock,
  noSuchCell,
  noSuchPage,
  noSuchPlace,
  type Block,
  type Floating,
  type NewPicture,
  type NewPlace,
} from '../codec/contract';
import { behindLetters, lettersIn, stretchesOf, type Stretch } from '../xml/letters';
import type { Element } from '../xml/located';
import { escapeXml, type Splice } from '../xml/splice';
import { anchorProperties } from './anchor';
import { is, Names, writeLength } from './names';

/** What texts are counted by: paragraphs, headings, lists, tables, sections (ODF 1.2 Part 1 §4). */
const isBlock = (e: Element): boolean =>
  is(e, 'text', 'p', 'h', 'list', 'section', 'numbered-paragraph') || is(e, 'table', 'table');
/** What must stand behind the shapes of a page (§10.2.4, draw:page). */
export const isBehindShapes = (e: Element): boolean =>
  is(e, 'presentation', 'animations', 'notes') || /^(par|seq|animate)/.test(e.local);

/** Shapes that may stand in a text, and hold words (§10.3). */
const SHAPES =
  'rect line polyline polygon regular-polygon path circle ellipse g caption connector measure custom-shape'.split(' ');
/** What floats in a paragraph, and what is said about it elsewhere, is no part of its words. */
const isAside = (e: Element): boolean =>
  is(e, 'draw', 'frame', ...SHAPES) || is(e, 'office', 'annotation') || is(e, 'text', 'note');

/** What blocks stand in: a cell of a table (§9.1.4, table:table-cell), the words of a text box (§10.4.3, draw:text-box). */
const isHolder = (e: Element): boolean => is(e, 'table', 'table-cell') || is(e, 'draw', 'text-box');

/** The cells and text boxes of a text, in their order. */
const holdersIn = (e: Element): Element[] => e.children.flatMap((c) => [...(isHolder(c) ? [c] : []), ...holdersIn(c)]);

/** The blocks of a text, those of its cells and text boxes behind the blocks that these are in. @param body `office:text` @param text of its part */
export const blocksOf = (body: Element, text: string): Block[] =>
  blockElements(body).map(({ element, ...holder }) => ({ words: lettersIn(text, lettersOf(element)), ...holder }));

/** The elements of the blocks of a text, in their order. */
export function blockElements(body: Element): ({ element: Element } & Pick<Block, 'in' | 'within'>)[] {
  const order = new Map(holdersIn(body).map((e, i) => [e, i]));
  const out: ({ element: Element } & Pick<Block, 'in' | 'within'>)[] = [];
  const visit = (e: Element, of: Pick<Block, 'in' | 'within'> | null): void => {
    const own = order.get(e);
    const holder = own === undefined ? of : ({ in: is(e, 'draw', 'text-box') ? 'box' : 'cell', within: own } as const);
    for (const c of e.children) {
      if (holder && isBlock(c)) out.push({ element: c, ...holder });
      visit(c, null);
    }
  };
  visit(body, { in: 'text', within: null });
  return out;
}

/** The text, or one of its cells and text boxes. @throws GableError `no-such-page`, `cannot-write` */
function holderAt(body: Element, within: number | null): Element {
  if (within === null) return body;
  const holders = holdersIn(body);
  const found = holders[within];
  if (!found) throw noSuchCell(within, holders.length);
  const n = new Names(found);
  const times =
    n.get(found, 'table:number-columns-repeated') ?? n.get(found.parent ?? undefined, 'table:number-rows-repeated');
  if (Number(times ?? 1) > 1)
    throw new GableError(
      'cannot-write',
      'This cell stands for several that are alike.',
      'Write something into it in the program that the file was made with, then put the picture in.',
    );
  return found;
}

/** The letters of a paragraph's own words: not those of what floats in it. */
function lettersOf(e: Element): Stretch[] {
  const parts: Stretch[] = [];
  const own = stretchesOf(e);
  for (const [i, stretch] of own.entries()) {
    parts.push(stretch);
    const next = e.children[i];
    if (next && !isAside(next)) parts.push(...lettersOf(next));
  }
  return parts;
}

/** A picture that comes into a content, with its data's address in the package. */
export interface Coming extends Pick<NewPicture, 'place' | 'alt'> {
  href: string;
  /** The text of the part. */
  text: string;
  /** Of the drawing: no other has it. */
  name: string;
  /** A new automatic style of the content. @returns its name */
  style(write: (name: string, names: Names) => string): string;
}

/**
 * Puts a plain picture into the body of a content.
 * @param body `office:text` or `office:spreadsheet`
 * @returns where in the text of the part it stands
 * @throws GableError `no-such-page`
 */
export function insertFrame(splice: Splice, body: Element, coming: Coming): number {
  const { place } = coming;
  if (place.in === 'text') return insertInText(splice, body, coming, place);
  if (place.in === 'cell') return insertAtCell(splice, body, coming, place);
  throw noSuchPlace();
}

type At<K extends NewPlace['in']> = Extract<NewPlace, { in: K }>;

function insertInText(splice: Splice, root: Element, coming: Coming, place: At<'text'>): number {
  const { after, within, letters, size, floats } = place;
  const body = holderAt(root, within);
  const blocks = body.children.filter(isBlock);
  if (after > blocks.length) throw noSuchBlock(after, blocks.length);
  const n = new Names(body);
  if (floats) return insertBeside(splice, body, coming, { tied: blocks[after - 1], next: blocks[after], size, floats });
  const frame = frameText(n, coming, size, ` ${n.of('text:anchor-type')}="as-char"`);
  const last = blocks[after - 1];
  if (letters !== null && last && is(last, 'text', 'p', 'h')) {
    const found = behindLetters(coming.text, lettersOf(last), letters);
    if (!found) splice.append(last, frame);
    else splice.at(found.place, frame);
    return found?.place ?? last.closeStart;
  }
  const paragraph = `<${n.of('text:p')}${n.declare('text')}>${frame}</${n.of('text:p')}>`;
  const next = blocks[after];
  if (next) splice.before(next, paragraph);
  else splice.append(body, paragraph);
  return next?.start ?? body.closeStart;
}

interface Beside {
  tied: Element | undefined;
  next: Element | undefined;
  size: Size;
  floats: Floating;
}

/** Right behind a frame or a shape that is there, as that stands. @returns where it stands */
export function insertBehind(
  splice: Splice,
  element: Element,
  coming: Omit<Coming, 'place'>,
  { size, floats }: Pick<At<'beside'>, 'size' | 'floats'>,
): number {
  const whole = frameAlone(element);
  const n = new Names(element);
  const as = n.get(element, 'text:anchor-type');
  const tie = as === undefined || as === 'as-char' ? 'paragraph' : as;
  const number = n.get(element, 'text:anchor-page-number');
  const on = tie === 'page' && number !== undefined ? ` ${n.of('text:anchor-page-number')}="${number}"` : '';
  const spot = floats && `${n.of('svg:x')}="${writeLength(floats.x)}" ${n.of('svg:y')}="${writeLength(floats.y)}"`;
  const more = floats
    ? ` ${n.of('draw:style-name')}="${coming.style((name, names) => floatingStyle(name, names, floats))}" ${n.of('text:anchor-type')}="${tie}"${on} ${spot}`
    : ` ${n.of('text:anchor-type')}="as-char"`;
  splice.at(whole.end, frameText(n, coming, size, more));
  return whole.end;
}

/** A frame beside the text (§19.753, text:anchor-type), tied to a paragraph that is there, before its words, in front of those that float there already (§19.258, draw:z-index). */
function insertBeside(splice: Splice, body: Element, coming: Coming, { tied, next, size, floats }: Beside): number {
  const n = new Names(body);
  const style = coming.style((name, names) => floatingStyle(name, names, floats));
  const at = `${n.of('svg:x')}="${writeLength(floats.x)}" ${n.of('svg:y')}="${writeLength(floats.y)}"`;
  const more = ` ${n.of('draw:style-name')}="${style}" ${n.of('text:anchor-type')}="paragraph" ${at}`;
  const frame = frameText(n, coming, size, more);
  if (tied && is(tied, 'text', 'p', 'h')) {
    const there = floatingFirst(tied);
    if (!there) return beginWith(splice, tied, frame);
    splice.at(there.end, frame);
    return there.end;
  }
  const paragraph = `<${n.of('text:p')}${n.declare('text')}>${frame}</${n.of('text:p')}>`;
  if (next) splice.before(next, paragraph);
  else splice.append(body, paragraph);
  return next?.start ?? body.closeStart;
}

/** The last of the frames and shapes beside the text that a paragraph begins with. */
export function floatingFirst(paragraph: Element): Element | undefined {
  const n = new Names(paragraph);
  let last: Element | undefined;
  for (const child of paragraph.children) {
    const tie = n.get(child, 'text:anchor-type');
    if (child.start !== (last?.end ?? paragraph.openEnd) || tie === undefined || tie === 'as-char') break;
    last = child;
  }
  return last;
}

/** Puts something before all words of a paragraph: what precedes its first child is its own, too. @returns where it stands */
export function beginWith(splice: Splice, paragraph: Element, xml: string): number {
  const open = splice
    .source(paragraph)
    .slice(0, paragraph.openEnd - paragraph.start)
    .replace(/\s*\/>$/, '>');
  splice.retag(paragraph, `${open}${xml}`, `</${paragraph.name}>`);
  return paragraph.openEnd;
}

/** A style for a frame beside a text. */
export function floatingStyle(name: string, n: Names, floats: Floating): string {
  const properties = anchorProperties(floats)
    .map(([key, value]) => ` ${n.of(key)}="${value}"`)
    .join('');
  return `<${n.of('style:style')}${n.declare('style', 'fo')} ${n.of('style:name')}="${name}" ${n.of('style:family')}="graphic"><${n.of('style:graphic-properties')}${properties}/></${n.of('style:style')}>`;
}

function insertAtCell(splice: Splice, body: Element, coming: Coming, place: At<'cell'>): number {
  const sheets = body.children.filter((e) => is(e, 'table', 'table'));
  const sheet = sheets[place.page - 1];
  if (!sheet) throw noSuchPage(place.page, sheets.length);
  const n = new Names(sheet);
  const spot = ` ${n.of('svg:x')}="${writeLength(place.dx)}" ${n.of('svg:y')}="${writeLength(place.dy)}"`;
  const frame = (at: Names): string => frameText(at, coming, place.size, spot);
  const cell = n.of('table:table-cell');
  const filled = `<${cell}>${frame(n)}</${cell}>`;
  const repeated = (name: string, times: number): string => (times > 1 ? ` ${n.of(name)}="${times}"` : '');
  const gap = (times: number): string =>
    times > 0 ? `<${cell}${repeated('table:number-columns-repeated', times)}/>` : '';
  const rows = rowsOf(sheet, n);
  const found = rows.find((r) => place.row < r.from + r.times);
  if (!found) {
    // Beyond the last row: empty ones come between.
    const row = n.of('table:table-row');
    const end = rows.at(-1);
    const between = place.row - (end ? end.from + end.times : 0);
    const empty = between > 0 ? `<${row}${repeated('table:number-rows-repeated', between)}>${gap(1)}</${row}>` : '';
    splice.append(sheet, `${empty}<${row}>${gap(place.column)}${filled}</${row}>`);
    return sheet.closeStart;
  }
  const cells = partsOf(
    found.element.children.filter((c) => is(c, 'table', 'table-cell', 'covered-table-cell')),
    n,
    'table:number-columns-repeated',
  );
  const held = cells.find((c) => place.column < c.from + c.times);
  // A cell that stands for itself alone in a row that does, too, is filled where it stands.
  if (found.times === 1 && held?.times === 1) {
    splice.append(held.element, frame(new Names(held.element)));
    return held.element.closeStart;
  }
  const ofRow = splice.source(found.element);
  const open = ofRow.slice(0, found.element.openEnd - found.element.start);
  const inner = (): string => {
    const begin = found.element.openEnd;
    const last = cells.at(-1);
    const end = last ? last.from + last.times : 0;
    const text = (from: number, to: number): string =>
      ofRow.slice(from - found.element.start, to - found.element.start);
    if (!held) return `${text(begin, found.element.closeStart)}${gap(place.column - end)}${filled}`;
    const one = text(held.element.start, held.element.end);
    const [before, behind] = [place.column - held.from, held.from + held.times - place.column - 1];
    const piece = (times: number): string =>
      times > 0 ? withTimes(one, held.element, n.of('table:number-columns-repeated'), times) : '';
    const alone = withTimes(one, held.element, n.of('table:number-columns-repeated'), 1);
    const own = alone.endsWith('/>')
      ? `${alone.replace(/\s*\/>$/, '>')}${frame(n)}</${held.element.name}>`
      : alone.replace(/<\/[^<]*>$/, (close) => frame(n) + close);
    return (
      text(begin, held.element.start) +
      piece(before) +
      own +
      piece(behind) +
      text(held.element.end, found.element.closeStart)
    );
  };
  const times = n.of('table:number-rows-repeated');
  const [above, below] = [place.row - found.from, found.from + found.times - place.row - 1];
  const copy = (count: number): string => (count > 0 ? withTimes(ofRow, found.element, times, count) : '');
  const opened = withTimes(open, found.element, times, 1).replace(/\s*\/>$/, '>');
  splice.replace(found.element, `${copy(above)}${opened}${inner()}</${found.element.name}>${copy(below)}`);
  // Cells before it keep what stands in them.
  return held?.element.start ?? found.element.closeStart;
}

/** An element as text, standing for so many of its kind. */
function withTimes(text: string, { start, openEnd }: Element, name: string, times: number): string {
  const end = openEnd - start - 1;
  const tag = text.slice(0, end).replace(new RegExp(`\\s+${name}\\s*=\\s*("[^"]*"|'[^']*')`), '');
  const close = /\s*\/$/.exec(tag)?.[0] ?? '';
  const open = close ? tag.slice(0, -close.length) : tag;
  return `${open}${times > 1 ? ` ${name}="${times}"` : ''}${close}${text.slice(end)}`;
}

interface Part {
  element: Element;
  from: number;
  times: number;
}

function partsOf(elements: readonly Element[], n: Names, name: string): Part[] {
  let from = 0;
  return elements.map((element) => {
    const times = Math.max(1, Number(n.get(element, name) ?? 1) || 1);
    const part = { element, from, times };
    from += times;
    return part;
  });
}

/** The rows of a sheet, those in groups too. */
function rowsOf(sheet: Element, n: Names): Part[] {
  const rows: Element[] = [];
  const visit = (e: Element): void => {
    if (is(e, 'table', 'table-row')) rows.push(e);
    else if (/^table-(rows|header-rows|row-group)$/.test(e.local)) e.children.forEach(visit);
  };
  sheet.children.forEach(visit);
  return partsOf(rows, n, 'table:number-rows-repeated');
}

/** A frame with a picture (§10.4.2, draw:frame; §10.4.4, draw:image). @param more attributes of its place */
export function frameText(
  n: Names,
  { href, name, alt }: Pick<Coming, 'href' | 'name' | 'alt'>,
  { width, height }: Size,
  more: string,
): string {
  const size = `${n.of('svg:width')}="${writeLength(width)}" ${n.of('svg:height')}="${writeLength(height)}"`;
  const link = `${n.of('xlink:href')}="${escapeXml(href)}" ${n.of('xlink:type')}="simple" ${n.of('xlink:show')}="embed" ${n.of('xlink:actuate')}="onLoad"`;
  const desc = alt ? `<${n.of('svg:desc')}>${escapeXml(alt)}</${n.of('svg:desc')}>` : '';
  return `<${n.of('draw:frame')}${n.declare('draw', 'svg', 'xlink', 'text')} ${n.of('draw:name')}="${escapeXml(name)}"${more} ${size}><${n.of('draw:image')} ${link}/>${desc}</${n.of('draw:frame')}>`;
}

/** All of a frame that is removed: in a text its paragraph stays. */
export const frameAlone = (element: Element): Element => {
  const link = element.parent;
  return link && is(link, 'draw', 'a') && link.children.length === 1 ? link : element;
};

/** Names for new drawings, one after the other: no drawing of these parts has them. */
export function freeNames(...roots: Element[]): () => string {
  const taken = new Set<string | undefined>();
  const visit = (e: Element): void => {
    if (e.local === 'frame') taken.add(new Names(e).get(e, 'draw:name'));
    e.children.forEach(visit);
  };
  roots.forEach(visit);
  let i = 0;
  return () => {
    do i++;
    while (taken.has(`Picture ${i}`));
    return `Picture ${i}`;
  };
}
