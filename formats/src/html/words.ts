import { GableError, type FramedItem, type ItemId, type Text } from '@gable/core';
import type { DefaultTreeAdapterTypes } from 'parse5';
import { MAX_ITEM_CHARS } from '../codec/contract';
import { framedItem } from '../codec/page-items';
import { cssColour } from '../css/colour';
import { PIXEL } from '../css/lengths';
import { split } from '../css/values';
import type { Cascade } from './cascade';
import { MARK, SET } from './page-source';
import { attributesOf, type Node, type Tag } from './tree';

export type Letter = DefaultTreeAdapterTypes.TextNode;

/** Words of a page: an element that holds lines of them and nothing that stands on lines of its own, and its pieces of text. */
export interface OwnWords {
  id: ItemId;
  element: Tag;
  /** Those that say something, in their order. */
  letters: readonly Letter[];
}

/** What stands on lines of its own (HTML §15.3), as far as words can stand right in it. */
const LINES =
  /^(address|article|aside|blockquote|caption|center|dd|details|dialog|div|dt|fieldset|figcaption|figure|footer|form|h[1-6]|header|hgroup|legend|li|main|nav|p|pre|search|section|summary|td|th)$/;
/** What holds such things, and no words itself. */
const HOLDERS = /^(body|html|table|thead|tbody|tfoot|tr|ul|ol|menu|dl|hr|colgroup)$/;
/** What is no text of the page. */
const OTHER =
  /^(head|script|style|template|noscript|svg|math|button|input|select|option|textarea|iframe|object|embed|video|audio|canvas|img|picture|meter|progress|datalist)$/;

const isTag = (n: Node): n is Tag => 'tagName' in n;
const isLetter = (n: Node): n is Letter => n.nodeName === '#text';

/** What stands around a picture by Gable's hand is that picture's, but for the words of a section. */
function isOurs(e: Tag): boolean {
  const a = attributesOf(e);
  return MARK in a || SET in a || 'data-added' in a;
}

/**
 * The words of a page in their order, each of them once. What stands between elements that have lines of their own, and in none
 * of them, is left out.
 * @param number of the page @param most so many of them are told
 */
export function ownWords(tree: Node, { number, most }: { number: number; most: number }): OwnWords[] {
  const found: Omit<OwnWords, 'id'>[] = [];
  /** @returns does it hold, or is it, something that stands on lines of its own? */
  const visit = (node: Node): boolean => {
    if (isTag(node) && (OTHER.test(node.tagName) || isOurs(node))) return false;
    let holds = false;
    if ('childNodes' in node) for (const child of node.childNodes) if (visit(child)) holds = true;
    if (!isTag(node)) return holds;
    if (!holds && LINES.test(node.tagName)) {
      const letters = lettersIn(node);
      if (letters.length > 0 && node.sourceCodeLocation) found.push({ element: node, letters });
    }
    return holds || LINES.test(node.tagName) || HOLDERS.test(node.tagName);
  };
  visit(tree);
  return found.slice(0, most).map((words, i) => ({ id: `words${number}.${i + 1}`, ...words }));
}

/** The pieces of text in an element, but for what is ours or no text of the page. */
function lettersIn(e: Tag): Letter[] {
  return e.childNodes.flatMap((c): Letter[] => {
    if (isLetter(c)) return /\S/.test(c.value) && c.sourceCodeLocation ? [c] : [];
    return isTag(c) && !OTHER.test(c.tagName) && !isOurs(c) ? lettersIn(c) : [];
  });
}

type Run = Text['paragraphs'][number]['runs'][number];

/** The element that a piece of text stands right in. */
export const holderOf = (letter: Letter): Tag => letter.parentNode as Tag;

function runOf(letter: Letter, cascade: Cascade): Run {
  const { family, weight, italic, underline, colour, size } = cascade.lettersOf(holderOf(letter));
  const ink = cssColour(colour) ?? { colour: '#000000', opacity: 1 };
  return {
    text: letter.value.replace(/\s+/g, ' '),
    font: family,
    size: Math.min(1000, Math.max(1, Math.round(size * PIXEL * 100) / 100)),
    ...{ weight, italic, underline },
    paint: { kind: 'solid', ...ink },
  };
}

/** The one colour behind an element; null where there is none. */
function colourBehind(style: ReadonlyMap<string, string>): ReturnType<typeof cssColour> {
  const said = style.get('background-color') ?? split(style.get('background') ?? '').find((word) => cssColour(word));
  return cssColour(said ?? '');
}

/** What most windows show of a line; how large words are only the browser knows. In points. */
const SIZE = { width: 360, height: 20 };
const NO_INSET = { top: 0, right: 0, bottom: 0, left: 0 };

/** Words of a page as an item: how its letters look, and what is behind them. It lies where the page has it. */
export function wordsItem({ id, element, letters }: OwnWords, cascade: Cascade): FramedItem | null {
  let left = MAX_ITEM_CHARS;
  const runs = letters.slice(0, 1000).flatMap((letter): Run[] => {
    if (left <= 0) return [];
    const run = runOf(letter, cascade);
    left -= run.text.length;
    return [run];
  });
  const { align } = cascade.lettersOf(element);
  const behind = colourBehind(cascade.styleOf(element));
  const text: Text = { paragraphs: [{ align, runs }], anchor: 'top', inset: NO_INSET };
  const look = {
    ...{ box: { x: 0, y: 0, ...SIZE }, turn: 0, flip: { horizontal: false, vertical: false } },
    ...{ shape: { name: 'rectangle', knobs: {} }, outline: null, shadow: null, alt: '' },
  };
  const fill = behind && behind.opacity > 0 ? ({ kind: 'paint', paint: { kind: 'solid', ...behind } } as const) : null;
  const item = framedItem(id, look, fill, text);
  return item.kind === 'framed' ? { ...item, at: { on: 'element', box: item.at.box } } : null;
}

/** All words of a page as items. A page whose rules are too many to be compared tells none. */
export function wordsItems(all: readonly OwnWords[], cascade: Cascade): FramedItem[] {
  try {
    return all.flatMap((words) => wordsItem(words, cascade) ?? []);
  } catch (error) {
    if (error instanceof GableError) return [];
    throw error;
  }
}
