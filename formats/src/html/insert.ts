import { trimNumber } from '@gable/core';
import { noSuchBlock, noSuchPage, noSuchPlace, type Block, type NewPicture } from '../codec/contract';
import { PIXEL } from '../css/lengths';
import type { Edit } from '../xml/splice';
import { type Page, MARK } from './page-source';
import { attributesOf, parentTag, type Node, type Tag } from './tree';
import { escapeHtml } from './write-image';

/** Elements that stand on lines of their own, and that words stand in (HTML §4.3, §4.4, §4.9). */
const BLOCKS: ReadonlySet<string> = new Set(
  'p h1 h2 h3 h4 h5 h6 ul ol dl table pre blockquote figure address hr div section article header footer main aside nav form fieldset details'.split(
    ' ',
  ),
);
/** Those that only hold others: their blocks count, not they. */
const HOLDERS: ReadonlySet<string> = new Set(
  'div section article header footer main aside nav form details body'.split(' '),
);

const isTag = (node: Node): node is Tag => 'tagName' in node;
const isBlock = (node: Node): node is Tag => isTag(node) && BLOCKS.has(node.tagName);

/** The blocks of a page in their order: what holds others is looked into. */
function blockTags(page: Page): Tag[] {
  const out: Tag[] = [];
  const visit = (node: Node): void => {
    if (isBlock(node) && !(HOLDERS.has(node.tagName) && node.childNodes.some(isBlock))) {
      if (node.sourceCodeLocation) out.push(node);
      return;
    }
    if (isTag(node) && (/^(script|style|template|noscript|head)$/.test(node.tagName) || MARK in attributesOf(node)))
      return;
    if ('childNodes' in node) node.childNodes.forEach(visit);
  };
  visit(page.tree);
  return out;
}

const wordsIn = (node: Node): string =>
  'value' in node
    ? node.value
    : isTag(node) && /^(script|style)$/.test(node.tagName)
      ? ''
      : 'childNodes' in node
        ? node.childNodes.map(wordsIn).join('')
        : '';

/** The words of each block of a page, which places are counted by. */
export const blocksOf = (page: Page): Block[] =>
  blockTags(page).map((e) => ({ words: wordsIn(e).replace(/\s+/g, ' ').trim(), in: 'text', within: null }));

/**
 * Puts a plain `<img>` into a page, in a paragraph of its own. @param src its address
 * @returns the change, which begins where the image does
 * @throws GableError `no-such-page`
 */
export function insertImage(
  pages: readonly Page[],
  { alt, place }: Pick<NewPicture, 'alt' | 'place'>,
  src: (page: Page) => string,
): { page: Page; edit: Edit } {
  if (place.in !== 'web') throw noSuchPlace();
  const page = pages[place.page - 1];
  if (!page) throw noSuchPage(place.page, pages.length);
  const blocks = blockTags(page);
  if (place.after > blocks.length) throw noSuchBlock(place.after, blocks.length);
  const [before, behind] = [blocks[place.after - 1], blocks[place.after]];
  const at = before?.sourceCodeLocation!.endOffset ?? behind?.sourceCodeLocation!.startOffset ?? endOf(page);
  const px = (points: number): string => trimNumber(points / PIXEL, 2);
  const size = `width="${px(place.size.width)}" height="${px(place.size.height)}"`;
  const text = `<p><img src="${escapeHtml(src(page))}" alt="${escapeHtml(alt)}" ${size}></p>`;
  return { page, edit: { start: at, end: at, text } };
}

/** Where the body of a page without blocks ends. */
function endOf(page: Page): number {
  let end = page.text.length;
  const visit = (node: Node): void => {
    if (isTag(node) && node.tagName === 'body') end = node.sourceCodeLocation?.endTag?.startOffset ?? end;
    if ('childNodes' in node) node.childNodes.forEach(visit);
  };
  visit(page.tree);
  return end;
}

/** All of an image that is removed: its paragraph or figure, where nothing else is in it. */
export function imageAlone(outer: Tag): Tag {
  const parent = parentTag(outer);
  const alone = parent?.childNodes.every((c) => c === outer || ('value' in c && c.value.trim() === ''));
  return parent && alone && /^(p|figure)$/.test(parent.tagName) && parent.sourceCodeLocation ? parent : outer;
}
