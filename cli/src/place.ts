import {
  alignAt,
  ANCHORS,
  anchorWith,
  GableError,
  ON_PAGE,
  WRAP_SIDES,
  parseLength,
  plainWords,
  roomFor,
  targetsOf,
  type Anchor,
  type Box,
  type Document,
  type Holder,
  type Position,
  type Size,
} from '@gable/core';
import { CAPABILITIES, type Block, type Source } from '@gable/formats';

/** Where a picture goes, as typed. */
export interface PlaceOptions {
  page?: string | undefined;
  at?: string | undefined;
  after?: string | undefined;
  behind?: string | undefined;
  cell?: string | undefined;
  into?: string | undefined;
  follows?: string | undefined;
  wrap?: string | undefined;
  from?: string | undefined;
  distance?: string | undefined;
  header?: boolean | undefined;
  footer?: boolean | undefined;
  first?: boolean | undefined;
  align?: string | undefined;
  sides?: string | undefined;
  lock?: boolean | undefined;
}

const refused = (message: string, remedy: string): GableError => new GableError('bad-place', message, remedy);

/** `20mm,30mm` from the top left, in points. @throws GableError `bad-place`, `bad-length` */
function parsePoint(text: string): { x: number; y: number } {
  const [x, y, ...more] = text.split(',').map((p) => p.trim());
  if (!x || !y || more.length > 0)
    throw refused(`“${text}” is not a place.`, 'Write how far from the left and from the top, such as 20mm,30mm.');
  return { x: parseLength(x), y: parseLength(y) };
}

/** `B4` as column and row from 0. @throws GableError `bad-place` */
export function parseCell(text: string): { column: number; row: number } {
  const [, letters, digits] = /^\s*\$?([a-z]{1,3})\$?([1-9]\d{0,6})\s*$/i.exec(text) ?? [];
  if (!letters || !digits) throw refused(`“${text}” is not a cell.`, 'Write its column and row, such as B4.');
  const column = [...letters.toUpperCase()].reduce((sum, c) => sum * 26 + c.charCodeAt(0) - 64, 0) - 1;
  return { column, row: Number(digits) - 1 };
}

function pageOf(text: string | undefined, pages: number): number {
  const page = text === undefined ? 1 : Number(text);
  if (Number.isInteger(page) && page >= 1 && page <= pages) return page;
  throw new GableError('no-such-page', `There is no page ${text}.`, `The file has ${pages}.`);
}

interface TextPlace {
  after: number;
  within?: number;
  letters?: number;
}

const bare = (text: string): string => text.replace(/\s+/g, '').toLowerCase();

/**
 * Behind the first paragraph that holds some words, in its cell or text box; without words behind all of the text.
 * @param behind among its letters, right behind the words
 */
function placeInText(blocks: readonly Block[], words: string | undefined, behind: boolean): TextPlace {
  const own = (within: number | null): Block[] => blocks.filter((b) => b.within === within);
  if (words === undefined) return { after: own(null).length };
  const said = bare(words);
  const holds = (b: Block | undefined): boolean => said !== '' && b !== undefined && bare(b.words).includes(said);
  let at = blocks.findIndex(holds);
  if (at < 0) throw refused(`No paragraph has the words “${words}”.`, 'Write a few words as the file has them.');
  // A table has the words of its cells: the paragraph in the cell is meant.
  for (let i = at + 1; i < blocks.length && blocks[i]!.within !== blocks[at]!.within; i++) if (holds(blocks[i])) at = i;
  const { within, words: text } = blocks[at]!;
  const after = 1 + own(within).indexOf(blocks[at]!);
  const letters = [...bare(text).slice(0, bare(text).indexOf(said) + said.length)].length;
  return { after, ...(within !== null && { within }), ...(behind && { letters }) };
}

/** What each kind of place is named by; anything else is refused, so that nothing typed is passed over. */
const NAMED_BY = {
  text: ['after', 'behind', 'wrap', 'at', 'from', 'distance', 'align', 'sides', 'lock'],
  web: ['page', 'after'],
  page: ['page', 'at', 'into'],
  front: ['page', 'at', 'into'],
  cell: ['page', 'cell', 'follows', 'into'],
} as const;

/**
 * Where a picture of a size comes to stand in a file.
 * @returns the list it goes into, in front of all that is there, and its place
 * @throws GableError `bad-place`, `no-such-page`
 */
export function placeFor(file: Source, options: PlaceOptions, size: Size): { holder: Holder; at: Position } {
  if (options.header || options.footer) return inMargin(file, options, size);
  const kind = CAPABILITIES[file.format].insert;
  for (const [name, value] of Object.entries(options))
    if (value !== undefined && !(NAMED_BY[kind] as readonly string[]).includes(name))
      throw refused(
        `--${name} is no place in this kind of file (${file.format}).`,
        `Use ${NAMED_BY[kind].map((n) => `--${n}`).join(', ')}.`,
      );
  const { document } = file;
  const box = { x: 0, y: 0, ...size };
  if (kind === 'text' || kind === 'web') {
    const stories = document.stories.filter((s) => s.kind === 'body');
    const page = pageOf(options.page, kind === 'web' ? stories.length : 1);
    const holder = { story: stories[page - 1]!.id };
    const { after: below, behind } = options;
    if (below !== undefined && behind !== undefined)
      throw refused('A picture has one place.', 'Give --after or --behind.');
    const place = placeInText(file.blocks!(page), below ?? behind, behind !== undefined);
    if (kind === 'web') return { holder, at: { on: 'element', box, after: place.after } };
    return { holder, at: inText(options, size, place) };
  }
  const page = document.pages[pageOf(options.page, document.pages.length) - 1]!;
  const holder = { page: page.id };
  if (options.into !== undefined) {
    if (options.at !== undefined || options.cell !== undefined)
      throw refused('A picture has one place.', `Give --into or --${options.at === undefined ? 'cell' : 'at'}.`);
    return { holder, at: { on: 'page', box: shapeOn(document, page, options.into), fills: true } };
  }
  if (kind === 'cell') {
    const { follows = 'place' } = options;
    if (!['nothing', 'place', 'size'].includes(follows))
      throw refused(`“${follows}” does not say what follows the cells.`, 'Choose nothing, place or size.');
    const start = { ...parseCell(options.cell ?? 'A1'), dx: 0, dy: 0 };
    const cells = { start, end: null, moves: follows !== 'nothing', sizes: follows === 'size' };
    return { holder, at: { on: 'cells', box, cells } };
  }
  const middle = { x: (page.size.width - size.width) / 2, y: (page.size.height - size.height) / 2 };
  return {
    holder,
    at: { on: 'page', box: { ...box, ...(options.at === undefined ? middle : parsePoint(options.at)) } },
  };
}

/** The box of an empty placeholder, or of the shape with these words. @throws GableError `bad-place` */
function shapeOn(document: Document, page: Document['pages'][number], words: string): Box {
  const plain = (text: string): string => text.replace(/\s+/g, ' ').trim().toLowerCase();
  const targets = targetsOf(document, page).flatMap(({ item, box }) =>
    item.kind !== 'framed'
      ? []
      : [
          {
            box,
            empty: item.awaits === 'picture',
            words: plainWords(item.text).toLowerCase(),
          },
        ],
  );
  const found =
    words === 'placeholder'
      ? targets.find((t) => t.empty)
      : targets.find((t) => plain(words) !== '' && t.words.includes(plain(words)));
  if (found) return found.box;
  throw refused(
    words === 'placeholder'
      ? 'The page has no empty placeholder.'
      : `No painted shape of the page has the words “${words}”.`,
    targets.length > 0
      ? `Write “placeholder”, or words of a shape; the page has ${targets.length} that can take a picture.`
      : 'No shape of this page can take a picture. Give a place by --at.',
  );
}

/** Into a page header or footer: beside what stands there, or at a place of the page. */
function inMargin(
  { document, putInMargin }: Source,
  { header, footer, first = false, at, align = 'left', ...others }: PlaceOptions,
  size: Size,
): { holder: Holder; at: Position } {
  const into = footer ? 'footer' : 'header';
  if (header && footer) throw refused('A picture has one place.', 'Give --header or --footer.');
  const stranger = Object.entries(others).find(([, value]) => value !== undefined);
  if (stranger) throw refused(`--${stranger[0]} is no place in a ${into}.`, `Leave it out, or --${into}.`);
  if (!putInMargin)
    throw new GableError(
      'no-margin',
      'Only text documents (.docx, .odt) get pictures in their headers and footers.',
      'Give another place.',
    );
  if (align !== 'left' && align !== 'center' && align !== 'right')
    throw refused(`“${align}” is no alignment.`, 'Choose left, center or right.');
  const box = { ...(at === undefined ? { x: 0, y: 0 } : parsePoint(at)), ...size };
  return {
    holder: { story: document.stories[0]!.id },
    at: {
      ...{ on: 'margin', box, into, pages: first ? 'first' : 'all', align, gap: null },
      ...(at !== undefined && { anchor: ON_PAGE }),
    },
  };
}

/** Text round a picture, and whether that lies behind the text. */
const WRAPS: Readonly<Record<string, Pick<Anchor, 'wrap' | 'behind'>>> = {
  square: { wrap: 'square', behind: false },
  tight: { wrap: 'tight', behind: false },
  through: { wrap: 'through', behind: false },
  'top-bottom': { wrap: 'top-bottom', behind: false },
  front: { wrap: 'none', behind: false },
  behind: { wrap: 'none', behind: true },
};
/** What a place counts from. */
const FROM: Readonly<Record<string, Anchor['from']>> = {
  page: { x: 'page', y: 'page' },
  margin: { x: 'margin', y: 'margin' },
  column: { x: 'column', y: 'paragraph' },
  character: { x: 'character', y: 'line' },
};

/** Where the anchor's place counts from is aligned by one of nine places. @throws GableError `bad-place` */
function alignOf(text: string): NonNullable<Anchor['align']> {
  if (!ANCHORS.some((a) => a === text)) throw refused(`“${text}” is no alignment.`, `Choose ${ANCHORS.join(', ')}.`);
  return alignAt(text as (typeof ANCHORS)[number]);
}

function inText(options: PlaceOptions, size: Size, place: TextPlace): Position {
  const { wrap = 'inline', at, from, distance, align, sides = 'both', lock } = options;
  const { letters, ...block } = place;
  if (wrap === 'inline') {
    const beside = { at, from, distance, align, sides: options.sides, lock };
    const given = Object.entries(beside).find(([, value]) => value !== undefined);
    if (given)
      throw refused(
        `--${given[0]} is for pictures beside the text.`,
        `Add --wrap ${Object.keys(WRAPS).join('|')}, or leave it out.`,
      );
    return { on: 'line', box: { x: 0, y: 0, ...size }, ...place };
  }
  if (letters !== undefined)
    throw refused('--behind puts a picture among the letters.', 'Leave --wrap out, or give --after.');
  if (at !== undefined && align !== undefined) throw refused('A picture has one place.', 'Give --at or --align.');
  const around = WRAPS[wrap];
  if (!around)
    throw refused(
      `“${wrap}” is no way for text to go round a picture.`,
      `Choose inline, ${Object.keys(WRAPS).join(', ')}.`,
    );
  const counted = FROM[from ?? 'column'];
  if (!counted) throw refused(`A place cannot count from “${from}”.`, `Choose ${Object.keys(FROM).join(', ')}.`);
  const side = WRAP_SIDES.find((s) => s === sides);
  if (!side) throw refused(`“${sides}” is no side of a picture.`, `Choose ${WRAP_SIDES.join(', ')}.`);
  const far = distance === undefined ? 9 : parseLength(distance);
  // Above and below there is a gap only where it was asked for.
  const rise = distance === undefined ? 0 : far;
  const distances = { top: rise, right: far, bottom: rise, left: far };
  const spot = at === undefined ? { x: 0, y: 0 } : parsePoint(at);
  const anchor = anchorWith(
    { from: counted, ...around, distances },
    { sides: side, ...(align !== undefined && { align: alignOf(align) }), ...(lock && { locked: true }) },
  );
  return { on: 'anchor', box: { ...spot, ...size }, ...block, anchor };
}

/** What a picture may take at first: of a page, in a text, at a cell; in points. */
export function roomIn(file: Source, { page, header, footer, behind }: PlaceOptions): Size {
  const kind = header || footer ? 'margin' : behind === undefined ? CAPABILITIES[file.format].insert : 'line';
  const { pages } = file.document;
  return roomFor(kind, kind === 'page' ? pages[pageOf(page, pages.length) - 1]!.size : undefined);
}
