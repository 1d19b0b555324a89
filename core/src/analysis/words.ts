import { z } from 'zod';
import type { Region, Size } from '../model/frame';

const share = z.number().min(-0.1).max(1.1);

/** A word that was read in a picture, where it stands, in shares of the picture. */
export const WordSchema = z.object({
  u: share,
  v: share,
  width: z.number().positive().max(1.2),
  height: z.number().positive().max(1.2),
  text: z.string().min(1).max(200),
  /** How sure it is that this is what stands there, 0..1. */
  score: z.number().min(0).max(1),
});
export type Word = z.infer<typeof WordSchema>;

/** Words that belong together, in the order in which they are read. */
export interface TextBlock extends Region {
  text: string;
}

/** Below this a word is a pattern that looks like one. Measured on photographs of things: leaves and stones read as letters. */
const SURE = 0.7;
/** Of the shorter side of the picture: lower words are not there to be read, or are none. */
const LEAST_HEIGHT = 0.012;
/** In heights of the lower word: so far apart may words of a line be, and lines of a block. Common practice: two words in a line are half an em apart, lines 1.2 to 1.5 em. */
const WORD_GAP = 1.8;
const LINE_GAP = 1.1;
/** Words of a line, and lines of a block, are about as high as each other: the box of “rare” is half that of “Tip,”. */
const LIKE_WORDS = 2.6;
const LIKE_LINES = 1.8;
/** A block is at most so much larger than what it holds: else two are better than one. */
const ROOM = 1.7;

/** A box in pixels, and what it is made of. */
interface Held {
  left: number;
  top: number;
  right: number;
  bottom: number;
  /** The ink that it is there for. */
  area: number;
  /** Of one line. */
  height: number;
  words: readonly Word[];
}

const holding = (a: Held, b: Held): Held => ({
  left: Math.min(a.left, b.left),
  top: Math.min(a.top, b.top),
  right: Math.max(a.right, b.right),
  bottom: Math.max(a.bottom, b.bottom),
  area: a.area + b.area,
  height: Math.max(a.height, b.height),
  words: [...a.words, ...b.words],
});

const areaOf = ({ left, top, right, bottom }: Held): number => (right - left) * (bottom - top);
const gapAcross = (a: Held, b: Held): number => Math.max(a.left, b.left) - Math.min(a.right, b.right);
const gapDown = (a: Held, b: Held): number => Math.max(a.top, b.top) - Math.min(a.bottom, b.bottom);
const alike = (a: Held, b: Held, most: number): boolean =>
  Math.max(a.height, b.height) <= most * Math.min(a.height, b.height);

/** The same list with those joined that belong together, until none do. */
function joined(held: readonly Held[], together: (a: Held, b: Held) => boolean): Held[] {
  const out: Held[] = [];
  for (let next of held) {
    for (let i = out.length - 1; i >= 0; i--)
      if (together(out[i]!, next)) {
        next = holding(out[i]!, next);
        out.splice(i, 1);
        // The larger one may reach what the smaller did not.
        i = out.length;
      }
    out.push(next);
  }
  return out;
}

/**
 * The blocks of words in a picture: words that are sure become lines, lines become blocks, the largest first.
 * @param size of the picture, in pixels: what is beside and below is told in heights of the words
 */
export function textBlocks(words: readonly Word[], { width, height }: Size): TextBlock[] {
  const least = LEAST_HEIGHT * Math.min(width, height);
  const sure = words.filter(
    (w) => w.score >= SURE && w.height * height >= least && /[\p{L}\p{N}]{2}|\p{N}/u.test(w.text),
  );
  const single = sure
    .map((w): Held => {
      const box = { left: w.u * width, top: w.v * height, right: (w.u + w.width) * width };
      const bottom = (w.v + w.height) * height;
      return { ...box, bottom, area: w.width * width * w.height * height, height: bottom - box.top, words: [w] };
    })
    .sort((a, b) => a.left - b.left);
  const lines = joined(
    single,
    (a, b) =>
      alike(a, b, LIKE_WORDS) &&
      gapDown(a, b) < -0.4 * Math.min(a.height, b.height) &&
      gapAcross(a, b) < WORD_GAP * Math.min(a.height, b.height),
  ).sort((a, b) => a.top - b.top);
  const blocks = joined(lines, (a, b) => {
    const both = holding(a, b);
    // What is read twice, or lies in each other, is one.
    const apart = gapAcross(a, b) >= 0 || gapDown(a, b) >= -0.3 * Math.min(a.height, b.height);
    const follows =
      alike(a, b, LIKE_LINES) && gapAcross(a, b) < 0 && gapDown(a, b) < LINE_GAP * Math.min(a.height, b.height);
    return (!apart || follows) && areaOf(both) <= ROOM * both.area;
  });
  return blocks
    .sort((a, b) => b.area - a.area)
    .map(({ left, top, right, bottom, words: held }) => ({
      u: left / width,
      v: top / height,
      width: (right - left) / width,
      height: (bottom - top) / height,
      text: held.map((w) => w.text).join(' '),
    }));
}
