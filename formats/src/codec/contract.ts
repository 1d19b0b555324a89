import {
  cut,
  equal,
  GableError,
  type Anchor,
  type Box,
  type Document,
  type Frame,
  type FramedItem,
  type ItemId,
  type LayerContent,
  type PageItem,
  type Paint,
  type Paragraph,
  type Size,
  type Source as PictureData,
  type StoryContent,
  type Text,
} from '@gable/core';
import type { Archive } from '../zip/reader';
import type { Feature, Format, ImageType } from './capabilities';

export type Place =
  | 'body'
  | 'header'
  | 'footer'
  | 'footnote'
  | 'endnote'
  | 'comment'
  | 'slide'
  | 'layout'
  | 'master'
  | 'notes'
  | 'sheet'
  | 'drawing'
  | 'page';

/** Where a picture stands, in words a reader understands. */
export interface Where {
  part: string;
  place: Place;
  table: boolean;
  textBox: boolean;
  group: boolean;
  /**
   * In text documents an estimate from page breaks and the last layout noted in the file, null in headers, footers and
   * comments; elsewhere the number of the slide, sheet, drawing page or web page.
   */
  page: number | null;
  /** Words beside it: its own paragraph's, else the next, else the one before. */
  near: string;
}

/** A page of a fixed size, with what lies on it from the back to the front. Lengths in points. */
export interface Sheet {
  /** What it is called, where that is not its place. */
  id?: string;
  width: number;
  height: number;
  /** `#rrggbb` */
  background: string;
  /** Layers under it by their names, from the back. */
  layers?: readonly string[];
  items: readonly PageItem[];
  /** Is there a picture behind all of it? */
  backdrop?: true;
  /** Does that picture show all that is no picture itself? Then its items tell what lies where, and are not drawn again. */
  drawn?: true;
  /** Of those items the ones that it does not show, since Gable has put them there: they are painted for themselves, and can look otherwise. */
  apart?: readonly ItemId[];
  /** What can neither come into a group nor, where it is one, be taken apart: what an animation moves, what fills a placeholder. */
  stays?: readonly ItemId[];
  /** What is locked: it is neither moved, sized nor deleted by hand. */
  locked?: readonly ItemId[];
  /** Edges of the columns and rows of a sheet of cells. */
  lines?: { x: readonly number[]; y: readonly number[] };
}

/** So many items of a file are told beside its pictures, and so much text of each. */
export const MAX_PAGE_ITEMS = 4000;
export const MAX_ITEM_CHARS = 4000;

/** A picture's data: a reference into the file, never a copy. */
export interface Media {
  part: string;
  type: string;
  /** Stored pixels, null when unknown. */
  pixels: Size | null;
  orientation: number;
  drawable: boolean;
  /** Byte range of the compressed data in the file, and how it is packed; null where it is not a part of its own. */
  range: { from: number; to: number; method: number; size: number } | null;
  /** CRC-32 of the data, where the file names it (APPNOTE 4.4.7). */
  crc?: number;
}

export interface Problem {
  code: 'linked-picture' | 'missing-picture' | 'broken-picture' | 'too-many-pixels' | 'undrawable-picture';
  message: string;
  remedy: string;
}

/** One picture of an opened file. */
export interface OpenedPicture {
  n: number;
  where: Where;
  frame: Frame;
  /** Can it leave the text flow, or go back into it? */
  freeable: boolean;
  /** On a web page: can it be the ground of a section there? */
  sections?: true;
  /** The size placements are reckoned with: stored pixels, or an assumed size when those are unknown. */
  size: Size;
  /** Null for a linked or missing picture. */
  media: Media | null;
  /** What the place of its box counts from on its sheet, in points, where that is not the sheet's corner. */
  origin?: { x: number; y: number };
  /** The data of its own video, where these stand in the file as a part. */
  clip?: { part: string; range: NonNullable<Media['range']> };
  /** Why the picture cannot be shown; framing it may work all the same. */
  problem: Problem | null;
  /** Words that its shape has in front of the picture. */
  words?: Text;
  /** A second shape behind it that stands in for an outline; a real outline takes its place. Weight in points. */
  faked?: { weight: number; colour: string };
}

/** Another picture's data, of a kind that its format holds (`Capabilities.images`). Pictures that share an object are stored once. */
export interface ReplacementImage {
  bytes: Uint8Array;
  type: ImageType;
  /** Stored pixels. */
  size: Size;
}

/** A picture for the margin of every page, or of the first alone. Lengths in points. */
export interface MarginPicture {
  into: 'header' | 'footer';
  pages: 'all' | 'first';
  align: 'left' | 'center' | 'right';
  width: number;
  height: number;
  alt: string;
  /** From the picture's edge to the text of the page; null leaves the page's margins as they are. */
  gap: number | null;
  /** At a place of the page, instead of in a paragraph of its own. */
  floats: Floating | null;
  picture: ReplacementImage;
}

/**
 * Where a new picture goes; in points. In a text, or on a web page, a paragraph of its own behind so many of its blocks
 * (paragraphs, tables, lists); one that floats beside a text is tied to the last of these, where that is a paragraph; on a sheet at a place in a cell, both
 * counted from 0; right behind a picture of a text or a web page, in what that stands in; or into a shape that stands there, by its item. Pages, slides and sheets count from 1.
 */
export type NewPlace =
  | ({ in: 'text'; size: Size; floats: Floating | null } & TextPlace)
  | { in: 'beside'; n: number; size: Size; floats: Floating | null }
  | { in: 'web'; page: number; after: number; inside: boolean; size: Size }
  | { in: 'shape'; page: number; fills: ItemId }
  | { in: 'cell'; page: number; row: number; column: number; dx: number; dy: number; size: Size; follows: Follows };

/**
 * A place in a text: behind so many blocks of the text itself, or of one of its cells and text boxes; in the last of these
 * blocks, behind so many of its letters (spaces are not counted), where that is said.
 */
export interface TextPlace {
  after: number;
  within: number | null;
  letters: number | null;
}

/** A block of a text, and the cell or text box that it stands in, counted from 0 through the text. */
export interface Block {
  words: string;
  in: 'text' | 'cell' | 'box';
  within: number | null;
}

/** How a picture beside a text lies: from where, and how the text goes round it. */
export type Floating = { x: number; y: number } & Anchor;

/** What of a picture follows the cells it stands at. */
export type Follows = 'nothing' | 'place' | 'place and size';

/** A picture to put into a file, plain; framing it is a change like any other. */
export interface NewPicture {
  place: NewPlace;
  image: ReplacementImage;
  alt: string;
}

/** What lies where in two documents of a file, and the data of pictures that are new in the second. */
export interface Arrangement {
  from: Document;
  to: Document;
  /** New pictures by the shapes and placeholders that they fill: these are in their places, and not removed. */
  fills: ReadonlyMap<ItemId, ItemId>;
  imageOf: (id: ItemId) => ReplacementImage;
}

/**
 * What the items of each page follow there, by their places, with those in groups behind these: the rule as text, and the place of what is followed; `gone` for those that
 * follow nothing any more, null for what stays as it is.
 */
export type PageTies = readonly (readonly (PageTie | 'gone' | null)[])[];
/** Which items of each page are locked, by their places, with those in groups behind these. */
export type PageLocks = readonly (readonly boolean[])[];
export interface PageTie {
  to: number;
  rule: string;
}

/** The pictures that veils come to, by their names, where a format cannot say them; without one a veil is its paint alone. */
export type Veils = ReadonlyMap<ItemId, ReplacementImage>;

/** A font that words of a file are set in. */
export interface FontFile {
  family: string;
  weight: 400 | 700;
  italic: boolean;
  /** A TrueType or OpenType file. */
  bytes: Uint8Array;
  /** The same as WOFF2, where it goes to browsers. */
  packed?: Uint8Array;
}

/** Words and blocks that come to a page beneath its `index`th item, from the back; in their order. Pages count from 1. */
export interface AroundOnPage {
  page: number;
  index: number;
  items: readonly FramedItem[];
}
/** Words and blocks that come to stand right before or behind a picture of a text or of a sheet of cells, in its own place. */
export interface AroundPicture {
  n: number;
  /** Those before it lie beneath it. */
  before: readonly FramedItem[];
  behind: readonly FramedItem[];
}

/** What of a file looks otherwise: its own shapes and words by their names, and colours behind its pages, which count from 1; a text has one for all of them. */
export interface Restyling {
  items: ReadonlyMap<ItemId, { was: FramedItem; now: FramedItem }>;
  grounds: ReadonlyMap<number, Paint>;
  /** What veils among them come to now. */
  veils: Veils;
}

/** A page of a file as it is to be: one that is there, a copy of it, or an empty one like it; pages count from 1. */
export interface PagePlan {
  page: number;
  as: 'itself' | 'copy' | 'blank';
}

/** Pictures that a file holds and that are not framed. */
export interface LeftOut {
  /** Why, in words that follow a number of pictures. */
  why: string;
  count: number;
}

/** What a page of a site is to say of one of its pictures. */
export interface SitePicture {
  n: number;
  /** Copies of it as WebP, and their widths in pixels. */
  copies: readonly { width: number; bytes: Uint8Array }[];
  /** How wide it is drawn (HTML §4.8.4.2.2, sizes). */
  sizes: string | null;
  /** Its own width, where it is one of the choices itself. */
  self: number | null;
  /** It is fetched once readers come near, or before all others. */
  lazy: boolean;
  first: boolean;
}

/** What every opened file tells and shows, as its codec found it. */
interface FileFacts {
  format: Format;
  /** Changing a signed file breaks its signature. */
  signed: boolean;
  /** Pages as far as the file tells them; slides, sheets, drawing pages or web pages. */
  pages: number;
  pictures: readonly OpenedPicture[];
  /** Pictures that are there and not listed, and why; nothing where all are. */
  leftOut?: readonly LeftOut[];
  /** The pages where they have a fixed size, by number; empty where text flows. */
  sheets: readonly Sheet[];
  /** What pages share: masters and layouts. */
  layers?: readonly LayerContent[];
  /** Texts that flow, with what stands in them. */
  stories?: readonly StoryContent[];
  /**
   * A web page, or a whole text, as HTML that needs nothing else: what is not a picture stands where it stands, and
   * pictures are hidden boxes with their number in `data-picture`. Null for a page that there is not.
   * Those that the page shows by itself, once their data are there, bear `data-shown`, too.
   * @param painted numbers of pictures that are painted otherwise than the file says here
   */
  markup?(page: number, painted?: ReadonlySet<number>): string | null;
  /** A picture of a web page with all that stands around it, as HTML and CSS for another page; null for one that is not framed. */
  snippet?(n: number): string | null;
  /** Of a site: the data of a picture in a file beside its page; null where it is in none, and where the page names copies already. */
  besidePage?(n: number): { name: string; bytes: Uint8Array } | null;
  /** A site whose pages name copies of their pictures, and when these are fetched. */
  withCopies?(pictures: readonly SitePicture[]): Uint8Array;
  /** The picture that the file itself holds of an item that is not shown; null where there is none that can be shown. */
  likeness?(id: ItemId): Uint8Array | null;
  /**
   * A text document with another picture in its page header or footer.
   * @returns the file, and where the picture stands now: which one of its part, from 0
   */
  putInMargin?(wish: MarginPicture): { bytes: Uint8Array; placed: { part: string; index: number }[] };
  /**
   * The blocks of a text, or of a web page, which places for new pictures are counted by; those of cells and text boxes behind
   * the block that these are in.
   */
  blocks?(page: number): Block[];
  /** The bytes of a picture as it came. @throws GableError when there are none */
  pictureBytes(n: number): Uint8Array;
}

/**
 * What a codec gives back: the file's pictures as frames, and how they are changed, put in and taken out. `Source` makes
 * differences of documents into these.
 */
export interface Opened extends FileFacts {
  /** The picture behind a page, over all of it: of a drawing, all of it but its pictures. Null where there is none. */
  backdrop?(page: number): Uint8Array | null;
  /**
   * The file with these frames in the place of the old ones. Where a frame has another `source`, its bytes come in
   * `images`; the old picture stays in the file. Unchanged frames cost nothing; with no difference the very same bytes
   * come back.
   * @throws GableError `no-such-picture`, `cannot-write`
   */
  change(frames: Iterable<Frame>, images: ReadonlyMap<number, ReplacementImage>): Uint8Array;
  /**
   * The file with its items arranged as another document has them: removed, moved, grouped, new ones put in, plain. Where it
   * is there, `insert` and `remove` are not.
   * @throws GableError `cannot-write`
   */
  arrange?(change: Arrangement): Uint8Array;
  /**
   * The file with items of its pages in new plain groups, each of one page, which lie as high as the front one in them. Where it is there
   * and `arrange` is not, these keep their order otherwise.
   */
  group?(sets: readonly (readonly ItemId[])[]): Uint8Array;
  /** The file without some of its plain groups: what is in them lies on their pages, as it did. */
  ungroup?(groups: readonly ItemId[]): Uint8Array;
  /** The file with the room that some of its plain groups take, in points of their pages; what is in them stays where it is. */
  setRooms?(rooms: ReadonlyMap<ItemId, Box>): Uint8Array;
  /** Must something stay by itself, and in no group: what an animation moves, and what fills a placeholder? */
  standsAlone?(id: ItemId): boolean;
  /**
   * The file with one more picture, where the format can have one put in (`CAPABILITIES`).
   * @returns the file, and the number of the picture in it: those behind it have moved up by one
   * @throws GableError `no-such-page`, `cannot-write`
   */
  insert?(picture: NewPicture): { bytes: Uint8Array; n: number };
  /**
   * The file without a picture; what stood round it stays. Its data stay in the package, where other readers look for them.
   * @throws GableError `no-such-picture`, `cannot-write` for one that cannot go without something else
   */
  remove?(n: number): Uint8Array;
  /**
   * The file with its pages in another order, with copies of some, empty ones like others, and without those that are not
   * named. What refers to a page that is gone is let go.
   * @throws GableError `cannot-write` for a file without any page
   */
  arrangePages?(plan: readonly PagePlan[]): Uint8Array;
  /** The file with its own shapes, words and grounds otherwise (`Capabilities.restyles`). @throws GableError `cannot-write` */
  restyle?(change: Restyling): Uint8Array;
  /** The file with words and blocks among what lies on its pages. @throws GableError `cannot-write` */
  putAround?(around: readonly AroundOnPage[], veils: Veils): Uint8Array;
  /** Do shapes of it follow others? Then they move when those do. */
  readonly hasTies?: boolean;
  /** The file with what its shapes follow told beside them, where it can be read again. */
  putTies?(ties: PageTies): Uint8Array;
  /** Are shapes or pictures of it locked? */
  readonly hasLocks?: boolean;
  /** The file with what is locked told beside it, in the terms of its standard where that has some. */
  putLocks?(locks: PageLocks): Uint8Array;
  /** The file with words and blocks beside pictures of a text or a workbook, where places count from the paragraphs and cells of these. @throws GableError `cannot-write` */
  putBeside?(around: readonly AroundPicture[], veils: Veils): Uint8Array;
  /**
   * The file without what Gable put beside its pictures (`putBeside`), and that: what it follows is named by the picture, or by the name
   * of another that stands beside it. Null where there is none.
   */
  takeBeside?(): { bytes: Uint8Array; around: AroundPicture[] } | null;
  /** The file with fonts in it, for words that are set in them (`Capabilities.fonts`); one that it has already stays. */
  embedFonts?(fonts: readonly FontFile[]): Uint8Array;
  /**
   * The file with pictures beside its text tied to other paragraphs, as they are written; one whose paragraph is not there any
   * more stays where it is.
   * @returns the file, and the numbers that its pictures had, in its order
   */
  reanchor?(to: ReadonlyMap<number, Paragraph>): { bytes: Uint8Array; order: number[] };
  /** What of a frame the file cannot say in its own terms; empty when it fits. */
  unsupported(frame: Frame): Feature[];
  /** Does a picture become a drawing shape with this frame? */
  becomesShape?(frame: Frame): boolean;
}

/** Bytes that may be a file of a codec's formats; an archive has been looked into. */
export interface Candidate {
  bytes: Uint8Array;
  archive: Archive | null;
}

/** Reads and writes the formats of one family. */
export interface Codec {
  formats: readonly Format[];
  recognises(file: Candidate): boolean;
  /** @throws GableError with what is wrong and what to do */
  open(file: Candidate): Opened;
}

/**
 * What a picture of a file is called where that is not its place in the file: once pictures were put in or taken out, the
 * others keep their numbers.
 */
export interface Known {
  n: number;
  /** The data that it was put in with, by which frames name it. */
  source?: PictureData;
}

/** How an item will be written. */
export interface ItemFidelity {
  /** What the format cannot say of it in its own terms, by name; empty when it fits. */
  unsupported: readonly Feature[];
  /** It becomes a drawing shape: programs that turn the file into another kind may then leave it out. */
  becomesShape: boolean;
}

/** A file as a document. Its pictures are items `p1`, `p2`, … in the order of the file, and keep these names. */
export interface Source extends FileFacts {
  /** What its pictures are called, where that is not their order. */
  known?: readonly Known[];
  document: Document;
  /**
   * The picture behind a page, over all of it: of a drawing, all of it but its pictures and what Gable has put there. Null where there
   * is none.
   * @param as the document whose shapes and words it shows; the file's own where nothing is said
   */
  backdrop?(page: number, as?: Document): Uint8Array | null;
  /**
   * The file as another document of the same pages: frames that changed, pictures that went or came. What did not change is
   * not written; with no difference the very same bytes come back.
   * @param images data of pictures that the file does not hold yet, by item
   * @throws GableError `cannot-write` for a change that this format cannot take
   */
  write(next: Document, images?: ReadonlyMap<ItemId, ReplacementImage>): Uint8Array;
  /**
   * As `write`, and what the pictures of the new file are called, in its order; null for a copy that came beside a new one.
   * @throws GableError as `write` does
   */
  arranged(
    next: Document,
    images: ReadonlyMap<ItemId, ReplacementImage>,
  ): { bytes: Uint8Array; order: (ItemId | null)[] };
  /**
   * The file with its pages as planned, and what its pictures are called, in its order; null for one of a page's copy. Where it
   * is not there, the format has no pages that come and go.
   * @throws GableError `cannot-write`, `no-such-page`
   */
  withPages?(plan: readonly PagePlan[]): { bytes: Uint8Array; order: (ItemId | null)[] };
  /** How the pictures that changed would be written, by item. @throws GableError as `write` does */
  fidelity(next: Document): ReadonlyMap<ItemId, ItemFidelity>;
}

/** The other data that a frame shows, if any. @throws Error when a frame names some that the caller did not bring */
export function replacementOf(
  { n, source }: Frame,
  images: ReadonlyMap<number, ReplacementImage>,
): ReplacementImage | undefined {
  const image = images.get(n);
  if (source && !image) throw new Error(`The bytes of picture ${n} are missing.`);
  return image;
}

/** @throws GableError always */
export function noPicture(n: number, count: number): never {
  throw new GableError(
    'no-such-picture',
    `There is no picture ${n} in this file.`,
    count ? `It has ${count}.` : 'It has none.',
    { n },
  );
}

/** @throws GableError always: there is no data, for the reason the picture's problem names */
export function noData({ n, problem }: OpenedPicture): never {
  throw new GableError(
    problem?.code ?? 'missing-picture',
    problem?.message ?? `Picture ${n} is not in the file.`,
    problem?.remedy ?? '',
    { n },
  );
}

/** The most words of a neighbouring text that are told. */
export const shorten = (text: string): string => cut(text, 90, '…');

/** A place of a kind that a file has none of: a fault of the caller. */
export const noSuchPlace = (): Error => new Error('This kind of file has no such place.');

/** The file has no such page, slide or sheet. */
export const noSuchPage = (page: number, pages: number): GableError =>
  new GableError('no-such-page', `There is no page ${page} in this file.`, `It has ${pages}.`, { page });

/** A file must have a page. */
export const noPageLeft = (): GableError =>
  new GableError('cannot-write', 'A file has one page at least.', 'Leave one of its pages.');

/**
 * Can a shape of a text lie so? Beside the text it moves, in its line it can be of another size.
 * @throws GableError `cannot-write` for another place of one in a line, and for a part of a group
 */
export function liesInText({ was, now }: { was: FramedItem; now: FramedItem }): void {
  const { id, at } = now;
  const placed = (of: FramedItem): unknown => [of.at.box.x, of.at.box.y, of.turn];
  const isFree = at.on === 'anchor' && at.anchor !== undefined;
  if (isFree || equal([was.at, was.turn], [at, now.turn])) return;
  if (at.on === 'line' && equal(placed(was), placed(now))) return;
  throw new GableError(
    'cannot-write',
    at.on === 'line' ? 'A shape in a line of text has its place there.' : 'A part of a group moves with its group.',
    'Undo that.',
    { id },
  );
}

/** The one colour that pages of a text can have behind them. @throws GableError `cannot-write` for a gradient */
export function behindText(paint: Paint): string {
  if (paint.kind === 'solid') return paint.colour;
  throw new GableError(
    'cannot-write',
    'A gradient cannot be written behind the pages of a text.',
    'Choose one colour.',
  );
}

/** Words of the file's own can look otherwise, no more. */
export const otherWords = (id: ItemId): GableError =>
  new GableError('cannot-write', 'Words of the file can look otherwise, but not be others.', 'Undo it.', { id });

/** The text has fewer cells and text boxes. */
export const noSuchCell = (within: number, cells: number): GableError =>
  new GableError('no-such-page', `This text has no cell or text box ${within + 1}.`, `It has ${cells}.`, { within });

/** The text has fewer blocks. */
export const noSuchBlock = (after: number, blocks: number): GableError =>
  new GableError(
    'no-such-page',
    `This text has fewer than ${after} paragraphs, lists and tables.`,
    `It has ${blocks}.`,
    { after },
  );
