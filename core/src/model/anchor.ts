import { z } from 'zod';
import { BOUNDS } from './bounds';
import { equal } from './equal';

const length = z.number().min(-BOUNDS.place).max(BOUNDS.place);

/** What a place beside a text counts from: the sheet, the room between its margins, these themselves, the column, the words. */
export const ANCHOR_FROM = {
  x: ['page', 'margin', 'column', 'character', 'left-margin', 'right-margin', 'inside-margin', 'outside-margin'],
  y: ['page', 'margin', 'paragraph', 'line', 'top-margin', 'bottom-margin', 'inside-margin', 'outside-margin'],
} as const;
/** By the edges and the middle of that; inside and outside are the sides of facing pages. */
export const ANCHOR_ALIGN = {
  x: ['left', 'centre', 'right', 'inside', 'outside'],
  y: ['top', 'centre', 'bottom', 'inside', 'outside'],
} as const;

/** Nine places in a box. */
export const ANCHORS = [
  'top-left',
  'top',
  'top-right',
  'left',
  'centre',
  'right',
  'bottom-left',
  'bottom',
  'bottom-right',
] as const;

export const WRAPS = ['none', 'square', 'tight', 'through', 'top-bottom'] as const;
export const WRAP_SIDES = ['both', 'left', 'right', 'larger'] as const;

/** How a frame beside a text is tied to it. Lengths in points. */
export const AnchorSchema = z.object({
  from: z.object({ x: z.enum(ANCHOR_FROM.x), y: z.enum(ANCHOR_FROM.y) }),
  /** Aligned instead of put by the place of its box, which only tells then where that is. */
  align: z.object({ x: z.enum(ANCHOR_ALIGN.x).optional(), y: z.enum(ANCHOR_ALIGN.y).optional() }).optional(),
  wrap: z.enum(WRAPS),
  /** On which sides of it the text runs; on both where that is not said. */
  sides: z.enum(WRAP_SIDES).optional(),
  behind: z.boolean(),
  /** From the text to the frame. */
  distances: z.object({ top: length, right: length, bottom: length, left: length }),
  /** Does it stay with its paragraph, wherever it is put? */
  locked: z.literal(true).optional(),
});
export type Anchor = z.infer<typeof AnchorSchema>;

/** A paragraph of a text by its place among the blocks there, from 0, and its words, by which it is known once others come or go. */
export const ParagraphSchema = z.object({ block: z.number().int().min(0), words: z.string().max(200) });
export type Paragraph = z.infer<typeof ParagraphSchema>;

/** So much of a paragraph's words tells it from others. */
export const paragraphWords = (words: string): string => words.replace(/\s+/g, ' ').trim().slice(0, 80);

/** The block that a paragraph is: the nearest one with its words; null where there is none. */
export function blockOf({ block, words }: Paragraph, blocks: readonly { words: string }[]): number | null {
  const alike = blocks.flatMap((b, i) => (paragraphWords(b.words) === words ? [i] : []));
  return alike.length === 0 ? null : alike.reduce((a, b) => (Math.abs(b - block) < Math.abs(a - block) ? b : a));
}

/** From the text's own column and paragraph, with text on both sides, where nothing else is said. */
export const BESIDE_TEXT: Anchor = {
  from: { x: 'column', y: 'paragraph' },
  wrap: 'square',
  behind: false,
  distances: { top: 0, right: 9, bottom: 0, left: 9 },
};

/** At a place of the page, in front of the text: the same on every page where it stands in a header. */
export const ON_PAGE: Anchor = {
  from: { x: 'page', y: 'page' },
  wrap: 'none',
  behind: false,
  distances: { top: 0, right: 0, bottom: 0, left: 0 },
};

/** Aligned both ways, by one of nine places. */
export const alignAt = (place: (typeof ANCHORS)[number]): Required<NonNullable<Anchor['align']>> => ({
  x: place.endsWith('left') ? 'left' : place.endsWith('right') ? 'right' : 'centre',
  y: place.startsWith('top') ? 'top' : place.startsWith('bottom') ? 'bottom' : 'centre',
});

/** The one of nine places that an anchor is aligned by; null where it is not, or not both ways. */
export const alignedTo = ({ align }: Anchor): (typeof ANCHORS)[number] | null =>
  ANCHORS.find((a) => equal(alignAt(a), align)) ?? null;

/** The anchor with some of it otherwise; what is at rest is left out. */
export function anchorWith(anchor: Anchor, part: Partial<Anchor>): Anchor {
  const { align, sides, locked, ...rest } = { ...anchor, ...part };
  const aligned = { ...(align?.x && { x: align.x }), ...(align?.y && { y: align.y }) };
  return {
    ...rest,
    ...(Object.keys(aligned).length > 0 && { align: aligned }),
    ...(sides && sides !== 'both' && { sides }),
    ...(locked && { locked }),
  };
}

/** A frame that is put somewhere: along an axis on which it was aligned it is no more. Points. */
export function movedTo<F extends { box: { x: number; y: number }; anchor?: Anchor | undefined }>(
  frame: F,
  to: { x?: number; y?: number },
): F {
  const moved = { ...frame, box: { ...frame.box, ...to } };
  const align = frame.anchor?.align;
  if (!align) return moved;
  const held = {
    ...(to.x === undefined && align.x && { x: align.x }),
    ...(to.y === undefined && align.y && { y: align.y }),
  };
  return { ...moved, anchor: anchorWith(frame.anchor!, { align: held }) };
}

/**
 * How much an axis is aligned by: 0 by its beginning, 1 by its end; null where it is not, or by facing pages.
 */
export const shareOfAlign = (align: string | undefined): number | null =>
  align === 'left' || align === 'top'
    ? 0
    : align === 'centre'
      ? 0.5
      : align === 'right' || align === 'bottom'
        ? 1
        : null;
