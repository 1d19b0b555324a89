import { cut } from '../cut';
import type { WordsFacts } from '../analysis/findings';
import type { Rect } from '../geometry/path';
import { itemIdOf } from '../model/from-pictures';
import { plainWords, type Document, type FramedItem, type ItemId } from '../model/document';
import type { Box } from '../model/frame';
import { lettersIn, wordsOutside } from '../paint/fit-words';
import { isDecoration } from '../pieces/quote';
import { contrastOn, leastContrast, luminances, type Ground } from './contrast';
import { faceCovered } from './over-face';

type Measure = Parameters<typeof lettersIn>[0];

/** Words are judged on so many pixels along the longer side of what is looked at. */
export const JUDGED_PIXELS = 96;
/** What is right around letters: so much of their size on each side. */
const AROUND = 0.3;
/** So many letters tell which words are meant. */
const BEGINNING = 24;
/** A chain of ties is no longer than this. */
const MOST_TIES = 8;

/** Where letters lie on their page, and what is right around them. */
export function nearLetters(context: Measure, item: FramedItem): Box {
  const { x, y, width, height } = lettersIn(context, item);
  const by = AROUND * Math.max(...item.text!.paragraphs.flatMap((p) => p.runs.map((r) => r.size)));
  return { x: x - by, y: y - by, width: Math.max(1, width + 2 * by), height: Math.max(1, height + 2 * by) };
}

/** How words are set, as far as it counts for reading them. */
export interface WordsLook {
  ink: string;
  /** The contrast that they need, by their size (WCAG 2.2 SC 1.4.3). */
  least: number;
  /** Of their own ground. */
  own: { colour: string; opacity: number } | null;
}

/** @returns null for what is not judged: words in a gradient, and decoration, which the criterion leaves out */
export function lookOfWords(item: FramedItem): WordsLook | null {
  const runs = item.text?.paragraphs.flatMap((p) => p.runs) ?? [];
  const [run] = runs;
  if (run?.paint.kind !== 'solid' || isDecoration(item)) return null;
  const least = leastContrast(Math.min(...runs.map((r) => r.size)), run.weight);
  const own = item.fill?.kind === 'paint' && item.fill.paint.kind === 'solid' ? item.fill.paint : null;
  return { ink: run.paint.colour, least, own };
}

/** How well words can be read on what lies beneath them, and what they cover. @param faces beneath them, on their page */
export const factsOfWords = (
  context: Measure,
  item: FramedItem,
  { ink, least, own }: WordsLook,
  { beneath, faces }: { beneath: Ground; faces: readonly Rect[] },
): Omit<WordsFacts, 'words'> => ({
  ...{ contrast: contrastOn(ink, luminances(beneath, own)), least },
  ...{ face: faceCovered(lettersIn(context, item), faces), outside: wordsOutside(context, item) },
});

/** The beginning of words, by which they are told. */
export const beginningOf = ({ text }: FramedItem): string => cut(text ? plainWords(text) : '', BEGINNING, '…');

/** Words that stand around pictures, by the numbers of these. */
export function wordsAround(pictures: readonly { n: number }[], document: Document): Map<number, FramedItem[]> {
  const numbers = new Map<ItemId, number>(pictures.map((p) => [itemIdOf(p), p.n]));
  const around = new Map<number, FramedItem[]>();
  for (const item of Object.values(document.items)) {
    if (item.kind !== 'framed' || !item.text || !item.tie) continue;
    // What is behind words of a web page that do not lie over a picture, only the page tells once it is laid out.
    if (item.at.on === 'element' && item.tie.as !== 'over') continue;
    let to: string | undefined = item.tie.to;
    // What follows what follows a picture stands around that, too.
    for (let i = 0; i < MOST_TIES && to !== undefined && !numbers.has(to); i++) to = document.items[to]?.tie?.to;
    const n = numbers.get(to ?? '');
    if (n !== undefined) around.set(n, [...(around.get(n) ?? []), item]);
  }
  return around;
}
