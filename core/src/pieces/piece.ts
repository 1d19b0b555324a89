import { z } from 'zod';
import { contrast } from '../colour';
import { clamp } from '../geometry/numeric';
import { FramedSchema, type FramedItem, type ItemId, type Page, type Text, type Tie } from '../model/document';
import { equal } from '../model/equal';
import { FULL_SEAT, type Box, type Outline, type Paint, type Section, type ShapeChoice } from '../model/frame';
import type { PictureItem } from '../model/frame-item';
import type { Side } from '../placement/overstep';

/** Words of pieces. */
export interface PieceWords {
  name: string;
  more: string;
  contact: string;
  heading: string;
  quote: string;
  /** Each with what it counts. */
  figures: readonly (readonly [figure: string, label: string])[];
}

/** What stands there until the author types. */
export const WAITING: PieceWords = {
  ...{ name: 'Name', more: 'A second line', contact: 'Telephone', heading: 'Heading', quote: 'What was said' },
  figures: [
    ['12', 'First'],
    ['340', 'Second'],
    ['98 %', 'Third'],
  ],
};

/** The picture that something is put round, and what that is made of. Lengths in points. */
export interface PieceContext {
  picture: PictureItem;
  /** The upright rectangle round all that is drawn of it. */
  drawn: Box;
  page: Page;
  /** On a web page: can it be the ground of a section there? */
  sections?: boolean;
  /** Does it stand in a text, whose pages come of its words? */
  flows: boolean;
  /** What else lies on the page, but for what is behind or over the picture. */
  others: readonly Box[];
  /** `#rrggbb` behind everything. */
  ground: string;
  /** Colours of the page and of its pictures, the most used first. */
  colours: readonly string[];
  /** The font of the page. */
  font: string;
  /** What stands there until the author types. */
  words: PieceWords;
  /** Letters as a shape; null where there are none at hand. */
  letters: ShapeChoice | null;
  /** Words along the top of a circle as a shape (`alongShape`), and how large they are set; null where there are none at hand. */
  along: { shape: ShapeChoice; share: number } | null;
  newId(): ItemId;
}

/** What comes of a piece: an item, in front of its picture or behind it; several in their order from the back. */
export interface PieceItem {
  item: FramedItem;
  layer: 'behind' | 'front';
}

/** Pieces that were kept as data. */
export const PiecesSchema = z.array(z.object({ item: FramedSchema, layer: z.enum(['behind', 'front']) }));

/** A ready arrangement round one picture. */
export interface Piece {
  name: string;
  label: string;
  /** What it is, in a few words. */
  note: string;
  /** What people type who look for it. */
  synonyms: readonly string[];
  /** The shape that a picture gets with it which has none yet, by its name. */
  shape?: string;
  /** What of its page a picture becomes with it, beside being one; null where it cannot. */
  section?(context: PieceContext): Section | null;
  /** Over these sides of it the subject of the picture reaches, which must be cut out for that. */
  oversteps?: readonly Side[];
  items(context: PieceContext): PieceItem[];
}

const NOWHERE: Box = { x: 0, y: 0, width: 10, height: 10 };
const NO_FLIP = { horizontal: false, vertical: false };

type Wished = Partial<Pick<FramedItem, 'fill' | 'outline' | 'text' | 'shape' | 'opacity' | 'name'>> & {
  tie: Tie;
  size?: { width: number; height: number };
};

export const solid = (colour: string, opacity = 1): Paint => ({ kind: 'solid', colour, opacity });
export const filled = (colour: string, opacity = 1): FramedItem['fill'] & { kind: 'paint' } => ({
  kind: 'paint',
  paint: solid(colour, opacity),
});
export const line = (weight: number, colour: string): Outline => ({
  ...{ paint: solid(colour), weight, side: 'on', dash: 'solid', join: 'round', cap: 'butt' },
});

const RECTANGLE: ShapeChoice = { name: 'rectangle', knobs: {} };

/** A new item, tied; its box comes of that. */
export const tiedItem = ({ newId }: PieceContext, { size, tie, ...wished }: Wished): FramedItem => ({
  ...{ kind: 'framed', id: newId(), turn: 0, flip: NO_FLIP, opacity: 1, alt: '' },
  at: { on: 'page', box: { ...NOWHERE, ...size } },
  ...{ shape: RECTANGLE, seat: FULL_SEAT, outline: null, shadow: null, fill: null, text: null },
  ...wished,
  tie,
});

/** A tie to the picture. */
export const tieTo = ({ picture }: PieceContext, rule: Omit<Tie, 'to' | 'gap'> & { gap?: number }): Tie => ({
  to: picture.id,
  gap: 0,
  ...rule,
});

export interface WordsLook {
  size: number;
  weight?: number;
  ink: string;
  align?: Text['paragraphs'][number]['align'];
  /** On a web page: of a heading. */
  level?: number;
}

/** Words, a paragraph for each look. */
export const wordsOf = (
  font: string,
  lines: readonly (WordsLook & { text: string })[],
  { anchor = 'middle', inset = 3.6 }: { anchor?: Text['anchor']; inset?: number } = {},
): Text => ({
  anchor,
  inset: { top: inset, right: inset, bottom: inset, left: inset },
  paragraphs: lines.map(({ text, size, weight = 400, ink, align = 'start', level }) => ({
    align,
    ...(level !== undefined && { level }),
    runs: [{ text, font, size, weight, italic: false, underline: false, paint: solid(ink) }],
  })),
});

/** Of the veil under words, until what the picture needs is worked out. */
const DIM = 0.4;

/** Words over the middle of the picture, so wide a share of it, and what darkens it beneath them. */
export function overVeil(context: PieceContext, text: Text, share: number): PieceItem[] {
  const width = context.drawn.width * share;
  const veil = tiedItem(context, {
    ...{ name: 'Veil', fill: filled('#000000', DIM) },
    tie: tieTo(context, { as: 'around' }),
  });
  const item = tiedItem(context, {
    ...{ text, size: { width, height: heightOfWords(text, width) } },
    tie: tieTo(context, { as: 'over', share }),
  });
  return [
    { item: veil, layer: 'front' },
    { item, layer: 'front' },
  ];
}

/** The words anew, line by line, each with the look of the one that was there, or of the last. */
export function withLines(text: Text, lines: readonly string[]): Text {
  const last = text.paragraphs.at(-1)!;
  return {
    ...text,
    paragraphs: lines.map((words, i) => {
      const paragraph = text.paragraphs[i] ?? last;
      const run = paragraph.runs[0] ?? last.runs[0]!;
      return { ...paragraph, runs: [{ ...run, text: words }] };
    }),
  };
}

/**
 * The words typed anew as plain ones, with line breaks between paragraphs: what stayed at the beginning and at the end keeps its looks,
 * and what is new has that of the letter before it. Where there are as many lines as before, each goes by itself: a heading stays large.
 */
export function retyped(text: Text, words: string): Text {
  const lines = words.split('\n');
  const were = text.paragraphs.map((p) => p.runs.map((r) => r.text).join(''));
  if (lines.length > 1 && lines.length === were.length && !were.some((w) => w.includes('\n')))
    return {
      ...text,
      paragraphs: lines.flatMap((line, i) => anew({ ...text, paragraphs: [text.paragraphs[i]!] }, line).paragraphs),
    };
  return anew(text, words);
}

function anew(text: Text, words: string): Text {
  const letters = text.paragraphs.flatMap((of, p): Letter[] => [
    ...(p > 0 ? [{ letter: '\n', ends: true, of, run: of.runs[0]! }] : []),
    ...of.runs.flatMap((run) => [...run.text].map((letter) => ({ letter, ends: false, of, run }))),
  ]);
  const next = [...words];
  const most = Math.min(letters.length, next.length);
  let [start, end] = [0, 0];
  while (start < most && letters[start]!.letter === next[start]) start++;
  while (end < most - start && letters.at(-1 - end)!.letter === next.at(-1 - end)) end++;
  const first = text.paragraphs[0]!;
  const { of, run } = letters[start - 1] ?? letters[0] ?? { of: first, run: first.runs[0]! };
  // A line behind a heading is none.
  const { level, ...below } = of;
  void level;
  const typed = next
    .slice(start, next.length - end)
    .map((l): Letter => ({ letter: l, ends: l === '\n', of: l === '\n' ? below : of, run }));
  const all = [...letters.slice(0, start), ...typed, ...letters.slice(letters.length - end)];
  const paragraphs: Text['paragraphs'] = [{ ...(all[0]?.of ?? first), runs: [] }];
  for (const l of all) {
    const { runs } = paragraphs.at(-1)!;
    const last = runs.at(-1);
    if (l.ends) paragraphs.push({ ...l.of, runs: [{ ...l.run, text: '' }] });
    else if (last && equal({ ...last, text: '' }, { ...l.run, text: '' })) last.text += l.letter;
    else runs.push({ ...l.run, text: l.letter });
  }
  return { ...text, paragraphs: paragraphs.map((p) => ({ ...p, runs: withSomething(p.runs, run) })) };
}

/** A letter with its paragraph and its run, or the end of the paragraph before. */
interface Letter {
  letter: string;
  ends: boolean;
  of: Text['paragraphs'][number];
  run: Run;
}
type Run = Text['paragraphs'][number]['runs'][number];

/** A paragraph without letters keeps how they would look; one with letters has no runs without any. */
function withSomething(runs: readonly Run[], usual: Run): Run[] {
  const full = runs.filter((r) => r.text !== '');
  return full.length > 0 ? full : [{ ...(runs[0] ?? usual), text: '' }];
}

/** Letters are so wide on average, in ems (common practice for sans serifs; bold ones a little more). */
const LETTER = 0.54;

/** About how high words are in a box so wide, with their insets. */
export const heightOfWords = ({ paragraphs, inset }: Text, width: number): number =>
  paragraphs.reduce((sum, { runs }) => {
    const size = Math.max(6, ...runs.map((r) => r.size));
    const long = runs.reduce((all, r) => all + r.text.length * r.size * LETTER, 0);
    const lines = Math.max(1, Math.ceil(long / Math.max(1, width - inset.left - inset.right)));
    return sum + 1.25 * size * lines;
  }, inset.top + inset.bottom);

/** About how wide the longest line of words is, unbroken. */
export const widthOfWords = ({ paragraphs }: Text): number =>
  Math.max(0, ...paragraphs.map(({ runs }) => runs.reduce((sum, r) => sum + r.text.length * r.size * LETTER, 0)));

/** A size for letters that suits something so large: a share of it, in half points, legible on paper. */
export const sizeFor = (length: number, share: number): number => clamp(Math.round(length * share * 2) / 2, 9, 60);

/** The colour of the page that words on a ground can be read in. */
export function inkOn(ground: string, colours: readonly string[]): string {
  const reads = colours.filter((c) => contrast(c, ground) >= 7);
  return reads[0] ?? (contrast('#ffffff', ground) > contrast('#22302f', ground) ? '#ffffff' : '#22302f');
}

/** A colour of the page that is seen on a ground, and is neither black nor white. */
export function accentOn(ground: string, colours: readonly string[]): string {
  const lively = colours.filter(
    (c) => contrast(c, ground) >= 1.6 && contrast(c, '#ffffff') >= 1.3 && contrast(c, '#000000') >= 1.6,
  );
  return lively[0] ?? inkOn(ground, colours);
}

/** The room beside a picture on its page, as far as nothing else stands there. */
const roomOn = ({ drawn, page: { size, margins }, others }: PieceContext, side: 'left' | 'right'): number => {
  const beside = others.filter((o) => o.y < drawn.y + drawn.height && o.y + o.height > drawn.y);
  const end = drawn.x + drawn.width;
  const room =
    side === 'right'
      ? Math.min(size.width - margins.right, ...beside.map((o) => o.x).filter((x) => x >= end)) - end
      : drawn.x - Math.max(margins.left, ...beside.map((o) => o.x + o.width).filter((x) => x <= drawn.x));
  return Math.max(0, room);
};

/** The side of a picture with more room, and how much there is. */
export function roomierSide(context: PieceContext): { side: 'left' | 'right'; room: number } {
  const [left, right] = [roomOn(context, 'left'), roomOn(context, 'right')];
  return right >= left ? { side: 'right', room: right } : { side: 'left', room: left };
}
