import { channels, contrast, luminance, mixed } from '../colour';
import type { Document, FramedItem, ItemId, Page, Text } from '../model/document';
import type { Box } from '../model/frame';
import { isPictureItem } from '../model/frame-item';
import type { Operation } from '../model/operations';
import { stackOf, type Placed } from '../model/stack';
import { groundOf } from '../pieces/context';
import { inkOn } from '../pieces/piece';
import { isDecoration } from '../pieces/quote';
import { leastContrast } from './contrast';

/** So many grounds are offered, half of them dark. */
const MOST = 10;
/** White words can be read on a dark one, black ones on a pale one (WCAG 2.2 SC 1.4.6, enhanced: 7 : 1). */
const DARK = 7;
/** So pale a colour is mixed for a pale one. */
const PALE = 0.14;

/** A colour as dark as white words on it need. */
function darkened(colour: string): string {
  let dark = colour;
  for (let k = 0; k <= 1 && contrast('#ffffff', dark) < DARK; k += 0.05) dark = mixed(colour, '#000000', k);
  return dark;
}

/** Colours for the ground of a page, pale ones and dark ones, from those of the page and its pictures. */
export function groundColours(colours: readonly string[]): string[] {
  const lively = colours.filter((c) => luminance(c) > 0.01 && luminance(c) < 0.9);
  const pale = ['#ffffff', ...lively.map((c) => mixed('#ffffff', c, PALE))];
  const dark = [...lively.map(darkened), '#1c2423'];
  const apart = (all: readonly string[]): string[] =>
    all.reduce<string[]>((out, c) => (out.some((o) => isNear(o, c)) ? out : [...out, c]), []).slice(0, MOST / 2);
  return [...apart(pale), ...apart(dark)];
}

/** Are two colours hardly told apart? */
const isNear = (a: string, b: string): boolean => {
  const [x, y] = [channels(a), channels(b)];
  return Math.max(...x.map((v, i) => Math.abs(v - y[i]!))) < 12;
};

const holds = (outer: Box, inner: Box): boolean =>
  outer.x <= inner.x + 0.5 &&
  outer.y <= inner.y + 0.5 &&
  outer.x + outer.width >= inner.x + inner.width - 0.5 &&
  outer.y + outer.height >= inner.y + inner.height - 0.5;

/** What words of a page stand on, as far as that is one colour; null over pictures and whatever is no colour. */
function beneath(stack: readonly Placed[], at: number, ground: string): string | null {
  const { item, box } = stack[at]!;
  for (const below of [{ item, box }, ...stack.slice(0, at).reverse()]) {
    if (below.item.kind !== 'framed' || !below.item.fill || !holds(below.box, box)) continue;
    if (isPictureItem(below.item)) return null;
    const { fill } = below.item;
    if (fill.kind !== 'paint' || fill.paint.kind !== 'solid') return null;
    if (fill.paint.opacity >= 0.95) return fill.paint.colour;
  }
  return ground;
}

/** Words of a page that cannot be read on a ground, and a colour in which they can (WCAG 2.2 SC 1.4.3). */
export interface Unreadable {
  item: FramedItem;
  ink: string;
}

/**
 * Words of the page itself that cannot be read on a ground, where they stand on one colour.
 * @param colours of the page, which come before black and white
 */
export function unreadableOn(
  document: Document,
  page: Page,
  { ground = groundOf(page), colours = [] }: { ground?: string; colours?: readonly string[] } = {},
): Unreadable[] {
  const stack = stackOf(document, page);
  const own = new Set<ItemId>(page.items);
  return stack.flatMap(({ item }, at): Unreadable[] => {
    if (item.kind !== 'framed' || !item.text || !own.has(item.id) || isDecoration(item)) return [];
    const behind = beneath(stack, at, ground);
    if (behind === null) return [];
    const runs = item.text.paragraphs.flatMap((p) => p.runs);
    const fails = runs.some(
      ({ paint, size, weight, text }) =>
        text.trim() !== '' && paint.kind === 'solid' && contrast(paint.colour, behind) < leastContrast(size, weight),
    );
    return fails ? [{ item, ink: inkOn(behind, colours) }] : [];
  });
}

/** What gives words a colour in which they can be read. */
export const inking = (all: readonly Unreadable[]): Operation[] =>
  all.map(({ item, ink }) => ({ op: 'set', id: item.id, path: 'text', value: inked(item.text!, ink) }));

const inked = (text: Text, colour: string): Text => ({
  ...text,
  paragraphs: text.paragraphs.map((p) => ({
    ...p,
    runs: p.runs.map((r) => ({ ...r, paint: { kind: 'solid', colour, opacity: 1 } })),
  })),
});
