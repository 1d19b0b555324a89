import type { Element } from './located';

/** A stretch of character data in a part. */
export interface Stretch {
  start: number;
  end: number;
}

/** The character data directly in an element, between its children. */
export function stretchesOf({ openEnd, closeStart, end, children }: Element): Stretch[] {
  if (openEnd === end) return [];
  const edges = [openEnd, ...children.flatMap((c) => [c.start, c.end]), closeStart];
  return Array.from({ length: edges.length / 2 }, (_, i) => ({ start: edges[2 * i]!, end: edges[2 * i + 1]! }));
}

/** One letter as it is written: a reference (XML 1.0 §4.1) counts as one, and so does a pair of surrogates. */
const LETTER = /&[^;]*;|[\ud800-\udbff][\udc00-\udfff]|[^]/g;
const isSpace = (letter: string): boolean => /^(\s|&#(x0*(9|a|d|20|a0)|0*(9|10|13|32|160));)$/i.test(letter);

/**
 * The place before the letter that comes behind so many others; spaces are not counted.
 * @param stretches in their order
 * @returns the stretch, and the place in the text; the end of the last stretch where there are no more letters, null without any
 */
export function behindLetters(
  text: string,
  stretches: readonly Stretch[],
  letters: number,
): { stretch: Stretch; place: number } | null {
  let left = letters;
  for (const stretch of stretches)
    for (const { 0: letter, index } of text.slice(stretch.start, stretch.end).matchAll(LETTER)) {
      if (isSpace(letter)) continue;
      if (left === 0) return { stretch, place: stretch.start + index };
      left--;
    }
  const last = stretches.at(-1);
  return last ? { stretch: last, place: last.end } : null;
}

const NAMED: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

/** What is written in some stretches, references resolved (XML 1.0 §4.1, §4.6). */
export const lettersIn = (text: string, stretches: readonly Stretch[]): string =>
  stretches
    .map(({ start, end }) => text.slice(start, end))
    .join('')
    .replace(/&(?:#x([\da-f]{1,6})|#(\d{1,7})|(\w+));/gi, (as, hex?: string, decimal?: string, name?: string) => {
      if (name !== undefined) return NAMED[name] ?? as;
      const code = hex === undefined ? Number(decimal) : parseInt(hex, 16);
      return code <= 0x10ffff ? String.fromCodePoint(code) : as;
    });
